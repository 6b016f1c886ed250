import { address } from '../../memory'
import type { CfaPattern } from '../../raw'
import type { Tile } from '../step'

/** Six of the first green, and three for every mean: of differences to green, of green's refinements, and of the last. */
export const LARGE_REACH = 28

/** Rounds in which green takes on the detail of red and blue, and these follow it. */
const ROUNDS = 1
/** How much of that a round lets in. */
const SHARE = 0.4
/** Half of a bell of a width of 1.3 pixels: wide enough to meet each colour from anywhere. */
export const BELL = [1, 0.7438, 0.3062, 0.0698] as const

/**
 * Mosaic of 6 x 6 to three colours, on the logarithm of the light. Green first along edges; then the differences of
 * the colours, known where either is measured, are spread by normalised means (Knutsson and Westin 1993) and tell
 * each colour the others' detail in turn, as residual interpolation does (Kiku 2013).
 */
export function demosaicLarge(tile: Tile, pattern: CfaPattern, knee: number): void {
  const { raster, kernels, scratch } = tile
  const { width: w, height: h, stride } = raster
  const n = stride * h
  const out = scratch.raster(w, h, 3)
  const planes = [0, 1, 2].map((p) => address(out, p, 0, 0))
  const mark = scratch.mark()
  const [light, value, known, a, b, green, masked] = [0, 1, 2, 3, 4, 5, 6].map(() => scratch.take(n * 4))
  const colours = scratch.bytes(Uint8Array.from(pattern.colours))
  const { size } = pattern
  const px = ((tile.x % size) + size) % size
  const py = ((tile.y % size) + size) % size
  /** What is measured of a colour to `masked`; with `others` what is measured of the others. */
  const mask = (from: number, colour: number, others: 0 | 1 = 0) =>
    kernels.mask_colour(from, masked, known, w, h, stride, colours, size, px, py, colour, others)
  /** Mean of what is known of `masked` around each place, to `to`. */
  const spread = (to: number) => {
    const blur = (from: number, into: number) => {
      kernels.taps7(from, value, w, h, stride, 1, ...BELL)
      kernels.taps7(value, into, w, h, stride, stride, ...BELL)
    }
    blur(masked, a)
    blur(known, b)
    kernels.divide(a, b, to, n)
  }

  kernels.to_log(raster.offset, light, n, knee)
  mask(light, 1)
  kernels.green_along(light, known, green, w, h, stride)
  for (let round = 0; ; round++) {
    for (const colour of [0, 2]) {
      const plane = planes[colour]
      kernels.subtract(light, green, plane, n)
      mask(plane, colour)
      spread(plane)
      kernels.sum(green, plane, plane, n)
    }
    if (round === ROUNDS) break
    for (const colour of [0, 2]) {
      // at green's places green is known and the colour estimated; their difference carries green to the colour's
      const plane = planes[colour]
      kernels.subtract(plane, green, planes[1], n)
      mask(planes[1], 1)
      spread(planes[1])
      kernels.subtract(light, planes[1], planes[1], n)
      // elsewhere than at this colour's places green stays
      mask(light, colour, 1)
      kernels.let_in(green, green, planes[1], known, SHARE, n)
    }
  }
  scratch.copy(green, planes[1], n * 4)
  kernels.from_log(planes[0], n * 3, knee)
  scratch.release(mark)
  tile.raster = out
}
