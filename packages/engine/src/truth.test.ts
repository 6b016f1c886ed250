import { apply, ciede2000, invert, toLab, working, type Triple } from '@dunkelkammer/core'
import {
  BLUR_MARGIN,
  cameraFile,
  demoFrames,
  filterAt,
  hash,
  mosaicOf,
  noiseOf,
  photographCrop,
  plainLight,
  response,
  veldrom,
  type CameraModel,
} from '@dunkelkammer/demo'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { demoBytes, settings, testEngine, whole } from '../test/engines'
import type { Engine, Picture } from './index'

let engine: Engine
beforeAll(() => {
  engine = testEngine({ workers: 2 })
})
afterAll(() => engine.stop())

const linear16 = async (picture: Picture, space: 'linear-rec2020' | 'camera', part: object = {}) => {
  const bytes = await picture.deliver({
    development: settings(part),
    space,
    width: picture.width,
    height: picture.height,
    bits: 16,
  })
  return new Uint16Array(bytes.buffer)
}

const LAMPS: [string, Triple][] = [
  ['daylight', [1, 1, 1]],
  ['a warm lamp', [1.9, 1, 0.32]],
  ['deep shade', [0.72, 1, 1.55]],
  ['a greenish tube', [0.85, 1.25, 0.8]],
]

const SIZE = 192
const PATCH = 32
/** Colours of things under white light, a grey one first. */
const PATCHES: Triple[] = Array.from({ length: 36 }, (_, i) =>
  i % 6 === 0
    ? ([0.1, 0.1, 0.1].map((v) => v * (1 + i / 10)) as unknown as Triple)
    : ([0, 1, 2].map((c) => 0.08 + 0.5 * hash(i, c, 5)) as unknown as Triple),
)

/** A wall of patches lit by a lamp, photographed. */
function wall(light: Triple, taken: Triple, camera: CameraModel = veldrom, noise = true) {
  const wide = SIZE + 2 * BLUR_MARGIN
  const radiance = new Float32Array(wide * wide * 3)
  for (let y = 0; y < wide; y++)
    for (let x = 0; x < wide; x++) {
      const column = Math.min(Math.max(Math.floor((x - BLUR_MARGIN) / PATCH), 0), 5)
      const row = Math.min(Math.max(Math.floor((y - BLUR_MARGIN) / PATCH), 0), 5)
      for (let c = 0; c < 3; c++) radiance[(y * wide + x) * 3 + c] = PATCHES[row * 6 + column][c] * light[c]
    }
  const shot = { iso: 100, exposure: 0.4, seed: 3, noise }
  const crop = { x: 0, y: 0, width: SIZE, height: SIZE }
  const mosaic = mosaicOf(camera, shot, plainLight(radiance, SIZE, SIZE), crop)
  return cameraFile(camera, crop, mosaic, taken, {
    noise: noiseOf(camera, shot),
    compression: 'lossless-jpeg',
    tile: 96,
  })
}

const patchMean = (values: Uint16Array, i: number): Triple => {
  const x0 = (i % 6) * PATCH + 8
  const y0 = Math.floor(i / 6) * PATCH + 8
  const sum = [0, 0, 0]
  for (let y = 0; y < 16; y++)
    for (let x = 0; x < 16; x++)
      for (let c = 0; c < 3; c++) sum[c] += values[((y0 + y) * SIZE + x0 + x) * 3 + c] / 65535
  return sum.map((v) => v / 256) as unknown as Triple
}

