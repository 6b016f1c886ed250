import { boxMean } from '../planes'
import type { Seen } from './small'

/** Share of a window below which its mean leans on that of all. */
const FEW = 0.02

/** Mean colour of some places around each place. */
export interface Local {
  L: Float32Array
  a: Float32Array
  b: Float32Array
  /** How much of each window they are, 0..1. */
  share: Float32Array
}

/**
 * The mean colour of some places around each; where there are none, that of all of them.
 * @param weights how much of each place counts, 0..1
 * @param r half the side of the squares
 * @param common the mean of all of them, where only a piece is given
 */
export function localMean(
  seen: Seen,
  weights: Float32Array,
  r: number,
  common: readonly number[] = meanOf(seen, weights),
): Local {
  const { width, height, L, a, b } = seen
  const n = weights.length
  const mean = (values: Float32Array) => boxMean({ width, height, values }, r)
  const share = mean(weights)
  const [mL, ma, mb] = [L, a, b].map((plane, p) => {
    const out = new Float32Array(n)
    for (let i = 0; i < n; i++) out[i] = plane[i] * weights[i]
    const means = mean(out)
    for (let i = 0; i < n; i++) means[i] = (means[i] + FEW * common[p]) / (share[i] + FEW)
    return means
  })
  return { L: mL, a: ma, b: mb, share }
}

/** The mean colour of some places. @param weights how much of each counts, 0..1 */
export function meanOf({ L, a, b }: Seen, weights: Float32Array): [L: number, a: number, b: number] {
  let [total, sL, sa, sb] = [0, 0, 0, 0]
  for (let i = 0; i < weights.length; i++) {
    const w = weights[i]
    total += w
    sL += L[i] * w
    sa += a[i] * w
    sb += b[i] * w
  }
  return total > 0 ? [sL / total, sa / total, sb / total] : [0, 0, 0]
}
