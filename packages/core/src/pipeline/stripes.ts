import { planeLength, planes } from '../steps'
import type { Raster } from '../memory'

/** ΔE from which on a colour counts as one that a device cannot show: what is seen side by side. */
export const OUT_OF_GAMUT = 2.5
/** Pixels of a stripe and the gap after it, together and alone. */
const PERIOD = 8
const STRIPE = 3

/**
 * Draws stripes over what lies outside of a gamut: dark ones over light colours, light ones over dark.
 * @param raster linear channels of a display, changed in place
 * @param away plane of how far outside each pixel lies, ΔE
 * @param x0, y0 place of the first pixel, so that stripes go on from part to part
 */
export function drawStripes(
  buffer: ArrayBufferLike,
  raster: Raster,
  away: number,
  x0: number,
  y0: number,
): void {
  const n = planeLength(raster)
  const [r, g, b] = planes(raster).map((at) => new Float32Array(buffer, at, n))
  const far = new Float32Array(buffer, away, n)
  for (let y = 0; y < raster.height; y++)
    for (let x = 0, i = y * raster.stride; x < raster.width; x++, i++) {
      if (far[i] < OUT_OF_GAMUT || (x0 + x + y0 + y) % PERIOD >= STRIPE) continue
      const stripe = (r[i] + g[i] + b[i]) / 3 > 0.18 ? 0.01 : 0.8
      r[i] = g[i] = b[i] = stripe
    }
}
