import { decode, encode, readDevelopment, srgb } from '@dunkelkammer/core'
import { decode as readPng, encode as writePng } from 'fast-png'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { delivered } from '../../test/delivered'
import { adapt, nodeCodecs, projectRoot, type Engine } from '../../src/node'

/** A finished picture: interleaved linear sRGB. */
export interface Finished {
  width: number
  height: number
  rgb: Float32Array
}

const fromByte = (v: number, most: number) => decode(srgb.curve, v / most)
const display = (v: number) => encode(srgb.curve, Math.min(Math.max(v, 0), 1))

/** Parts of the demo's frames at half their size, clean and sharp: things whose finer drawing is known. */
export async function sharpCrops(engine: Engine, size: number): Promise<Finished[]> {
  const crops: Finished[] = []
  for (const [name, x, y] of PLACES) {
    const file = join(projectRoot(), 'packages/demo/frames', `${name}.dng`)
    const picture = await engine.open(new Uint8Array(readFileSync(file)))
    const [width, height] = [picture.width >> 1, picture.height >> 1]
    const development = readDevelopment({ steps: { noise: { mode: 'automatic' } } })
    const bytes = await picture.deliver({ development, space: 'srgb', bits: 16, width, height })
    engine.close(picture)
    const values = new Uint16Array(bytes.buffer)
    const [left, top] = [Math.min(x, width - size), Math.min(y, height - size)]
    const rgb = new Float32Array(size * size * 3)
    for (let j = 0; j < size; j++)
      for (let i = 0; i < size * 3; i++)
        rgb[j * size * 3 + i] = fromByte(values[((top + j) * width + left) * 3 + i], 65535)
    crops.push({ width: size, height: size, rgb })
  }
  return crops
}

const PLACES: readonly [name: string, x: number, y: number][] = [
  ['HM0417', 500, 300],
  ['HM0417', 150, 420],
  ['HM0466', 300, 250],
  ['HM0466', 750, 300],
  ['HM0431', 500, 250],
  ['HM0488', 100, 300],
  ['HM0502', 250, 150],
]

/** A picture as a file, developed by some steps and delivered as a file again. */
export async function throughFile(engine: Engine, picture: Finished, steps: object): Promise<Finished> {
  const { width, height, rgb } = picture
  const data = Uint16Array.from(rgb, (v) => Math.round(display(v) * 65535))
  const { dng } = await adapt(writePng({ width, height, data, depth: 16, channels: 3 }), nodeCodecs)
  const opened = await engine.open(dng)
  const delivery = { format: { kind: 'png', bits: 16 } } as const
  const bytes = await delivered(opened, readDevelopment({ steps }), delivery)
  engine.close(opened)
  const read = readPng(bytes)
  return {
    width: read.width,
    height: read.height,
    rgb: Float32Array.from(read.data, (v) => fromByte(v, 65535)),
  }
}

/** PSNR in dB of display values, away from the rim. */
export function closeness(a: Finished, truth: Finished): number {
  const rim = 12
  let sum = 0
  let n = 0
  for (let y = rim; y < truth.height - rim; y++)
    for (let i = (y * truth.width + rim) * 3; i < ((y + 1) * truth.width - rim) * 3; i++) {
      const d = display(a.rgb[i]) - display(truth.rgb[i])
      sum += d * d
      n++
    }
  return -10 * Math.log10(sum / n)
}

/** The 99th percentile of how far a picture lies beyond all that the truth has within two pixels, share of white. */
export function overshoot(a: Finished, truth: Finished): number {
  const { width: w, height: h } = truth
  const beyond: number[] = []
  for (let y = 12; y < h - 12; y++)
    for (let x = 12; x < w - 12; x++) {
      let [low, high] = [1, 0]
      for (let j = -2; j <= 2; j++)
        for (let i = -2; i <= 2; i++) {
          const v = display(truth.rgb[((y + j) * w + x + i) * 3 + 1])
          low = Math.min(low, v)
          high = Math.max(high, v)
        }
      // even places have no edges to be gone beyond
      if (high - low < 0.1) continue
      const v = display(a.rgb[(y * w + x) * 3 + 1])
      beyond.push(Math.max(v - high, low - v, 0))
    }
  return beyond.sort((p, q) => p - q)[Math.floor(beyond.length * 0.99)] ?? 0
}
