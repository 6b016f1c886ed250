import type { BayerPattern } from '../../raw'
import { address } from '../../memory'
import { defineStep, type Tile } from '../step'
import { DemosaicSchema, type DemosaicSettings } from './schema'

/** Two of the differences, four of their smoothing, four of its moments, one of the spreading; and one to spare. */
const REACH = 12

/**
 * Mosaic to three colours: green by directional linear minimum mean square error estimation (Zhang and Wu,
 * "Color demosaicking via directional linear minimum mean square-error estimation", 2005), red and blue by
 * their differences to it.
 */
export const demosaic = defineStep<DemosaicSettings, BayerPattern>({
  id: 'demosaic',
  stage: 'refine',
  schema: DemosaicSchema,
  neutral: {},
  essential: true,
  keep: true,
  yields: 'camera',
  reach: () => REACH,
  prepare: (_settings, { pattern }) => pattern,
  run(tile, pattern) {
    const { raster, kernels, scratch } = tile
    const { width: w, height: h, stride } = raster
    const bytes = stride * h * 4
    const out = scratch.raster(w, h, 3)
    const [red, green, blue] = [0, 1, 2].map((p) => address(out, p, 0, 0))
    const mark = scratch.mark()
    const [dh, dv, sh, sv] = [0, 1, 2, 3].map(() => scratch.take(bytes))
    const work = scratch.take(64)
    const place = phases(pattern, tile)

    kernels.colour_differences(raster.offset, dh, dv, w, h, stride, place.green)
    kernels.smooth9(dh, sh, w, h, stride, 1)
    kernels.smooth9(dv, sv, w, h, stride, stride)
    kernels.fuse_green(raster.offset, dh, dv, sh, sv, green, w, h, stride, place.green, work)
    for (const [plane, at] of [
      [red, place.red],
      [blue, place.blue],
    ] as const) {
      kernels.sparse_difference(raster.offset, green, dh, w, h, stride, at & 1, at >> 1)
      kernels.spread_difference(dh, green, plane, w, h, stride)
    }
    scratch.release(mark)
    tile.raster = out
  },
})

/** Where the colours lie counted from the tile's first sample: 2 * y + x, and the parity of green. */
function phases(pattern: BayerPattern, tile: Tile): { red: number; green: number; blue: number } {
  const find = (colour: number) => {
    const i = pattern.indexOf(colour)
    return ((((i >> 1) ^ tile.y) & 1) << 1) | ((i ^ tile.x) & 1)
  }
  const red = find(0)
  return { red, green: ((red >> 1) + red + 1) & 1, blue: find(2) }
}
