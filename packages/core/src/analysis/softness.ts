import { atan2, degrees, sinCosDegrees } from '../math'
import type { Softness } from '../steps/sharpen/schema'

/** Side of the squares that are looked at, pixels. */
export const SOFTNESS_BLOCK = 48
/** Samples of an edge's profile for each pixel across it, and how far it is followed to either side. */
const FINE = 4
const REACH = 11
/** How much of the gradients must agree on one direction, and least height of an edge over the noise around it. */
const COHERENT = 0.9
const HEIGHT = 0.08
/** Half the side of the window in which they must, and how far along the edge it is followed. */
const AROUND = 5
const ALONG = 5
/** Edges tried in a block. */
const MOST_TRIES = 6
/** Standard deviation of the blur that sharp pixels have already: their own area, and the interpolation of colours. */
const PIXEL = 0.6
const FEWEST = 12

/** What a straight edge says of the blur across it. */
export interface EdgeSample {
  /** Direction across the edge, degrees clockwise from level, 0..180. */
  across: number
  /** Standard deviation of the blur, pixels. */
  sigma: number
  /** How badly a bell curve, and a disc, fit its profile. */
  bell: number
  disc: number
}

export interface FoundSoftness {
  softness: Softness
  radius: number
  angle: number
  /** Edges that say so. */
  edges: number
}

/** Share of a bell curve of deviation 1 up to x (Abramowitz and Stegun 1964, 7.1.26). */
function bellUpTo(x: number): number {
  const z = Math.abs(x) / Math.SQRT2
  const t = 1 / (1 + 0.3275911 * z)
  const poly =
    t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))))
  const erf = 1 - poly * Math.exp(-z * z)
  return 0.5 * (1 + Math.sign(x) * erf)
}

/** Share of a disc of radius 1 up to x. */
function discUpTo(x: number): number {
  if (x <= -1) return 0
  if (x >= 1) return 1
  return 0.5 + (x * Math.sqrt(1 - x * x) + Math.asin(x)) / Math.PI
}

/** A disc whose rim is as soft as pixels are. */
function softDisc(x: number, radius: number): number {
  let sum = 0
  let weight = 0
  for (let k = -4; k <= 4; k++) {
    const w = Math.exp(-((k / 2) ** 2) / 2)
    sum += w * discUpTo((x + (k / 2) * PIXEL) / radius)
    weight += w
  }
  return sum / weight
}

/** Least squares of a profile against a shape between two levels: root mean square error over the height. */
function misfit(profile: readonly { x: number; v: number }[], shape: (x: number) => number): number {
  let [s, sv, ss, ssv, vv] = [0, 0, 0, 0, 0]
  const n = profile.length
  for (const { x, v } of profile) {
    const e = shape(x)
    s += e
    sv += v
    ss += e * e
    ssv += e * v
    vv += v * v
  }
  const height = (n * ssv - s * sv) / Math.max(n * ss - s * s, 1e-12)
  const base = (sv - height * s) / n
  const error =
    vv - 2 * height * ssv - 2 * base * sv + height * height * ss + 2 * height * base * s + n * base * base
  return Math.sqrt(Math.max(error, 0) / n) / Math.max(Math.abs(height), 1e-9)
}

/** The parameter within low..high for which a profile fits best, by trisection. */
function bestOf(low: number, high: number, cost: (p: number) => number): number {
  let [a, b] = [low, high]
  for (let i = 0; i < 11; i++) {
    const p = a + (b - a) / 3
    const q = b - (b - a) / 3
    if (cost(p) < cost(q)) b = q
    else a = p
  }
  return (a + b) / 2
}

/**
 * The straight edges of a block that stand clear of others, measured across.
 * @param light SOFTNESS_BLOCK squared samples, in a scale in which noise is alike everywhere
 */
export function sampleEdges(light: Float32Array): EdgeSample[] {
  const n = SOFTNESS_BLOCK
  const gradient = new Float32Array(n * n)
  for (let y = 1; y < n - 1; y++)
    for (let x = 1; x < n - 1; x++) {
      const i = y * n + x
      gradient[i] = (light[i + 1] - light[i - 1]) ** 2 + (light[i + n] - light[i - n]) ** 2
    }
  const out: EdgeSample[] = []
  const taken: [number, number][] = []
  const margin = REACH - 2
  for (let turn = 0; turn < MOST_TRIES; turn++) {
    let best = -1
    for (let y = margin; y < n - margin; y++)
      for (let x = margin; x < n - margin; x++)
        if (
          (best < 0 || gradient[y * n + x] > gradient[best]) &&
          taken.every(([u, v]) => Math.abs(u - x) + Math.abs(v - y) > 9)
        )
          best = y * n + x
    if (best < 0 || gradient[best] < 1e-4) break
    const [x, y] = [best % n, Math.floor(best / n)]
    taken.push([x, y])
    const found = measureEdge(light, gradient, x, y)
    if (found) out.push(found)
  }
  return out
}

