import { loadKernels, readDng, decodeLosslessJpeg, Scratch } from '@dunkelkammer/core'
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import {
  BLUR_MARGIN,
  boathouse,
  paleSails,
  demoFrames,
  filterAt,
  fbm2,
  hash,
  mosaicOf,
  neutralOf,
  noise2,
  objectMask,
  perfect,
  photographCrop,
  renderCrop,
  response,
  throughLens,
  veldrom,
} from './index'

const frame = demoFrames[0]
const kernelsFile = new URL('../../core/kernels/build/kernels.single.wasm', import.meta.url)

describe('noise', () => {
  it('is evenly spread, smooth, and the same every time', () => {
    const bins = new Array<number>(10).fill(0)
    for (let i = 0; i < 20000; i++) bins[Math.floor(hash(i, i * 7, 3) * 10)]++
    for (const n of bins) expect(Math.abs(n - 2000)).toBeLessThan(250)
    expect(noise2(3, 5, 1)).toBe(hash(3, 5, 1))
    expect(Math.abs(noise2(3.001, 5, 1) - noise2(3, 5, 1))).toBeLessThan(0.001)
    for (let i = 0; i < 200; i++) {
      const v = fbm2(i * 0.37, i * 0.11, 5, 2)
      expect(v).toBeGreaterThanOrEqual(0)
      expect(v).toBeLessThanOrEqual(1)
    }
  })
})

describe('the scene', () => {
  it('gives the same light for any crop that holds a place', () => {
    const large = renderCrop(frame.scene, 600, 400, { x: 380, y: 90, width: 12, height: 8 })
    const small = renderCrop(frame.scene, 600, 400, { x: 385, y: 93, width: 4, height: 3 })
    for (let y = 0; y < 3; y++)
      for (let x = 0; x < 4; x++)
        for (let c = 0; c < 3; c++)
          expect(small[(y * 4 + x) * 3 + c]).toBe(large[((y + 3) * 12 + x + 5) * 3 + c])
  })

  it('has a sky far brighter than its shade', () => {
    const mean = (x: number, y: number) => {
      const crop = renderCrop(frame.scene, 600, 400, { x, y, width: 6, height: 6 })
      return crop.reduce((s, v) => s + v, 0) / crop.length
    }
    expect(mean(280, 60) / mean(60, 330)).toBeGreaterThan(15)
  })
})

const flat = { ...veldrom, greenLeak: 0 }

describe('the simulated camera', () => {
  it('spreads light without losing any', () => {
    const n = 9
    const point = new Float32Array(n * n * 3)
    const centre = Math.floor(n / 2)
    point.fill(1, (centre * n + centre) * 3, (centre * n + centre) * 3 + 3)
    const size = n - 2 * BLUR_MARGIN
    const crop = { x: 0, y: 0, width: size, height: size }
    const out = throughLens(perfect, crop, { x: -2, y: -2, width: n, height: n, rgb: point }, crop)
    const green = out.filter((_, i) => i % 3 === 1)
    expect(green.reduce((s, v) => s + v, 0)).toBeCloseTo(1, 5)
    expect(Math.max(...green)).toBe(green[Math.floor(size / 2) * size + Math.floor(size / 2)])
    expect(green.filter((v) => v > 0)).toHaveLength(25)
  })

  it('sees each place through its own filter, and clips at its white', () => {
    const light = new Float32Array(4 * 4 * 3)
    for (let i = 0; i < 16; i++) light.set([0.2, 0.5, 0.3], i * 3)
    const shot = { iso: 100, exposure: 0.8, seed: 1, noise: false }
    const mosaic = mosaicOf(flat, shot, light, { x: 0, y: 0, width: 4, height: 4 })
    const m = response(veldrom)
    const span = veldrom.white - veldrom.black
    for (let y = 0; y < 4; y++)
      for (let x = 0; x < 4; x++) {
        const c = filterAt(x, y)
        const signal = 0.8 * (m[c * 3] * 0.2 + m[c * 3 + 1] * 0.5 + m[c * 3 + 2] * 0.3)
        expect(Math.abs(mosaic[y * 4 + x] - (veldrom.black + signal * span))).toBeLessThanOrEqual(0.5)
      }
    const bright = mosaicOf(flat, { ...shot, exposure: 50 }, light, { x: 0, y: 0, width: 4, height: 4 })
    expect(new Set(bright)).toEqual(new Set([veldrom.white]))
  })

  it('gives a crop the noise of its place on the sensor', () => {
    const light = new Float32Array(8 * 8 * 3).fill(0.3)
    const shot = { iso: 1600, exposure: 0.5, seed: 4 }
    const all = mosaicOf(veldrom, shot, light, { x: 100, y: 60, width: 8, height: 8 })
    const part = mosaicOf(veldrom, shot, light.slice(0, 4 * 4 * 3), { x: 102, y: 62, width: 4, height: 4 })
    for (let y = 0; y < 4; y++)
      for (let x = 0; x < 4; x++) expect(part[y * 4 + x]).toBe(all[(y + 2) * 8 + x + 2])
  })
})

