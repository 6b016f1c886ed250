import { exp2, log2 } from '../../math'
import { gainBySize, runSizeGain } from '../sizeGain'
import { defineStep } from '../step'
import { BLACK_POINT, PointsSchema, WHITE_POINT, type PointsSettings } from './schema'

const GREY = 0.18

/**
 * Scene light with its black and white point moved to where the rendering has them; mid grey and the contrast there
 * stay. Above grey the change grows with the square of the stops, below it with the square of the light that is
 * missing.
 */
export function withPoints({ black, white }: PointsSettings, x: number): number {
  if (x <= 0) return 0
  if (x < GREY) {
    if (black <= BLACK_POINT.none) return x
    const b = GREY * exp2(black)
    const k = b / (1 - b / GREY) ** 2
    return Math.max(x - k * (1 - x / GREY) ** 2, 0)
  }
  const more = WHITE_POINT.start - white
  if (more === 0) return x
  const s = log2(x / GREY)
  // beyond the white point straight on
  const t = Math.min(s, white) / white
  const rest = Math.max(s - white, 0) * (1 + (2 * more) / white)
  return GREY * exp2(Math.min(s, white) + more * t * t + rest)
}

/** Sets what becomes black and what becomes white, without touching the middle. */
export const points = defineStep({
  id: 'points',
  name: 'Points',
  says: () => 'points',
  stage: 'expose',
  schema: PointsSchema,
  neutral: { black: BLACK_POINT.none, white: WHITE_POINT.start },
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'scene',
  reach: () => 0,
  prepare: (settings) => gainBySize((x) => withPoints(settings, x), 4),
  run: runSizeGain,
})