/** The edge through a place, if it is straight and clear of others. */
function measureEdge(
  light: Float32Array,
  gradient: Float32Array,
  px: number,
  py: number,
): EdgeSample | undefined {
  const n = SOFTNESS_BLOCK
  let [xx, xy, yy, weight, mx, my] = [0, 0, 0, 0, 0, 0]
  for (let y = Math.max(py - AROUND, 1); y <= Math.min(py + AROUND, n - 2); y++)
    for (let x = Math.max(px - AROUND, 1); x <= Math.min(px + AROUND, n - 2); x++) {
      const i = y * n + x
      const gx = light[i + 1] - light[i - 1]
      const gy = light[i + n] - light[i - n]
      xx += gx * gx
      xy += gx * gy
      yy += gy * gy
      weight += gradient[i]
      mx += gradient[i] * x
      my += gradient[i] * y
    }
  const spread = Math.sqrt((xx - yy) ** 2 + 4 * xy * xy)
  if (spread / (xx + yy) < COHERENT) return undefined
  const direction = degrees(atan2(2 * xy, xx - yy)) / 2
  const [sine, cosine] = sinCosDegrees(direction)
  // along the edge the middle of its gradients counts, across it too
  const [cx, cy] = [mx / weight, my / weight]
  const size = 2 * REACH * FINE + 1
  const sums = new Float64Array(size)
  const counts = new Float64Array(size)
  const squares = new Float64Array(size)
  for (let y = 0; y < n; y++)
    for (let x = 0; x < n; x++) {
      const u = (x - cx) * cosine + (y - cy) * sine
      const v = (y - cy) * cosine - (x - cx) * sine
      if (Math.abs(u) > REACH || Math.abs(v) > ALONG) continue
      const k = Math.round((u + REACH) * FINE)
      const value = light[y * n + x]
      sums[k] += value
      squares[k] += value * value
      counts[k]++
    }
  // smoothed a little, it must rise or fall to both sides until it stays
  const values = Array.from(sums, (_, k) => {
    let [s, c] = [0, 0]
    for (let j = Math.max(k - 1, 0); j <= Math.min(k + 1, size - 1); j++) {
      s += sums[j]
      c += counts[j]
    }
    return c > 1 ? s / c : NaN
  })
  const middle = REACH * FINE
  const rises = Math.sign(values[middle + FINE] - values[middle - FINE])
  if (!rises) return undefined
  const end = (step: 1 | -1): number => {
    let k = middle
    let last = k
    while (k + step >= 0 && k + step < size && !Number.isNaN(values[k + step])) {
      k += step
      if ((values[k] - values[last]) * rises * step > 0) last = k
      else if (Math.abs(k - last) > 1.5 * FINE) break
    }
    return last
  }
  const [first, last] = [end(-1), end(1)]
  if (middle - first < 1.5 * FINE || last - middle < 1.5 * FINE) return undefined
  const height = Math.abs(values[last] - values[first])
  const profile: { x: number; v: number }[] = []
  let rough = 0
  for (let k = first; k <= last; k++) {
    if (counts[k] < 2) continue
    const v = sums[k] / counts[k]
    rough += Math.max(squares[k] / counts[k] - v * v, 0)
    profile.push({ x: k / FINE - REACH, v })
  }
  if (profile.length < (last - first) * 0.7 || height < HEIGHT) return undefined
  rough = Math.sqrt(rough / profile.length)
  if (rough > height * 0.2) return undefined
  // beyond its ends the edge stays as it is
  for (let k = 1; k <= 2 * FINE; k++) {
    profile.push({ x: (first - k) / FINE - REACH, v: values[first] })
    profile.push({ x: (last + k) / FINE - REACH, v: values[last] })
  }
  let best = { sigma: 0, bell: Infinity, shift: 0 }
  for (let shift = -1.5; shift <= 1.5; shift += 0.5) {
    const sigma = bestOf(0.2, 5, (s) => misfit(profile, (x) => bellUpTo((x - shift) / s)))
    const bell = misfit(profile, (x) => bellUpTo((x - shift) / sigma))
    if (bell < best.bell) best = { sigma, bell, shift }
  }
  if (best.bell > 0.05) return undefined
  const { shift } = best
  const radius = bestOf(0.4, 8, (r) => misfit(profile, (x) => softDisc(x - shift, r)))
  const disc = misfit(profile, (x) => softDisc(x - shift, radius))
  return { across: ((direction % 180) + 180) % 180, sigma: best.sigma, bell: best.bell, disc }
}

