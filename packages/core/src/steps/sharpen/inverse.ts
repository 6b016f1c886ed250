import { exp2, sinCos, sinCosDegrees } from '../../math'
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
/** Frequencies along each axis. */
const SIZE = 64

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

/** Real part of the transform of a spread that is the same through its middle: SIZE x SIZE. */
function responseOf(spread: Float64Array, r: number): Float64Array {
  const n = 2 * r + 1
  const wave = Array.from({ length: SIZE }, (_, k) => sinCos((2 * Math.PI * k) / SIZE))
  const angle = (f: number, x: number) => wave[(((f * x) % SIZE) + SIZE) % SIZE]
  const out = new Float64Array(SIZE * SIZE)
  // lines first: the transform across of each, complex
  const re = new Float64Array(n * SIZE)
  const im = new Float64Array(n * SIZE)
  for (let y = 0; y < n; y++)
    for (let f = 0; f < SIZE; f++)
      for (let x = 0; x < n; x++) {
        const [s, c] = angle(f, x - r)
        re[y * SIZE + f] += spread[y * n + x] * c
        im[y * SIZE + f] -= spread[y * n + x] * s
      }
  for (let g = 0; g < SIZE; g++)
    for (let f = 0; f < SIZE; f++)
      for (let y = 0; y < n; y++) {
        const [s, c] = angle(g, y - r)
        out[g * SIZE + f] += re[y * SIZE + f] * c + im[y * SIZE + f] * s
      }
  return out
}

/**
 * Taps that undo a blur as far as noise allows (Wiener 1949), for pictures whose detail falls with the frequency:
 * H / (H^2 + noise * f), cut off at r samples under a smooth window, summing to 1.
 * @param noise variance of the noise over that of the picture's detail at the frequency 1/8
 * @param reach half the side of the taps
 */
export function inverseTaps(blur: Blur, noise: number, reach: number): Float32Array {
  const room = Math.min(
    Math.ceil(blur.softness === 'lens' ? 3.5 * blur.radius : blur.radius + 1),
    SIZE / 2 - 1,
  )
  const response = responseOf(spreadOf(blur, room), room)
  const gains = new Float64Array(SIZE * SIZE)
  const frequency = (k: number) => (k < SIZE / 2 ? k : k - SIZE) / SIZE
  for (let g = 0; g < SIZE; g++)
    for (let f = 0; f < SIZE; f++) {
      const h = response[g * SIZE + f]
      const far = Math.sqrt(frequency(f) ** 2 + frequency(g) ** 2) * 8
      gains[g * SIZE + f] = h / (h * h + noise * far)
    }
  const wave = Array.from({ length: SIZE }, (_, k) => sinCos((2 * Math.PI * k) / SIZE)[1])
  const sines = Array.from({ length: SIZE }, (_, k) => sinCos((2 * Math.PI * k) / SIZE)[0])
  const n = 2 * reach + 1
  const taps = new Float64Array(n * n)
  const index = (f: number, x: number) => (((f * x) % SIZE) + SIZE) % SIZE
  // across first, complex, then down; the result is real
  const re = new Float64Array(SIZE * n)
  const im = new Float64Array(SIZE * n)
  for (let g = 0; g < SIZE; g++)
    for (let x = -reach; x <= reach; x++)
      for (let f = 0; f < SIZE; f++) {
        const k = index(f, x)
        re[g * n + x + reach] += gains[g * SIZE + f] * wave[k]
        im[g * n + x + reach] += gains[g * SIZE + f] * sines[k]
      }
  let sum = 0
  for (let y = -reach; y <= reach; y++)
    for (let x = -reach; x <= reach; x++) {
      let v = 0
      for (let g = 0; g < SIZE; g++) {
        const k = index(g, y)
        v += re[g * n + x + reach] * wave[k] - im[g * n + x + reach] * sines[k]
      }
      const out = Math.sqrt(x * x + y * y) / (reach + 1)
      const window = out >= 1 ? 0 : (1 - out * out) ** 2
      const softer = out < 0.5 ? 1 : window / 0.5625
      taps[(y + reach) * n + x + reach] = v * Math.min(softer, 1)
      sum += v * Math.min(softer, 1)
    }
  return Float32Array.from(taps, (v) => v / sum)
}
