import type { CfaPattern } from '../../raw'
import { defineStep } from '../step'
import { DefectsSchema } from './schema'

interface Prepared {
  mend: boolean
  floor: number
  /** Noise of a dark grey. */
  sigma: number
  specks: number
  pattern: CfaPattern
}

/** A lens lays a quarter and more of a point's light on what touches it; noise alone stays below this. */
const SHARE = 0.15
/** Noise of a sensor that says nothing of its own. */
const TYPICAL = { a: 4e-5, b: 1e-7 }

/** Hot and dead pixels, found and mended in the mosaic. */
export const defects = defineStep({
  id: 'defects',
  name: 'Defects',
  says: ({ mend, threshold }) => (mend ? `defects at ${threshold.toFixed(1)}` : 'defects not mended'),
  stage: 'refine',
  schema: DefectsSchema,
  neutral: { mend: false, threshold: 5, specks: 0 },
  essential: false,
  keep: false,
  takes: 'mosaic',
  yields: 'mosaic',
  idle: ({ mend, specks }) => !mend && specks === 0,
  reach: ({ specks }, _scale, { pattern }) => (pattern.size === 2 ? (specks > 0 ? 4 : 2) : 3),
  prepare(settings, { noise, balance, pattern }): Prepared {
    const { a, b } = noise?.[1] ?? TYPICAL
    // the noise of a dark grey, in the most amplified channel
    const sigma = Math.sqrt(Math.max(a * 0.05 + b, 0)) * Math.max(...balance)
    return { pattern, mend: settings.mend, floor: settings.threshold * sigma, sigma, specks: settings.specks }
  },
  run(tile, { floor, pattern, mend, sigma, specks }) {
    const { kernels, scratch } = tile
    if (specks > 0 && pattern.size === 2) {
      const { raster } = tile
      const { width, height, stride } = raster
      const clean = scratch.raster(width, height, 1)
      scratch.copy(raster.offset, clean.offset, stride * height * 4)
      const above = 1 + 2 * (1 - specks)
      kernels.mend_specks(raster.offset, clean.offset, width, height, stride, 5 * sigma * above, 0.3 * above)
      tile.raster = clean
    }
    if (!mend) return
    const { raster } = tile
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
