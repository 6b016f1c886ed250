import { address } from '../../memory'
import type { CfaPattern } from '../../raw'
import type { Tile } from '../step'

/** Two of the differences, two of their smoothing, two of its moments, two of the median, three of the spreading; one to spare. */
export const BAYER_REACH = 12
/** Of those, what green needs. */
export const GREEN_REACH = 6

/**
 * Mosaic of 2 x 2 to three colours, on the logarithm of the light: green by directional linear minimum mean square
 * error estimation (Zhang and Wu, "Color demosaicking via directional linear minimum mean square-error estimation",
 * 2005; its low pass and its windows are shorter here, since a lens leaves less to separate and texture turns
 * quickly), red and blue by their differences to it, between their places by cubics (Keys 1981). The estimate's own
 * error variance says where a difference is doubtful, and there it gives way to the median around it.
 */
export function demosaicBayer(tile: Tile, pattern: CfaPattern, knee: number, tau: number): void {
  const { raster, kernels, scratch } = tile
  const { width: w, height: h, stride } = raster
  const bytes = stride * h * 4
  const out = scratch.raster(w, h, 3)
  const [red, green, blue] = [0, 1, 2].map((p) => address(out, p, 0, 0))
  const mark = scratch.mark()
  const light = scratch.take(bytes)
  const place = phases(pattern, tile)
  kernels.to_log(raster.offset, light, stride * h, knee)
  const { dh, dv, sh, sv, doubt } = bayerGreen(tile, light, place.green, green)
  // both colours settle green at their own places before either is added to it
  for (const [at, diff, settled] of [
    [place.red, dh, sh],
    [place.blue, dv, sv],
  ] as const) {
    kernels.sparse_difference(light, green, diff, w, h, stride, at & 1, at >> 1)
    kernels.settle_differences(diff, doubt, light, green, settled, w, h, stride, at & 1, at >> 1, tau)
  }
  for (const [plane, at, settled, rows] of [
    [red, place.red, sh, dh],
    [blue, place.blue, sv, dv],
  ] as const) {
    kernels.spread_rows(settled, rows, w, h, stride, at >> 1)
    kernels.spread_columns(rows, green, plane, w, h, stride, at >> 1, knee)
  }
  kernels.from_log(green, stride * h, knee)
  scratch.release(mark)
  tile.raster = out
}

/**
 * Green at every place, on the logarithm of a mosaic's light. Reach GREEN_REACH.
 * @param light, green planes of the tile's size; `greens` the parity of green's places
 * @returns work planes left in scratch memory, and how doubtful green is
 */
export function bayerGreen(
  { raster, kernels, scratch }: Tile,
  light: number,
  greens: number,
  green: number,
): { dh: number; dv: number; sh: number; sv: number; doubt: number } {
  const { width: w, height: h, stride } = raster
  const [dh, dv, sh, sv, doubt] = [0, 1, 2, 3, 4].map(() => scratch.take(stride * h * 4))
  const work = scratch.take(64)
  kernels.colour_differences(light, dh, dv, w, h, stride, greens)
  kernels.smooth5(dh, sh, w, h, stride, 1)
  kernels.smooth5(dv, sv, w, h, stride, stride)
  kernels.fuse_green(light, dh, dv, sh, sv, green, doubt, w, h, stride, greens, work)
  return { dh, dv, sh, sv, doubt }
}

/** Where the colours lie counted from the tile's first sample: 2 * y + x, and the parity of green. */
export function phases(
  pattern: CfaPattern,
  tile: Pick<Tile, 'x' | 'y'>,
): { red: number; green: number; blue: number } {
  const find = (colour: number) => {
    const i = pattern.colours.indexOf(colour)
    return ((((i >> 1) ^ tile.y) & 1) << 1) | ((i ^ tile.x) & 1)
  }
  const red = find(0)
  return { red, green: ((red >> 1) + red + 1) & 1, blue: find(2) }
}
