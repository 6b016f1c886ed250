import { sumOver, summed } from './summed'

/** Pixels of the screen around a place that make up what is usual there. */
const AROUND = 24

/**
 * Makes small differences stand out: in place of a picture its lightness less what is usual around each place, times a
 * gain, on mid grey. Clouds and slopes go, dust stays.
 * @param rgba 8 bits, changed in place
 * @param gain from 1 on
 */
export function standOut(
  rgba: Uint8ClampedArray | Uint8Array,
  width: number,
  height: number,
  gain: number,
): void {
  const sums = summed(
    width,
    height,
    (at) => 0.3 * rgba[4 * at] + 0.6 * rgba[4 * at + 1] + 0.1 * rgba[4 * at + 2],
  )
  const mean = (x: number, y: number, r: number) => {
    const [left, right] = [Math.max(x - r, 0), Math.min(x + r + 1, width)]
    const [top, bottom] = [Math.max(y - r, 0), Math.min(y + r + 1, height)]
    return sumOver(sums, left, top, right, bottom) / ((right - left) * (bottom - top))
  }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 4
      // a little less noise, as a look from farther away has
      const v = 128 + gain * (mean(x, y, 1) - mean(x, y, AROUND))
      rgba[at] = rgba[at + 1] = rgba[at + 2] = Math.min(Math.max(Math.round(v), 0), 255)
    }
}
