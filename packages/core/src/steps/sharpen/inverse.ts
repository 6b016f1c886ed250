import { exp2, sinCos, sinCosDegrees, type Point } from '../../math'
import type { Softness } from './schema'

/** What a blur is known by. */
export interface Blur {
  /** `pixel`: the square over which a pixel is the mean, `radius` half its side. */
  softness: Softness | 'pixel'
  /** Pixels; see the settings. */
  radius: number
  /** Degrees clockwise from level, of a movement. */
  angle: number
}

/** Places within a pixel at which a spread is sampled, across and down. */
const FINE = 9
/** Frequencies along each axis, more than twice the distances between taps: of small taps, and of any. */
const SIZES = { small: 64, large: 128 }
/** Reach of small taps. */
const SMALL = 10
/** Frequency below which detail grows no further, in eighths of a cycle a pixel. */
const LOWEST = 1 / 32
/** Half the width of the taps that undo a movement, pixels. */
const ACROSS = 2.5

const WAVE = Array.from({ length: SIZES.large }, (_, k) => sinCos((2 * Math.PI * k) / SIZES.large))
const SINES = Float64Array.from(WAVE, ([s]) => s)
const COSINES = Float64Array.from(WAVE, ([, c]) => c)
/** How far a wave of frequency f of `size` has turned at x, as a place in the tables. */
const turn = (size: number, f: number, x: number) => (((f * x) & (size - 1)) * SIZES.large) / size

/** Light that a point sends to each of (2 r + 1)^2 pixels around; sums to 1. */
export function spreadOf({ softness, radius, angle }: Blur, r: number): Float64Array {
  const n = 2 * r + 1
  const out = new Float64Array(n * n)
  const [sine, cosine] = sinCosDegrees(angle)
  const at = (x: number, y: number): number => {
    if (softness === 'lens') return exp2((-(x * x + y * y) / (2 * radius * radius)) * 1.4426950408889634)
    if (softness === 'focus') return x * x + y * y <= radius * radius ? 1 : 0
    if (softness === 'pixel') return Math.abs(x) <= radius && Math.abs(y) <= radius ? 1 : 0
    const along = x * cosine + y * sine
    const across = y * cosine - x * sine
    return Math.abs(along) <= radius && Math.abs(across) <= 0.5 ? 1 : 0
  }
  let sum = 0
  for (let y = -r; y <= r; y++)
    for (let x = -r; x <= r; x++) {
      let v = 0
      for (let j = 0; j < FINE; j++)
        for (let i = 0; i < FINE; i++) v += at(x + (i + 0.5) / FINE - 0.5, y + (j + 0.5) / FINE - 0.5)
      out[(y + r) * n + x + r] = v
      sum += v
    }
  return out.map((v) => v / sum)
}

/** Real part of the transform of a spread that is the same through its middle: size x size. */
function responseOf(spread: Float64Array, r: number, size: number): Float64Array {
  const n = 2 * r + 1
  const out = new Float64Array(size * size)
  // lines first: the transform across of each, complex
  const re = new Float64Array(n * size)
  const im = new Float64Array(n * size)
  for (let y = 0; y < n; y++)
    for (let f = 0; f < size; f++)
      for (let x = 0; x < n; x++) {
        const k = turn(size, f, x - r)
        re[y * size + f] += spread[y * n + x] * COSINES[k]
        im[y * size + f] -= spread[y * n + x] * SINES[k]
      }
  for (let g = 0; g < size; g++)
    for (let f = 0; f < size; f++)
      for (let y = 0; y < n; y++) {
        const k = turn(size, g, y - r)
        out[g * size + f] += re[y * size + f] * COSINES[k] + im[y * size + f] * SINES[k]
      }
  return out
}

/** Correlation of a spectrum of size x size at distances of up to m either way: (2 m + 1)^2. */
function correlationOf(spectrum: Float64Array, m: number, size: number): Float64Array {
  const n = 2 * m + 1
  const out = new Float64Array(n * n)
  const re = new Float64Array(size * n)
  const im = new Float64Array(size * n)
  for (let g = 0; g < size; g++)
    for (let x = -m; x <= m; x++)
      for (let f = 0; f < size; f++) {
        const k = turn(size, f, x)
        re[g * n + x + m] += spectrum[g * size + f] * COSINES[k]
        im[g * n + x + m] += spectrum[g * size + f] * SINES[k]
      }
  for (let y = -m; y <= m; y++)
    for (let x = 0; x < n; x++)
      for (let g = 0; g < size; g++) {
        const k = turn(size, g, y)
        out[(y + m) * n + x] += re[g * n + x] * COSINES[k] - im[g * n + x] * SINES[k]
      }
  return out
}

