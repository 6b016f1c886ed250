import { matchTones, toneShares, withoutStages, type Development } from '@dunkelkammer/core'
import { fitLongEdge } from './sizes'
import type { Picture } from './picture'

/** Long edge at which two renderings are compared. */
const COMPARED = 640

/**
 * The development with exposure and grade set so that its tones come close to those of the camera's own picture.
 * @param embedded that picture's pixels, encoded sRGB with alpha
 * @throws Superseded where `signal` aborts
 */
export async function matchEmbedded(
  picture: Picture,
  development: Development,
  embedded: ArrayLike<number>,
  signal?: AbortSignal,
): Promise<Development> {
  const { steps } = development
  const grade = 2
  const bare: Development = {
    ...development,
    steps: {
      ...steps,
      exposure: { ev: 0 },
      baseRendering: { ...steps.baseRendering, grade, rendering: 'own' },
    },
  }
  // the camera's picture shows all of the frame
  const plain = withoutStages(bare, ['square-up'])
  const size = fitLongEdge(picture.width, picture.height, COMPARED)
  const view = await picture.view({ development: plain, ...size, region: { x: 0, y: 0, ...size } }, signal)
  const found = matchTones(toneShares(view.rgba, 4), toneShares(embedded, 4), grade)
  return {
    ...development,
    steps: {
      ...steps,
      exposure: { ev: found.ev },
      baseRendering: { ...steps.baseRendering, grade: found.grade, rendering: 'own' },
    },
  }
}
