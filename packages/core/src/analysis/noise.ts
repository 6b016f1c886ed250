import type { NoiseOf } from '../steps/noise/stabilise'

/** Light and variance of a small even-looking place of one colour. */
export interface NoiseSample {
  mean: number
  variance: number
}

/** Blocks of one colour, samples to a side. */
export const NOISE_BLOCK = 16
/** Steps of brightness in which the evenest places are looked for. */
const BINS = 24
/** Which of them count, from the evenest: enough to be sure, few enough to be even. */
const EVEN = 0.25
/** What that quantile is of the true variance where there is nothing but noise. */
const QUANTILE_BIAS = 0.91
const FEWEST = 4

/**
 * Mean and variance of a block. The variance is that of the differences along both diagonals of neighbours, in
 * which slopes and straight edges vanish, by its median, which what little drawing there is does not move.
 * @param values NOISE_BLOCK x NOISE_BLOCK samples of one colour
 */
export function sampleNoise(values: ArrayLike<number>): NoiseSample {
  const n = NOISE_BLOCK
  let mean = 0
  for (let i = 0; i < n * n; i++) mean += values[i]
  const off: number[] = []
  for (let y = 0; y + 1 < n; y += 2)
    for (let x = 0; x + 1 < n; x += 2) {
      const i = y * n + x
      off.push(Math.abs(values[i] - values[i + 1] - values[i + n] + values[i + n + 1]) / 2)
    }
  off.sort((a, b) => a - b)
  const median = (off[off.length / 2 - 1] + off[off.length / 2]) / 2 / 0.6745
  return { mean: mean / (n * n), variance: median * median }
}

/**
 * The noise model that the evenest places of a picture agree on (after Foi 2008: a straight line through the
 * variances by brightness).
 * @param samples signal 0..1 before balancing, of any colours: all photosites are alike
 * @returns undefined where too few places are even
 */
export function estimateNoise(samples: readonly NoiseSample[]): NoiseOf | undefined {
  const bins = Array.from({ length: BINS }, () => [] as NoiseSample[])
  for (const s of samples)
    if (s.mean > -0.01 && s.mean < 0.9)
      bins[Math.min(Math.floor(Math.sqrt(Math.max(s.mean, 0)) * BINS), BINS - 1)].push(s)
  const points = bins
    .filter((b) => b.length >= FEWEST)
    .map((b) => {
      const sorted = [...b].sort((p, q) => p.variance - q.variance)
      const even = sorted.slice(0, Math.max(Math.ceil(sorted.length * 2 * EVEN), 2))
      const middle = even[Math.floor(even.length / 2)]
      return {
        mean: even.reduce((s, e) => s + e.mean, 0) / even.length,
        variance: middle.variance / QUANTILE_BIAS,
        count: b.length,
      }
    })
    .filter((p) => p.variance > 0)
  if (points.length < 3) return undefined
  let weights = points.map((p) => p.count / (p.variance * p.variance))
  let fit = line(points, weights)
  // a step of brightness without even places lies above the line: twice more, such ones count less
  for (let round = 0; round < 3; round++) {
    weights = points.map((p) => {
      const expected = Math.max(fit.a * p.mean + fit.b, 1e-12)
      const over = Math.max(p.variance / expected - 1, 0)
      return p.count / (expected * expected) / (1 + (over / 0.2) ** 2)
    })
    fit = line(points, weights)
  }
  return fit
}

function line(points: readonly NoiseSample[], weights: readonly number[]): NoiseOf {
  let [w, x, y, xx, xy] = [0, 0, 0, 0, 0]
  points.forEach((p, i) => {
    const k = weights[i]
    w += k
    x += k * p.mean
    y += k * p.variance
    xx += k * p.mean * p.mean
    xy += k * p.mean * p.variance
  })
  const a = Math.max((w * xy - x * y) / Math.max(w * xx - x * x, 1e-30), 1e-7)
  const b = (y - a * x) / w
  // all of it from the light where the line would go below nothing
  return b > 0 ? { a, b } : { a: Math.max(xy / xx, 1e-7), b: 1e-9 }
}
