import { defineStep } from '../step'
import { DefectsSchema, type DefectsSettings } from './schema'

interface Prepared {
  floor: number
}

/** A lens lays a quarter and more of a point's light on what touches it; noise alone stays below this. */
const SHARE = 0.15
/** Noise of a sensor that says nothing of its own. */
const TYPICAL = { a: 4e-5, b: 1e-7 }

/** Hot and dead pixels, found and mended in the mosaic. */
export const defects = defineStep<DefectsSettings, Prepared>({
  id: 'defects',
  stage: 'refine',
  schema: DefectsSchema,
  neutral: { mend: false, threshold: 5 },
  essential: false,
  keep: false,
  takes: 'mosaic',
  yields: 'mosaic',
  reach: () => 2,
  prepare(settings, { noise, balance }) {
    const { a, b } = noise?.[1] ?? TYPICAL
    // the noise of a dark grey, in the most amplified channel
    const sigma = Math.sqrt(Math.max(a * 0.05 + b, 0)) * Math.max(...balance)
    return { floor: settings.threshold * sigma }
  },
  run(tile, { floor }) {
    const { raster, kernels, scratch } = tile
    const mended = scratch.raster(raster.width, raster.height, 1)
    kernels.mend_defects(
      raster.offset,
      mended.offset,
      raster.width,
      raster.height,
      raster.stride,
      floor,
      SHARE,
    )
    tile.raster = mended
  },
})
