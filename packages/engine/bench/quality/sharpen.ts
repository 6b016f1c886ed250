import type { Engine } from '../../src/node'
import { closeness, overshoot, sharpCrops, throughFile, type Finished } from './finished'

type Spread = (x: number, y: number) => number

const bell =
  (sigma: number): Spread =>
  (x, y) =>
    Math.exp(-(x * x + y * y) / (2 * sigma * sigma))
const disc =
  (radius: number): Spread =>
  (x, y) =>
    x * x + y * y <= radius * radius ? 1 : 0

const BLURS: readonly [name: string, spread: Spread, reach: number, sharpen: object][] = [
  ['bell of 1 px', bell(1), 4, { radius: 1 }],
  ['bell of 1.5 px', bell(1.5), 6, { radius: 1.5 }],
  ['disc of 2 px', disc(2), 3, { softness: 'focus', radius: 2 }],
]
const SIZE = 160
/** Rounds of Richardson's that do best on these, and the noise to signal that does best for Wiener's. */
const ROUNDS = [10, 30]
const NOISES = [1e-2, 1e-3, 1e-4]
/** Side of the square in which Wiener's filter works, the picture mirrored around it. */
const ROOM = 256
const FINE = 9
/** Variance of noise: a times the light and b. */
const NOISE = { a: 2e-5, b: 1e-7 }

/** Weights of a spread over pixels, their sum 1. */
function weightsOf(spread: Spread, reach: number): number[] {
  const out: number[] = []
  for (let y = -reach; y <= reach; y++)
    for (let x = -reach; x <= reach; x++) {
      let sum = 0
      for (let b = 0; b < FINE; b++)
        for (let a = 0; a < FINE; a++) sum += spread(x + (a + 0.5) / FINE - 0.5, y + (b + 0.5) / FINE - 0.5)
      out.push(sum)
    }
  const all = out.reduce((s, v) => s + v, 0)
  return out.map((v) => v / all)
}

function blurred(
  { width: w, height: h, rgb }: Finished,
  weights: readonly number[],
  reach: number,
): Finished {
  const out = new Float32Array(rgb.length)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let k = 0
      for (let j = -reach; j <= reach; j++)
        for (let i = -reach; i <= reach; i++) {
          const from = (Math.min(Math.max(y + j, 0), h - 1) * w + Math.min(Math.max(x + i, 0), w - 1)) * 3
          const weight = weights[k++]
          for (let c = 0; c < 3; c++) out[(y * w + x) * 3 + c] += weight * rgb[from + c]
        }
    }
  return { width: w, height: h, rgb: out }
}

/** With the noise of a low sensitivity: without any, a filter that knows the spread gives back everything. */
function grainy(picture: Finished): Finished {
  let state = 7
  const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32
  const bell = () => (next() + next() + next() - 1.5) * 2
  return {
    ...picture,
    rgb: picture.rgb.map((v) => Math.max(v + bell() * Math.sqrt(NOISE.a * v + NOISE.b), 0)),
  }
}

/** Richardson 1972, the spread known. */
function restored(soft: Finished, weights: readonly number[], reach: number, rounds: number): Finished {
  let now = soft
  for (let k = 0; k < rounds; k++) {
    const again = blurred(now, weights, reach)
    const ratio = { ...soft, rgb: soft.rgb.map((v, i) => v / Math.max(again.rgb[i], 1e-6)) }
    const back = blurred(ratio, weights, reach)
    now = { ...soft, rgb: now.rgb.map((v, i) => v * back.rgb[i]) }
  }
  return now
}

