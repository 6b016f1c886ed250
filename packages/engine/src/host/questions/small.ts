import type { Development, SmallPicture, StepId } from '@dunkelkammer/core'
import type { Layers } from '../layers'
import { stepsBefore } from '../layers/keys'
import type { Releasable } from '../resources'

/**
 * The whole picture made small, as light somewhere on its way.
 * @param until the first step that is left out; none of those after the demosaic with `cameraColour`
 */
export const small = (layers: Layers, development: Development, until: StepId): Promise<SmallPicture> =>
  look(layers, development, until, false)

/** How much of each hue the picture holds before a step: HUE_PARTS sums around Oklab's circle, the largest 1. */
export const hues = async (layers: Layers, development: Development, until: StepId): Promise<Float32Array> =>
  (await look(layers, development, until, true)).rgb

async function look(
  layers: Layers,
  development: Development,
  until: StepId,
  hues: boolean,
): Promise<SmallPicture> {
  const { plan, framed } = await layers.planned(development)
  const overview = await layers.overview.take(plan, framed)
  const held: Releasable[] = [overview]
  try {
    const before = { ...plan, render: stepsBefore(plan, until) }
    const steps = await layers.surveys.steps(before, framed, held)
    const source = overview.raster
    const { pool } = layers.ground
    const rgb = await pool.run({ kind: 'overview', picture: framed.open, steps, source, hues })
    return { width: source.width, height: source.height, rgb }
  } finally {
    held.forEach((k) => k.release())
  }
}
