import { apply, type Triple } from '@dunkelkammer/core'
import {
  cameraFile,
  demoFrames,
  levelsOf,
  mosaicOf,
  plainLight,
  renderCrop,
  response,
  veldrom,
  type CameraModel,
} from '@dunkelkammer/demo'

/** A mosaic whose truth is known at every place. */
export interface TrueCrop {
  name: string
  width: number
  height: number
  dng: Uint8Array
  /** Interleaved camera channels, white level 1, not balanced. */
  truth: Float32Array
}

/** Without what has nothing to do with demosaicing. */
export const plainCamera: CameraModel = { ...veldrom, greenLeak: 0, dust: 0, hot: 0, dead: 0 }

/** A pattern of 6 x 6. */
export const SIX = [
  ...[1, 1, 0, 1, 1, 2, 1, 1, 2, 1, 1, 0, 2, 0, 1, 0, 2, 1],
  ...[1, 1, 2, 1, 1, 0, 1, 1, 0, 1, 1, 2, 0, 2, 1, 2, 0, 1],
]

const WHITE: Triple = [1, 1, 1]

/** Photographs interleaved radiance (two pixels wider on every side) without noise. */
export function photograph(
  name: string,
  width: number,
  height: number,
  rgb: Float32Array,
  pattern: readonly number[] = [0, 1, 1, 2],
): TrueCrop {
  const crop = { x: 0, y: 0, width, height }
  const light = plainLight(rgb, width, height)
  const m = response(plainCamera)
  // well exposed, and nothing clips: rebuilding highlights is judged elsewhere
  let top = 0
  for (let i = 0; i < light.length; i += 3)
    top = Math.max(top, ...apply(m, [light[i], light[i + 1], light[i + 2]]))
  const exposure = 0.9 / top
  const truth = new Float32Array(light.length)
  for (let i = 0; i < light.length; i += 3)
    apply(m, [light[i], light[i + 1], light[i + 2]]).forEach(
      (v, c) => (truth[i + c] = Math.min(v * exposure, 1)),
    )
  const { black, white } = levelsOf(plainCamera, {})
  const size = Math.sqrt(pattern.length)
  const mosaic =
    pattern.join('') === '0112'
      ? mosaicOf(plainCamera, { iso: 100, exposure, seed: 1, noise: false }, light, crop)
      : Uint16Array.from({ length: width * height }, (_, i) => {
          const c = pattern[(Math.floor(i / width) % size) * size + ((i % width) % size)]
          return Math.round(black + truth[i * 3 + c] * (white - black))
        })
  const dng = cameraFile(plainCamera, crop, mosaic, WHITE, { pattern })
  return { name, width, height, dng, truth }
}

const PLACES: readonly [scene: number, x: number, y: number][] = [
  [0, 1480, 480],
  [0, 300, 640],
  [0, 1000, 1150],
  [1, 820, 520],
  [1, 1700, 680],
  [1, 1250, 330],
  [2, 880, 720],
  [2, 1700, 560],
  [2, 380, 480],
]

const W = 224
const H = 160

/** Crops of the demo scenes, and a zone plate. */
export function trueCrops(pattern?: readonly number[]): TrueCrop[] {
  const scenes = PLACES.map(([index, x, y]) => {
    const { scene, width, height } = demoFrames[index]
    const part = { x: x - 2, y: y - 2, width: W + 4, height: H + 4 }
    const rgb = renderCrop(scene, width, height, part)
    return photograph(`${scene.title}, ${x} ${y}`, W, H, rgb, pattern)
  })
  return [...scenes, zonePlate(pattern)]
}

/** Rings that grow finer up to the limit of the sensor, neutral. */
export function zonePlate(pattern?: readonly number[]): TrueCrop {
  const n = 256
  const rgb = new Float32Array((n + 4) ** 2 * 3)
  const fine = 4
  for (let y = 0; y < n + 4; y++)
    for (let x = 0; x < n + 4; x++) {
      let sum = 0
      for (let j = 0; j < fine; j++)
        for (let i = 0; i < fine; i++) {
          const u = x - 2 + (i + 0.5) / fine - n / 2
          const v = y - 2 + (j + 0.5) / fine - n / 2
          sum += 0.5 + 0.45 * Math.cos((Math.PI * (u * u + v * v)) / n)
        }
      rgb.fill(sum / fine / fine, (y * (n + 4) + x) * 3, (y * (n + 4) + x) * 3 + 3)
    }
  return photograph('zone plate', n, n, rgb, pattern)
}
