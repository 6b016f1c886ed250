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
const ROUNDS = 10
const FINE = 9

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

/** Richardson 1972, the spread known. */
function restored(soft: Finished, weights: readonly number[], reach: number): Finished {
  let now = soft
  for (let k = 0; k < ROUNDS; k++) {
    const again = blurred(now, weights, reach)
    const ratio = { ...soft, rgb: soft.rgb.map((v, i) => v / Math.max(again.rgb[i], 1e-6)) }
    const back = blurred(ratio, weights, reach)
    now = { ...soft, rgb: now.rgb.map((v, i) => v * back.rgb[i]) }
  }
  return now
}

/** Sharpening in delivered files, of pictures blurred by a known spread, beside a filter that knows it. */
export async function sharpenTable(engine: Engine): Promise<string[]> {
  const crops = await sharpCrops(engine, SIZE)
  const rows: string[] = []
  for (const [name, spread, reach, sharpen] of BLURS) {
    const weights = weightsOf(spread, reach)
    const sums = [0, 0, 0, 0]
    for (const truth of crops) {
      const soft = blurred(truth, weights, reach)
      const ours = await throughFile(engine, soft, { sharpen: { amount: 1, ...sharpen } })
      const all = [
        closeness(soft, truth),
        closeness(restored(soft, weights, reach), truth),
        closeness(ours, truth),
        100 * overshoot(ours, truth),
      ]
      all.forEach((v, k) => (sums[k] += v / crops.length))
    }
    rows.push(`| ${name} | ${sums.map((v, k) => v.toFixed(k === 3 ? 1 : 2)).join(' | ')} |`)
  }
  return [
    '\n| sharpening, means, PSNR in dB | soft | Richardson, spread known | ours | overshoot, 99th percentile, % |',
    '|---|--:|--:|--:|--:|',
    ...rows,
  ]
}
