import type { Engine } from '../../src/node'
import { closeness, overshoot, sharpCrops, throughFile, type Finished } from './finished'

const FACTOR = 2
const SIZE = 256
const ROUNDS = 10

/** Keys 1981. */
function cubic(x: number): number {
  const t = Math.abs(x)
  if (t < 1) return 1.5 * t ** 3 - 2.5 * t * t + 1
  return t < 2 ? -0.5 * t ** 3 + 2.5 * t * t - 4 * t + 2 : 0
}

/** A sinc held by the middle lobe of another, three lobes wide (Duchon 1979). */
function sinc3(x: number): number {
  if (x === 0) return 1
  const p = Math.PI * x
  return Math.abs(x) < 3 ? (3 * Math.sin(p) * Math.sin(p / 3)) / (p * p) : 0
}

/** Means of 2 x 2. */
function shrunk({ width, height, rgb }: Finished): Finished {
  const [w, h] = [width / FACTOR, height / FACTOR]
  const out = new Float32Array(w * h * 3)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 3; c++)
        out[((y >> 1) * w + (x >> 1)) * 3 + c] += rgb[(y * width + x) * 3 + c] / FACTOR ** 2
  return { width: w, height: h, rgb: out }
}

function enlarged({ width, height, rgb }: Finished, kernel: (x: number) => number, reach: number): Finished {
  const along = (
    src: Float32Array,
    n: number,
    lines: number,
    at: (line: number, i: number, many: number) => number,
  ) => {
    const out = new Float32Array(src.length * FACTOR)
    for (let l = 0; l < lines; l++)
      for (let i = 0; i < n * FACTOR; i++) {
        const place = (i + 0.5) / FACTOR - 0.5
        const first = Math.floor(place) - reach + 1
        for (let c = 0; c < 3; c++) {
          let [sum, all] = [0, 0]
          for (let k = first; k < first + 2 * reach; k++) {
            const weight = kernel(place - k)
            sum += weight * src[at(l, Math.min(Math.max(k, 0), n - 1), n) * 3 + c]
            all += weight
          }
          out[at(l, i, n * FACTOR) * 3 + c] = sum / all
        }
      }
    return out
  }
  const wide = along(rgb, width, height, (line, i, many) => line * many + i)
  const across = width * FACTOR
  return {
    width: across,
    height: height * FACTOR,
    rgb: along(wide, height, across, (line, i) => i * across + line),
  }
}

/** Back-projection (Irani and Peleg 1991): the enlarged picture, made small again, is the small one. */
function backProjected(small: Finished): Finished {
  const out = enlarged(small, sinc3, 3)
  for (let k = 0; k < ROUNDS; k++) {
    const again = shrunk(out)
    const missing = { ...small, rgb: small.rgb.map((v, i) => v - again.rgb[i]) }
    const more = enlarged(missing, cubic, 2)
    for (let i = 0; i < out.rgb.length; i++) out.rgb[i] += more.rgb[i]
  }
  return out
}

/** Enlargement by 2 in delivered files, beside general ways. */
export async function enlargeTable(engine: Engine): Promise<string[]> {
  const ways: readonly [name: string, make: (small: Finished) => Finished | Promise<Finished>][] = [
    ['cubic', (s) => enlarged(s, cubic, 2)],
    ['sinc', (s) => enlarged(s, sinc3, 3)],
    ['back-projection', backProjected],
    ['ours', (s) => throughFile(engine, s, { enlarge: { factor: FACTOR } })],
  ]
  const crops = await sharpCrops(engine, SIZE)
  const rows: string[] = []
  for (const [name, make] of ways) {
    let [near, over] = [0, 0]
    for (const truth of crops) {
      const made = await make(shrunk(truth))
      near += closeness(made, truth) / crops.length
      over += overshoot(made, truth) / crops.length
    }
    rows.push(`| ${name} | ${near.toFixed(2)} | ${(100 * over).toFixed(1)} |`)
  }
  return [
    '\n| enlargement by 2, means | PSNR in dB | overshoot, 99th percentile, % |',
    '|---|--:|--:|',
    ...rows,
  ]
}
