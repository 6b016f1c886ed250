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
 */
export function localMean({ width, height, L, a, b }: Seen, weights: Float32Array, r: number): Local {
  const n = weights.length
  const mean = (values: Float32Array) => boxMean({ width, height, values }, r)
  const times = (plane: Float32Array) => {
    const out = new Float32Array(n)
    let sum = 0
    for (let i = 0; i < n; i++) sum += out[i] = plane[i] * weights[i]
    return { out, sum }
  }
  let total = 0
  for (let i = 0; i < n; i++) total += weights[i]
  const share = mean(weights)
  const [mL, ma, mb] = [L, a, b].map((plane) => {
    const { out, sum } = times(plane)
    const common = total > 0 ? (FEW * sum) / total : 0
    const means = mean(out)
    for (let i = 0; i < n; i++) means[i] = (means[i] + common) / (share[i] + FEW)
    return means
  })
  return { L: mL, a: ma, b: mb, share }
}
