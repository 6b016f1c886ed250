import type { CfaPattern } from '../../raw'
import { defineStep } from '../step'
import { DefectsSchema, type DefectsSettings } from './schema'

interface Prepared {
  floor: number
  pattern: CfaPattern
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
  reach: (_settings, _scale, { pattern }) => (pattern.size === 2 ? 2 : 3),
  prepare(settings, { noise, balance, pattern }) {
    const { a, b } = noise?.[1] ?? TYPICAL
    // the noise of a dark grey, in the most amplified channel
    const sigma = Math.sqrt(Math.max(a * 0.05 + b, 0)) * Math.max(...balance)
    return { pattern, floor: settings.threshold * sigma }
  },
  run(tile, { floor, pattern }) {
    const { raster, kernels, scratch } = tile
    const { width, height, stride } = raster
    const mended = scratch.raster(width, height, 1)
    if (pattern.size === 2)
      kernels.mend_defects(raster.offset, mended.offset, width, height, stride, floor, SHARE)
    else {
      const { size, colours } = pattern
      const start = (i: number) => ((i % size) + size) % size
      kernels.mend_defects_large(
        raster.offset,
        mended.offset,
        width,
        height,
        stride,
        floor,
        SHARE,
        scratch.bytes(Uint8Array.from(colours)),
        size,
        start(tile.x),
        start(tile.y),
        scratch.take(24),
      )
    }
    tile.raster = mended
  },
})
