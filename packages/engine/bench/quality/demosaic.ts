import { asShotBalance, readDng, readDevelopment, type Triple } from '@dunkelkammer/core'
import type { Engine } from '../../src/node'
import type { Library } from './library'
import type { TrueCrop } from './crops'

/** What is left out at the rim, where every method lacks neighbours. */
const RIM = 12

const encode = (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055)

/** Colour PSNR in dB: one error over all three balanced channels, encoded as for a display. */
export function cpsnr(ours: ArrayLike<number>, crop: TrueCrop, balance: Triple): number {
  let sum = 0
  let n = 0
  const top = Math.max(...balance)
  for (let y = RIM; y < crop.height - RIM; y++)
    for (let x = RIM; x < crop.width - RIM; x++)
      for (let c = 0; c < 3; c++) {
        const i = (y * crop.width + x) * 3 + c
        const k = balance[c] / top
        const clip = (v: number) => Math.min(Math.max(v * k, 0), 1)
        sum += (encode(clip(ours[i])) - encode(clip(crop.truth[i]))) ** 2
        n++
      }
  return -10 * Math.log10(sum / n)
}

export const balanceOf = (crop: TrueCrop): Triple => asShotBalance(readDng(crop.dng).colour)

/** Our demosaic, camera channels with white level 1. */
export async function ours(engine: Engine, crop: TrueCrop, steps: object = {}): Promise<Float32Array> {
  const picture = await engine.open(crop.dng)
  const { width, height } = picture
  const bytes = await picture.deliver({
    development: readDevelopment({ steps }),
    space: 'camera',
    width,
    height,
    bits: 16,
  })
  engine.close(picture)
  return Float32Array.from(new Uint16Array(bytes.buffer), (v) => v / 65535)
}

/** The library always encodes with the curve of ITU-R BT.709; its inverse. */
const decode = (v: number) => (v < 0.081 ? v / 4.5 : ((v + 0.099) / 1.099) ** (1 / 0.45))

/** The library's demosaic of the same file, linear, its own scaling taken out. */
export async function theirs(
  Raw: new () => Library,
  crop: TrueCrop,
  settings: object,
): Promise<Float32Array> {
  const raw = new Raw()
  await raw.open(crop.dng, {
    useCameraWb: true,
    outputColor: 0,
    noAutoBright: true,
    outputBps: 16,
    userFlip: 0,
    ...settings,
  })
  const image = await raw.imageData()
  raw.delete?.()
  const data =
    image.bits === 16 && !(image.data instanceof Uint16Array)
      ? new Uint16Array(image.data.buffer, image.data.byteOffset, image.data.byteLength / 2)
      : image.data
  if (image.width !== crop.width || image.height !== crop.height) throw new Error('another size')
  const out = Float32Array.from(data as ArrayLike<number>, (v) => decode(v / 65535))
  for (let c = 0; c < 3; c++) {
    let dot = 0
    let square = 0
    for (let i = c; i < out.length; i += 3) {
      dot += out[i] * crop.truth[i]
      square += out[i] * out[i]
    }
    for (let i = c; i < out.length; i += 3) out[i] *= dot / square
  }
  return out
}

/** Bilinear interpolation of a mosaic sampled from the truth. */
export function bilinear(crop: TrueCrop): Float32Array {
  const { size, colours } = readDng(crop.dng).pattern
  const colour = (x: number, y: number) => colours[(y % size) * size + (x % size)]
  // the sensor's own steps belong to what every method is given
  const step = 1 / (15800 - 512)
  const stored = crop.truth.map((v) => Math.round(v / step) * step)
  const out = new Float32Array(crop.truth.length)
  const reach = size === 2 ? 1 : 2
  for (let y = 0; y < crop.height; y++)
    for (let x = 0; x < crop.width; x++)
      for (let c = 0; c < 3; c++) {
        let sum = 0
        let weight = 0
        for (let j = -reach; j <= reach; j++)
          for (let i = -reach; i <= reach; i++) {
            const sx = x + i
            const sy = y + j
            if (sx < 0 || sy < 0 || sx >= crop.width || sy >= crop.height || colour(sx, sy) !== c) continue
            const w = (reach + 1 - Math.abs(i)) * (reach + 1 - Math.abs(j))
            sum += w * stored[(sy * crop.width + sx) * 3 + c]
            weight += w
          }
        const i = (y * crop.width + x) * 3 + c
        out[i] = colour(x, y) === c ? stored[i] : sum / weight
      }
  return out
}