/** Places that share a tap, since the blur is the same there. */
function places({ softness, angle }: Blur, reach: number): Point[][] {
  const [sine, cosine] = sinCosDegrees(angle)
  const directed = softness === 'motion'
  const taken = new Set<number>()
  const out: Point[][] = []
  for (let y = -reach; y <= reach; y++)
    for (let x = -reach; x <= reach; x++) {
      if (x * x + y * y > (reach + 0.5) ** 2) continue
      // what a movement took lies along its way
      if (directed && Math.abs(y * cosine - x * sine) > ACROSS) continue
      if (taken.has(y * 1000 + x)) continue
      const alike: Point[] = directed
        ? [[x, y]]
        : [
            [x, y],
            [-x, y],
            [y, x],
            [-y, x],
          ]
      const group: Point[] = []
      for (const [p, q] of alike.flatMap(([p, q]) => [[p, q] as const, [-p, -q] as const]))
        if (!taken.has(q * 1000 + p)) {
          taken.add(q * 1000 + p)
          group.push([p, q])
        }
      out.push(group)
    }
  return out
}

/** Solves a symmetric positive system for two right sides (Cholesky); a is n x n and is used up. */
function solved(a: Float64Array, sides: readonly Float64Array[]): Float64Array[] {
  const n = sides[0].length
  for (let j = 0; j < n; j++) {
    let sum = a[j * n + j]
    for (let k = 0; k < j; k++) sum -= a[j * n + k] ** 2
    const d = Math.sqrt(Math.max(sum, 1e-30))
    a[j * n + j] = d
    for (let i = j + 1; i < n; i++) {
      let v = a[i * n + j]
      for (let k = 0; k < j; k++) v -= a[i * n + k] * a[j * n + k]
      a[i * n + j] = v / d
    }
  }
  return sides.map((side) => {
    const x = side.slice()
    for (let i = 0; i < n; i++) {
      for (let k = 0; k < i; k++) x[i] -= a[i * n + k] * x[k]
      x[i] /= a[i * n + i]
    }
    for (let i = n - 1; i >= 0; i--) {
      for (let k = i + 1; k < n; k++) x[i] -= a[k * n + i] * x[k]
      x[i] /= a[i * n + i]
    }
    return x
  })
}

/**
 * Taps that undo a blur as far as noise allows: of all with this reach those whose result lies closest to a picture
 * whose detail falls with the square of the frequency (Wiener 1949, of finite length), summing to 1. An ideal inverse
 * cut off would ring where it ends.
 * @param noise variance of the noise over that of the picture's detail at the frequency 1/8
 * @param reach half the side of the taps, 24 at most
 */
export function inverseTaps(blur: Blur, noise: number, reach: number): Float32Array {
  const room = Math.ceil(blur.softness === 'lens' ? 3.5 * blur.radius : blur.radius + 1)
  const size = reach <= SMALL && room <= SMALL ? SIZES.small : SIZES.large
  const response = responseOf(spreadOf(blur, room), room, size)
  const frequency = (k: number) => (8 * (k < size / 2 ? k : k - size)) / size
  const seen = new Float64Array(size * size)
  const wanted = new Float64Array(size * size)
  for (let g = 0; g < size; g++)
    for (let f = 0; f < size; f++) {
      const i = g * size + f
      const detail = 1 / Math.max(frequency(f) ** 2 + frequency(g) ** 2, LOWEST ** 2)
      wanted[i] = detail * response[i]
      seen[i] = wanted[i] * response[i] + noise
    }
  const far = 2 * reach
  const between = correlationOf(seen, far, size)
  const toTruth = correlationOf(wanted, reach, size)
  const n = 2 * reach + 1
  const groups = places(blur, reach)
  const count = groups.length
  const matrix = new Float64Array(count * count)
  groups.forEach((group, i) => {
    // each place of a group has the same equation: their sum keeps the system symmetric
    groups.forEach((other, j) => {
      const [x, y] = group[0]
      let sum = 0
      for (const [p, q] of other) sum += between[(y - q + far) * (2 * far + 1) + x - p + far]
      matrix[i * count + j] = sum * group.length
    })
  })
  const sides = [
    Float64Array.from(groups, (g) => g.length * toTruth[(g[0][1] + reach) * n + g[0][0] + reach]),
    Float64Array.from(groups, (g) => g.length),
  ]
  const [best, level] = solved(matrix, sides)
  const sumOf = (v: Float64Array) => groups.reduce((s, g, i) => s + g.length * v[i], 0)
  // even light stays as it is
  const share = (1 - sumOf(best)) / sumOf(level)
  const taps = new Float32Array(n * n)
  groups.forEach((group, i) => {
    for (const [x, y] of group) taps[(y + reach) * n + x + reach] = best[i] + share * level[i]
  })
  return taps
}