describe('colour against the scene', () => {
  it('gives the scene back, exposure and all, where the light was taken for what it is', async () => {
    const picture = await engine.open(wall([1, 1, 1], [1, 1, 1]))
    const values = await linear16(picture, 'linear-rec2020')
    // the green of white was exposed to 0.4
    const errors = PATCHES.map((patch, i) => {
      const ours = patchMean(values, i).map((v) => v / 0.4) as unknown as Triple
      return ciede2000(toLab(working, ours), toLab(working, patch))
    })
    // the sensor's curves are not the eye's: no matrix gives all colours back exactly
    expect(errors.reduce((s, e) => s + e, 0) / errors.length).toBeLessThan(1.6)
    expect(Math.max(...errors)).toBeLessThan(5)
    engine.close(picture)
  })

  it.each(LAMPS)(
    'makes a picked grey neutral within half a unit of a* and b* under %s',
    async (_name, light) => {
      const picture = await engine.open(wall(light, [1, 1, 1]))
      for (const i of [0, 6, 18, 30]) {
        const at = { x: ((i % 6) * PATCH + 16) / SIZE, y: (Math.floor(i / 6) * PATCH + 16) / SIZE }
        const sample = await picture.ask('sample', settings(), at.x, at.y, 7)
        const neutral = sample.map((v) => v / Math.max(...sample))
        const values = await linear16(picture, 'linear-rec2020', {
          steps: { cameraColour: { source: 'sample', neutral } },
        })
        const [, a, b] = toLab(working, patchMean(values, i))
        expect(Math.abs(a)).toBeLessThan(0.5)
        expect(Math.abs(b)).toBeLessThan(0.5)
      }
      engine.close(picture)
    },
  )

  it('takes the as-shot scaling back out of the camera channels', async () => {
    const picture = await engine.open(wall([1, 1, 1], [1.9, 1, 0.32], { ...veldrom, greenLeak: 0 }, false))
    const values = await linear16(picture, 'camera')
    const m = response(veldrom)
    PATCHES.forEach((patch, i) => {
      const truth = apply(m, patch).map((v) => v * 0.4)
      patchMean(values, i).forEach((v, c) =>
        expect(Math.abs(v - truth[c])).toBeLessThan(0.002 + truth[c] * 0.004),
      )
    })
    engine.close(picture)
  })

  it('shows what all channels clip as white at any white balance, rebuilt or not', async () => {
    const picture = await engine.open(wall([30, 30, 30], [1, 1, 1]))
    for (const kelvin of [4000, 6500, 9000]) {
      const view = await picture.view({
        development: settings({ steps: { cameraColour: { source: 'kelvin', kelvin } } }),
        ...whole(picture),
      })
      const at = ((5 * PATCH + 16) * SIZE + 16) * 4
      const rgb = [...view.rgba.slice(at, at + 3)]
      expect(Math.min(...rgb)).toBeGreaterThan(252)
    }
    const plain = await linear16(picture, 'linear-rec2020', { steps: { highlights: { rebuild: 0 } } })
    const [r, g, b] = patchMean(plain, 30)
    expect(Math.max(r, g, b) / Math.min(r, g, b)).toBeLessThan(1.002)
    engine.close(picture)
  })
})

describe('the demo frame', () => {
  const frame = demoFrames[0]
  const crop = { x: 1500, y: 480, width: 96, height: 64 }

  it('holds what the generator says of any crop', async () => {
    const { light } = photographCrop(frame, crop)
    const picture = await engine.open(demoBytes())
    const values = await linear16(picture, 'camera', { steps: { defects: { mend: true } } })
    const m = response(veldrom)
    let error = 0
    let n = 0
    for (let y = 8; y < crop.height - 8; y++)
      for (let x = 8; x < crop.width - 8; x++) {
        const o = (y * crop.width + x) * 3
        const truth = apply(m, [light[o], light[o + 1], light[o + 2]]).map((v) =>
          Math.min(v * frame.exposure, 1),
        )
        for (let c = 0; c < 3; c++) {
          const ours = values[((crop.y + y) * picture.width + crop.x + x) * 3 + c] / 65535
          error += (ours - truth[c]) ** 2
          n++
        }
      }
    // the sensor's own noise at this brightness is about 43 dB
    expect(-10 * Math.log10(error / n)).toBeGreaterThan(36)
    engine.close(picture)
  })

  it('has noise of the strength that its file states', () => {
    const camera = { ...veldrom, hot: 0, dead: 0, rowNoise: 0 }
    const n = 128
    const flat = new Float32Array(n * n * 3).fill(0.5)
    const shot = { iso: 800, exposure: 0.5, seed: 12 }
    const noisy = mosaicOf(camera, shot, flat, { x: 0, y: 0, width: n, height: n })
    const clean = mosaicOf(camera, { ...shot, noise: false }, flat, { x: 0, y: 0, width: n, height: n })
    const { a, b } = noiseOf(camera, shot)
    const span = camera.white - camera.black
    for (const c of [0, 1, 2]) {
      const diffs: number[] = []
      let signal = 0
      for (let y = 0; y < n; y++)
        for (let x = 0; x < n; x++)
          if (filterAt(x, y) === c) {
            diffs.push((noisy[y * n + x] - clean[y * n + x]) / span)
            signal = (clean[y * n + x] - camera.black) / span
          }
      const variance = diffs.reduce((s, d) => s + d * d, 0) / diffs.length
      expect(variance / (a * signal + b)).toBeGreaterThan(0.93)
      expect(variance / (a * signal + b)).toBeLessThan(1.07)
    }
    expect(apply(invert(response(camera)), apply(response(camera), [0.2, 0.4, 0.6]))[2]).toBeCloseTo(0.6, 9)
  })

  it('spans more than seven stops from its deep shade to its sky, hardly any of it clipped', async () => {
    const picture = await engine.open(demoBytes())
    expect(picture.frame.preview).toMatchObject({ width: 1128, height: 752 })
    const view = await picture.view({ development: settings(), ...whole(picture) })
    const values = await linear16(picture, 'linear-rec2020')
    const greens = values.filter((_, i) => i % 3 === 1).sort()
    const range = Math.log2(
      greens[Math.floor(greens.length * 0.995)] / Math.max(greens[Math.floor(greens.length * 0.02)], 1),
    )
    expect(range).toBeGreaterThan(7)
    expect(view.clipped.reduce((s, v) => s + v, 0) / (picture.width * picture.height)).toBeLessThan(0.01)
    engine.close(picture)
  })
})