const quantile = (values: readonly number[], q: number) => {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[Math.min(Math.floor(q * sorted.length), sorted.length - 1)]
}

/**
 * What made a picture soft, by its straight edges: a blur that depends on their direction is a movement; one that
 * does not is a missed focus where discs fit better than bell curves, and otherwise that of a lens.
 * @returns undefined where too few edges agree
 */
export function judgeSoftness(all: readonly EdgeSample[]): FoundSoftness | undefined {
  if (all.length < FEWEST) return undefined
  // things may be soft themselves: of alike directions the sharpest tell
  const bins = Array.from({ length: 12 }, () => [] as EdgeSample[])
  for (const e of all) bins[Math.floor(e.across / 15) % 12].push(e)
  const sharpest = bins.flatMap((b) => {
    const limit = quantile(
      b.map((e) => e.sigma),
      0.3,
    )
    return b.filter((e) => e.sigma <= limit * 1.12)
  })
  const variance = (e: EdgeSample) => Math.max(e.sigma * e.sigma - PIXEL * PIXEL, 0.01)
  const direction = robustDirection(sharpest.map((e) => ({ across: e.across, variance: variance(e) })))
  const edges = sharpest.length
  const mean = quantile(sharpest.map(variance), 0.5)
  if (direction && direction.swing > 0.42 * direction.mean && direction.mean + direction.swing > 0.5) {
    // a way of length 2 r has a variance of r^2 / 3
    const radius = Math.sqrt(6 * Math.min(direction.swing, direction.mean))
    return { softness: 'motion', radius: clamp(radius), angle: direction.angle, edges }
  }
  const sigma = Math.sqrt(mean)
  const betterDisc = sharpest.filter((e) => e.disc < e.bell).length
  if (sigma > 0.55 && betterDisc > edges * 0.5)
    return { softness: 'focus', radius: clamp(2 * sigma), angle: 0, edges }
  return { softness: 'lens', radius: clamp(sigma), angle: 0, edges }
}

const clamp = (radius: number) => Math.min(Math.max(radius, 0.3), 6)

/** The same again without those that fit it badly. */
function robustDirection(samples: readonly { across: number; variance: number }[]) {
  let kept = samples
  let fit = fitDirection(kept)
  for (let round = 0; fit && round < 3; round++) {
    const { mean, swing, angle } = fit
    const off = samples.map((s) =>
      Math.abs(s.variance - mean - swing * sinCosDegrees(2 * (s.across - angle))[1]),
    )
    const limit = Math.max(2 * quantile(off, 0.5), 0.05)
    kept = samples.filter((_, i) => off[i] <= limit)
    fit = fitDirection(kept) ?? fit
  }
  return fit
}

/** variance = mean + swing * cos 2 (across - angle), where enough directions are known to say. */
function fitDirection(samples: readonly { across: number; variance: number }[]) {
  const bins = new Set(samples.map((s) => Math.floor(s.across / 30)))
  if (bins.size < 3) return undefined
  // normal equations of three unknowns
  const m = [0, 0, 0, 0, 0, 0, 0, 0, 0]
  const r = [0, 0, 0]
  for (const { across, variance } of samples) {
    const [s, c] = sinCosDegrees(2 * across)
    const row = [1, c, s]
    row.forEach((a, i) => {
      r[i] += a * variance
      row.forEach((b, k) => (m[i * 3 + k] += a * b))
    })
  }
  const det = (a: readonly number[]) =>
    a[0] * (a[4] * a[8] - a[5] * a[7]) -
    a[1] * (a[3] * a[8] - a[5] * a[6]) +
    a[2] * (a[3] * a[7] - a[4] * a[6])
  const whole = det(m)
  if (Math.abs(whole) < 1e-6 * samples.length ** 3) return undefined
  const solved = [0, 1, 2].map((k) => det(m.map((v, i) => (i % 3 === k ? r[Math.floor(i / 3)] : v))) / whole)
  let angle = degrees(atan2(solved[2], solved[1])) / 2
  if (angle > 90) angle -= 180
  return { mean: solved[0], swing: Math.sqrt(solved[1] ** 2 + solved[2] ** 2), angle }
}
