import { ciede2000, readDevelopment, toLab, working, type Triple } from '@dunkelkammer/core'
import { demoFrames, fbm2, renderCrop } from '@dunkelkammer/demo'
import type { Engine, Picture } from '../../src/node'
import { clearByDarkChannel } from './darkChannel'
import { photographClipped } from './highlights'
import type { Photograph } from './photographs'

/** Light of the air of each kind of haze, and how thick it lies at the far end. */
const HAZES: readonly [air: Triple, thickness: number][] = [
  [[0.72, 0.74, 0.76], 1.2],
  [[0.6, 0.7, 0.82], 2],
  [[0.85, 0.76, 0.66], 1.6],
]
const LIGHT = 0.55

/** Share of light that comes through, by hills that stand one behind the other and a ground that runs away. */
function transmission(x: number, y: number, h: number, thickness: number): number {
  const ragged = 0.08 * fbm2(x * 0.06, 3, 3, 9)
  const up = 1 - y / h + ragged
  const layer = Math.min(Math.floor(up * 5), 4) / 4
  const ground = Math.min(Math.max(up, 0), 1)
  return Math.exp(-thickness * (0.08 + 0.6 * layer + 0.4 * ground))
}

/** Interleaved linear light, two pixels wider on every side, so that nothing clips. */
interface Clear {
  name: string
  w: number
  h: number
  rgb: Float32Array
}

const scenes = (): Photograph[] =>
  [2, 0, 3].map((i) => {
    const { scene } = demoFrames[i]
    const size = { width: 300, height: 200 }
    return { name: scene.title, ...size, rgb: renderCrop(scene, 300, 200, { x: 0, y: 0, ...size }) }
  })

function exposed({ name, width, height, rgb }: Photograph): Clear {
  const tops = Float32Array.from({ length: rgb.length / 3 }, (_, i) =>
    Math.max(rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2]),
  ).sort()
  const k = 0.8 / tops[Math.floor(tops.length * 0.98)]
  const [w, h] = [(width - 4) & ~1, (height - 4) & ~1]
  const part = new Float32Array((w + 4) * (h + 4) * 3)
  for (let y = 0; y < h + 4; y++)
    for (let i = 0; i < (w + 4) * 3; i++)
      part[y * (w + 4) * 3 + i] = Math.min(rgb[y * width * 3 + i] * k, 0.95)
  return { name, w, h, rgb: part }
}

async function open(engine: Engine, { name, w, h }: Clear, rgb: Float32Array): Promise<Picture> {
  return engine.open(photographClipped(name, rgb, LIGHT, [1, 1, 1], w, h).dng)
}

async function delivered(picture: Picture, w: number, h: number, strength: number): Promise<Float32Array> {
  const development = readDevelopment({ steps: { haze: { strength } } })
  const bytes = await picture.deliver({ development, space: 'linear-rec2020', bits: 16, width: w, height: h })
  return Float32Array.from(new Uint16Array(bytes.buffer), (v) => v / 65535)
}

function difference(a: Float32Array, b: Float32Array, w: number, h: number): number {
  let sum = 0
  let n = 0
  const lab = (v: Float32Array, i: number) =>
    toLab(working, [0, 1, 2].map((c) => Math.min(Math.max(v[i + c] / LIGHT, 0), 1)) as unknown as Triple)
  for (let y = 4; y < h - 4; y += 2)
    for (let x = 4; x < w - 4; x += 2) {
      const i = (y * w + x) * 3
      sum += ciede2000(lab(a, i), lab(b, i))
      n++
    }
  return sum / n
}

/** Haze that was laid over pictures, taken away again; and pictures that have none. */
export async function hazeTable(engine: Engine, others: readonly Photograph[] = []): Promise<string[]> {
  const rows: string[] = []
  const all: number[][] = []
  for (const picture of [...scenes(), ...others]) {
    const clear = exposed(picture)
    const { w, h } = clear
    const opened = await open(engine, clear, clear.rgb)
    const truth = await delivered(opened, w, h, 0)
    const unasked = difference(await delivered(opened, w, h, 1), truth, w, h)
    engine.close(opened)
    const sums = [0, 0, 0]
    for (const [air, thickness] of HAZES) {
      const rgb = clear.rgb.slice()
      for (let y = 0; y < h + 4; y++)
        for (let x = 0; x < w + 4; x++) {
          const t = transmission(x, y, h, thickness)
          for (let c = 0; c < 3; c++) {
            const i = (y * (w + 4) + x) * 3 + c
            rgb[i] = rgb[i] * t + air[c] * (1 - t)
          }
        }
      const hazy = await open(engine, clear, rgb)
      const plain = await delivered(hazy, w, h, 0)
      sums[0] += difference(plain, truth, w, h) / HAZES.length
      sums[1] += difference(clearByDarkChannel(plain, w, h), truth, w, h) / HAZES.length
      sums[2] += difference(await delivered(hazy, w, h, 1), truth, w, h) / HAZES.length
      engine.close(hazy)
    }
    all.push([...sums, unasked])
    rows.push(`| ${picture.name} | ${[...sums, unasked].map((v) => v.toFixed(1)).join(' | ')} |`)
  }
  const means = [0, 1, 2, 3].map((k) => (all.reduce((s, r) => s + r[k], 0) / all.length).toFixed(1))
  return [
    '\n| haze, mean CIEDE2000 | as it was | dark channel | ours | change without haze |',
    '|---|--:|--:|--:|--:|',
    ...rows,
    `| mean | ${means.join(' | ')} |`,
  ]
}