/** Fourier transform in place of lines of ROOM complex numbers, `step` apart (Cooley and Tukey 1965). */
function transform(re: Float64Array, im: Float64Array, first: number, step: number, back: boolean): void {
  const at = (i: number) => first + i * step
  for (let i = 1, j = 0; i < ROOM; i++) {
    let bit = ROOM >> 1
    for (; j & bit; bit >>= 1) j ^= bit
    j ^= bit
    if (i < j) {
      ;[re[at(i)], re[at(j)]] = [re[at(j)], re[at(i)]]
      ;[im[at(i)], im[at(j)]] = [im[at(j)], im[at(i)]]
    }
  }
  for (let size = 2; size <= ROOM; size *= 2)
    for (let k = 0; k < size / 2; k++) {
      const turn = ((back ? 2 : -2) * Math.PI * k) / size
      const [c, s] = [Math.cos(turn), Math.sin(turn)]
      for (let i = k; i < ROOM; i += size) {
        const [a, b] = [at(i), at(i + size / 2)]
        const [x, y] = [re[b] * c - im[b] * s, re[b] * s + im[b] * c]
        ;[re[b], im[b]] = [re[a] - x, im[a] - y]
        ;[re[a], im[a]] = [re[a] + x, im[a] + y]
      }
    }
}

function transform2(re: Float64Array, im: Float64Array, back = false): void {
  for (let i = 0; i < ROOM; i++) transform(re, im, i * ROOM, 1, back)
  for (let i = 0; i < ROOM; i++) transform(re, im, i, ROOM, back)
}

/** Wiener 1949 on each channel, the spread known, by its transform. */
function wiener(soft: Finished, weights: readonly number[], reach: number, noise: number): Finished {
  const { width: w, height: h, rgb } = soft
  const zeros = () => new Float64Array(ROOM * ROOM)
  const [hr, hi] = [zeros(), zeros()]
  const n = 2 * reach + 1
  const wrap = (i: number) => (i + ROOM) % ROOM
  weights.forEach((v, k) => (hr[wrap(Math.floor(k / n) - reach) * ROOM + wrap((k % n) - reach)] += v))
  transform2(hr, hi)
  const inside = (i: number, size: number) => {
    const far = wrap(i) < (size + ROOM) / 2 ? wrap(i) : wrap(i) - ROOM
    return far < 0 ? -1 - far : far >= size ? 2 * size - 1 - far : far
  }
  const out = new Float32Array(rgb.length)
  for (let c = 0; c < 3; c++) {
    const [re, im] = [zeros(), zeros()]
    for (let y = 0; y < ROOM; y++)
      for (let x = 0; x < ROOM; x++) re[y * ROOM + x] = rgb[(inside(y, h) * w + inside(x, w)) * 3 + c]
    transform2(re, im)
    for (let i = 0; i < re.length; i++) {
      // spreads are the same through their middle: real
      const gain = hr[i] / (hr[i] * hr[i] + noise)
      re[i] *= gain
      im[i] *= gain
    }
    transform2(re, im, true)
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) out[(y * w + x) * 3 + c] = re[y * ROOM + x] / ROOM ** 2
  }
  return { ...soft, rgb: out }
}

/** Sharpening in delivered files, of pictures blurred by a known spread, beside a filter that knows it. */
export async function sharpenTable(engine: Engine): Promise<string[]> {
  const crops = await sharpCrops(engine, SIZE)
  const rows: string[] = []
  for (const [name, spread, reach, sharpen] of BLURS) {
    const weights = weightsOf(spread, reach)
    const sums: number[] = []
    for (const truth of crops) {
      const soft = grainy(blurred(truth, weights, reach))
      const ours = await throughFile(engine, soft, { sharpen: { amount: 1, ...sharpen } })
      const all = [
        closeness(soft, truth),
        ...NOISES.map((noise) => closeness(wiener(soft, weights, reach, noise), truth)),
        ...ROUNDS.map((rounds) => closeness(restored(soft, weights, reach, rounds), truth)),
        closeness(ours, truth),
        100 * overshoot(ours, truth),
      ]
      all.forEach((v, k) => (sums[k] = (sums[k] ?? 0) + v / crops.length))
    }
    const best = (from: number, count: number) => Math.max(...sums.slice(from, from + count))
    const cells = [sums[0], best(1, NOISES.length), best(1 + NOISES.length, ROUNDS.length), sums.at(-2)!]
    rows.push(`| ${name} | ${cells.map((v) => v.toFixed(2)).join(' | ')} | ${sums.at(-1)!.toFixed(1)} |`)
  }
  return [
    '\n| sharpening, means, PSNR in dB | soft | Wiener, spread known | Richardson, spread known | ours | overshoot, 99th percentile, % |',
    '|---|--:|--:|--:|--:|--:|',
    ...rows,
  ]
}
