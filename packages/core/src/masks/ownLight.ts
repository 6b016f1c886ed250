import { boxMean, type Plane } from './planes'
import type { Guide } from './range'

/** Half the windows in which light inside and outside of a mask is taken, pixels of its map. */
const AROUND = 6
/** Most times that one is taken to be brighter than the other: small errors of a mask count as often. */
const MOST = 6
/** Least share of a window that tells anything. */
const FEW = 1e-3

/** How many times brighter it is inside a mask than outside of it, around each place. */
export function lightRatio({ width, height, values }: Plane, { L }: Guide): Float32Array {
  const n = values.length
  const mean = (plane: Float32Array) => boxMean({ width, height, values: plane }, AROUND)
  const [within, beyond, inner, outer] = [0, 1, 2, 3].map(() => new Float32Array(n))
  for (let i = 0; i < n; i++) {
    const light = Math.max(L[i], 0) ** 3
    within[i] = values[i] * values[i]
    beyond[i] = (1 - values[i]) * (1 - values[i])
    inner[i] = within[i] * light
    outer[i] = beyond[i] * light
  }
  const [w, b, i, o] = [within, beyond, inner, outer].map(mean)
  const out = new Float32Array(n)
  for (let k = 0; k < n; k++) {
    const known = w[k] > FEW && b[k] > FEW
    const ratio = known ? i[k] / w[k] / Math.max(o[k] / b[k], 1e-6) : 1
    out[k] = Math.min(Math.max(ratio, 1 / MOST), MOST)
  }
  return out
}

/**
 * Of a mask the share of the light, instead of the share of the place, that comes from inside, in place: what is made
 * of the light of an edge then leaves alone what the background lends to it.
 * @param ratio as `lightRatio` gives it
 * @param share how far that is done, 0..1
 */
export function withOwnLight(mask: Float32Array, ratio: Float32Array, share: number): void {
  for (let i = 0; i < mask.length; i++) {
    const m = mask[i]
    const own = (m * ratio[i]) / (m * ratio[i] + 1 - m)
    mask[i] = m + share * (own - m)
  }
}
