import { cubic, sinc } from '../math'
import type { Resampling } from './delivery'

/** Each kernel, with its reach on either side. */
const KERNELS: Readonly<Record<Resampling, { reach: number; at(x: number): number }>> = {
  cubic: { reach: 2, at: cubic },
  lanczos: { reach: 3, at: (x) => (Math.abs(x) < 3 ? sinc(x) * sinc(x / 3) : 0) },
}

/** Weights that take a line of samples to another length. */
export interface ResampleTable {
  /** First source sample of each result. */
  starts: Int32Array
  /** `taps` weights for each result, summing to 1. */
  weights: Float32Array
  /** Multiple of 4. */
  taps: number
}

/**
 * Table for `from` samples to `to`, sample centres aligned at both ends; the kernel widens with the reduction so
 * that nothing aliases. Beyond the ends the last sample counts.
 */
export function resampleTable(from: number, to: number, kernel: Resampling = 'cubic'): ResampleTable {
  const { reach, at } = KERNELS[kernel]
  const step = from / to
  const wide = Math.max(step, 1)
  const span = Math.min(Math.ceil(2 * reach * wide) + 1, from)
  const taps = (span + 3) & ~3
  const starts = new Int32Array(to)
  const weights = new Float32Array(to * taps)
  const line = new Float64Array(from)
  for (let i = 0; i < to; i++) {
    const centre = (i + 0.5) * step - 0.5
    const first = Math.ceil(centre - reach * wide)
    const last = Math.floor(centre + reach * wide)
    const start = Math.max(0, Math.min(first, from - taps))
    let sum = 0
    for (let k = first; k <= last; k++) {
      const w = at((k - centre) / wide)
      line[Math.min(Math.max(k, 0), from - 1)] += w
      sum += w
    }
    starts[i] = start
    for (let k = 0; k < taps && start + k < from; k++) {
      weights[i * taps + k] = line[start + k] / sum
      line[start + k] = 0
    }
  }
  return { starts, weights, taps }
}