describe('the frames in the repository', () => {
  it.each(demoFrames.map((f) => [`${f.fileName}, ${f.scene.title},`, f] as const))(
    '%s is what scene and camera say, place for place',
    async (_title, frame) => {
      const bytes = new Uint8Array(readFileSync(new URL(`../frames/${frame.fileName}`, import.meta.url)))
      expect(bytes.length).toBeLessThan(4 * 2 ** 20)
      const file = readDng(bytes)
      neutralOf(veldrom, frame.takenNeutral).forEach((v, i) =>
        expect(file.colour.asShotNeutral[i]).toBeCloseTo(v, 5),
      )
      const memory = new WebAssembly.Memory({ initial: 512, maximum: 65536 })
      const kernels = await loadKernels(new WebAssembly.Module(readFileSync(kernelsFile)), memory)
      const scratch = new Scratch(memory, 65536, 24 << 20)
      const crop = { x: 2 * Math.floor(frame.width * 0.3458), y: 420, width: 24, height: 16 }
      expect(file.metadata.lens).toBe(frame.lens.name)
      const segment = file.segments.find(
        (s) => crop.x >= s.x && crop.x < s.x + s.width && crop.y >= s.y && crop.y < s.y + s.height,
      )!
      const source = scratch.take(segment.length)
      new Uint8Array(memory.buffer, source, segment.length).set(
        bytes.subarray(segment.offset, segment.offset + segment.length),
      )
      const target = scratch.take(segment.width * segment.height * 2)
      const { width, height } = segment
      decodeLosslessJpeg(
        kernels,
        scratch,
        { offset: source, length: segment.length },
        { offset: target, stride: width, width, height },
        segment,
      )
      const stored = new Uint16Array(memory.buffer, target, width * height)
      const { mosaic } = photographCrop(frame, crop)
      for (let y = 0; y < crop.height; y++)
        for (let x = 0; x < crop.width; x++) {
          const there = stored[(crop.y - segment.y + y) * width + crop.x - segment.x + x]
          // another machine's sine may round another way
          expect(Math.abs(there - mosaic[y * crop.width + x])).toBeLessThanOrEqual(2)
        }
    },
  )
})

describe('masks of a scene’s objects', () => {
  it.each([
    [boathouse, ['sky', 'wood', 'wall', 'roof', 'room', 'blue boat', 'red boat', 'water']],
    [paleSails, ['sails', 'tower', 'wood', 'meadow', 'sky']],
  ] as const)('are the whole picture together, each with a part of it', (scene, objects) => {
    const [width, height] = [90, 60]
    const crop = { x: 0, y: 0, width, height }
    const masks = objects.map((object) => renderCrop(objectMask(scene, object), width, height, crop))
    for (let i = 0; i < width * height * 3; i++) expect(masks.reduce((s, m) => s + m[i], 0)).toBeCloseTo(1, 6)
    masks.forEach((m, i) => expect([objects[i], m.some((v) => v > 0.5)]).toEqual([objects[i], true]))
    // the boat that is called blue is
    const light = renderCrop(scene, width, height, crop)
    const at = objects.indexOf('blue boat' as never)
    if (at < 0) return
    const mean = [0, 1, 2].map((c) => masks[at].reduce((s, v, i) => (i % 3 === c ? s + v * light[i] : s), 0))
    expect(mean[2]).toBeGreaterThan(1.5 * mean[0])
  })
})
