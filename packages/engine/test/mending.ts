import type { Patch } from '@dunkelkammer/core'
import { cameraFile, mosaicOf, veldrom, type CameraModel } from '@dunkelkammer/demo'
import { random } from '../../core/test/bench'
import type { Engine, Picture } from '../src/node'
import { settings } from './engines'

const CAMERA: CameraModel = { ...veldrom, greenLeak: 0, dust: 0, hot: 0, dead: 0 }
/** Of a scene where nothing else is said. */
export const SIZE = { width: 480, height: 320 }
export const LONG = 480

export const mending = (patches: readonly Partial<Patch>[], more: object = {}) =>
  settings({ steps: { ...more, patches: { patches } } })

/** Light of all pixels, linear, 16 bits a channel. */
export async function light(picture: Picture, patches: readonly Partial<Patch>[] = [], more: object = {}) {
  const { width, height } = picture
  const bytes = await picture.deliver({
    ...{ development: mending(patches, more), space: 'linear-rec2020', width, height, bits: 16 },
  })
  return new Uint16Array(bytes.buffer)
}

/**
 * Peak signal to noise ratio of light where something lay.
 * @param within by the middles of pixels
 */
export function psnr(
  a: Uint16Array,
  b: Uint16Array,
  within: (x: number, y: number) => boolean,
  { width, height } = SIZE,
): number {
  let sum = 0
  let n = 0
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (!within(x + 0.5, y + 0.5)) continue
      for (let c = 0; c < 3; c++) {
        const i = (y * width + x) * 3 + c
        sum += ((a[i] - b[i]) / 65535) ** 2
        n++
      }
    }
  return 10 * Math.log10(n / sum)
}

/** Light of a scene by place, pixels. */
export type Scene = (x: number, y: number) => number

/** Soft grain of several sizes over a slope, as a lawn has. */
export function lawn(): Scene {
  const next = random(5)
  const waves = Array.from({ length: 40 }, () => {
    const length = 4 + 26 * next()
    const angle = next() * Math.PI
    return { a: Math.cos(angle) / length, b: Math.sin(angle) / length, p: next() * 7 }
  })
  return (x, y) => {
    const grain = waves.reduce((s, w) => s + Math.sin(2 * Math.PI * (w.a * x + w.b * y) + w.p), 0)
    return (0.22 + 0.1 * (y / SIZE.height)) * (1 + 0.06 * grain)
  }
}

export const sky: Scene = (x, y) => 0.5 - 0.25 * (y / SIZE.height) + 0.05 * (x / SIZE.width)

/** A file of a scene, with something dark on it, by the middles of pixels, or without. */
export function sceneFile(
  scene: Scene,
  { size = SIZE, dark }: { size?: typeof SIZE; dark?(x: number, y: number): boolean } = {},
): Uint8Array {
  const { width, height } = size
  const rgb = new Float32Array(width * height * 3)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const v = scene(x, y) * (dark?.(x + 0.5, y + 0.5) ? 0.3 : 1)
      rgb.set([v * 0.9, v, v * 0.8], (y * width + x) * 3)
    }
  const crop = { x: 0, y: 0, ...size }
  return cameraFile(
    CAMERA,
    crop,
    mosaicOf(CAMERA, { iso: 100, exposure: 0.5, seed: 3 }, rgb, crop),
    [1, 1, 1],
  )
}

/** Opens a file for as long as something is done with it. */
export async function withPicture<T>(
  engine: Engine,
  file: Uint8Array,
  how: (picture: Picture) => Promise<T>,
): Promise<T> {
  const picture = await engine.open(file)
  try {
    return await how(picture)
  } finally {
    engine.close(picture)
  }
}
