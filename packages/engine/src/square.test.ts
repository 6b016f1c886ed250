import { SHIPPED_LENSES, straightened, withoutStages, type Development } from '@dunkelkammer/core'
import {
  cameraFile,
  noise2,
  perfect,
  throughLens,
  mosaicOf,
  undistorted,
  veldrom,
  wide,
  type LensModel,
} from '@dunkelkammer/demo'
import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { demoBytes, demoFile, psnr8, settings, testEngine, withoutAlpha } from '../test/engines'
import { findBend, fitLongEdge, shippedLens, type Engine, type Picture } from './index'

let engine: Engine
let picture: Picture
beforeAll(async () => {
  engine = testEngine({ workers: 2 })
  engine.lensSource = (wish) => Promise.resolve(shippedLens(wish))
  picture = await engine.open(demoBytes())
})
afterAll(() => engine.stop())

const SQUARED = {
  lens: { choice: 'hand', bend: -0.03, edge: 0.012 },
  fringes: { source: 'own', redEdge: 0.0007, blueEdge: -0.0004 },
  fallOff: { ev: 0.4 },
  level: { angle: 2.4 },
  perspective: { tilt: -5, swing: 3, soften: 0.2 },
  crop: { rect: { centre: [0.52, 0.33], width: 0.6, height: 0.4 } },
}
const OTHERS = {
  edgeColour: { amount: 0.8 },
  exposure: { ev: 0.3 },
  tones: { shadows: { lift: 0.8 } },
  edgeBurn: { ev: -0.6 },
}
const squared = (part: object = {}) => settings({ steps: { ...SQUARED, ...OTHERS, ...part } })
const deliver = async (d: Development, longEdge?: number) => {
  const frame = await picture.square(d)
  const size = fitLongEdge(frame.width, frame.height, longEdge)
  return { ...size, pixels: await picture.deliver({ development: d, space: 'srgb', bits: 8, ...size }) }
}

const same = (a: Uint8Array, b: Uint8Array) => Buffer.compare(a, b) === 0

describe('a squared-up picture', () => {
  it('shows at 100 % the very pixels that are delivered', async () => {
    const d = squared()
    const whole = await deliver(d)
    const { width, height } = whole
    const region = { x: 301, y: 217, width: 333, height: 190 }
    for (let twice = 0; twice < 2; twice++) {
      // another exposure first, so that the second time the steps before are kept
      await picture.view({ development: squared({ exposure: { ev: twice } }), width, height, region })
      const view = await picture.view({ development: d, width, height, region })
      const seen = withoutAlpha(view.rgba)
      let off = 0
      for (let y = 0; y < region.height; y++)
        for (let i = 0; i < region.width * 3; i++)
          if (seen[y * region.width * 3 + i] !== whole.pixels[((y + region.y) * width + region.x) * 3 + i])
            off++
      expect(off).toBe(0)
    }
  })

  it('looks fitted as its export does made small: at least 40 dB', async () => {
    const d = squared({ edgeColour: {} })
    const small = await deliver(d, 480)
    const { width, height } = small
    const view = await picture.view({ development: d, width, height, region: { x: 0, y: 0, width, height } })
    expect(psnr8(withoutAlpha(view.rgba), small.pixels)).toBeGreaterThan(40)
    const quick = await picture.view({
      ...{ development: squared({ edgeColour: {}, level: { angle: 2.5 } }), quick: true },
      ...{ width, height, region: { x: 0, y: 0, width, height } },
    })
    expect(quick.exact).toBe(false)
  })

  it('is bit for bit the picture as it was once all of it is held off or set back', async () => {
    const plain = await deliver(settings({}))
    const held = await deliver(withoutStages(settings({ steps: SQUARED }), ['square-up']))
    expect(same(held.pixels, plain.pixels)).toBe(true)
    const off = settings({
      steps: SQUARED,
      off: ['lens', 'fringes', 'fallOff', 'level', 'perspective', 'crop'],
    })
    expect(same((await deliver(off)).pixels, plain.pixels)).toBe(true)
    // a crop alone moves nothing: it is a part of the same pixels, seen before they are dithered
    const fine = async (d: Development) => {
      const { width, height } = await picture.square(d)
      const pixels = await picture.deliver({ development: d, space: 'srgb', bits: 16, width, height })
      return { width, height, pixels: new Uint16Array(pixels.buffer) }
    }
    const cropped = settings({ steps: { crop: { rect: { centre: [0.4, 0.3], width: 0.3, height: 0.2 } } } })
    const [all, cut] = [await fine(settings({})), await fine(cropped)]
    const at = (await picture.square(cropped)).toSource(0, 0)!
    const [x0, y0] = at.map((v) => Math.round(v))
    for (const y of [0, 100, cut.height - 1]) {
      const o = ((y + y0) * all.width + x0) * 3
      const line = cut.pixels.subarray(y * cut.width * 3, (y + 1) * cut.width * 3)
      expect(line).toEqual(all.pixels.subarray(o, o + cut.width * 3))
    }
  })

  it('is read and sampled where it is seen', async () => {
    const d = squared()
    const square = await picture.square(d)
    const whole = await deliver(d)
    const [x, y] = [0.31, 0.62]
    const { output } = await picture.ask('read', d, x, y, 0)
    const o = (Math.round(y * whole.height) * whole.width + Math.round(x * whole.width)) * 3
    output.forEach((v, c) => expect(Math.abs(v * 255 - whole.pixels[o + c])).toBeLessThan(1.5))
    const [sx, sy] = square.toSource(x * square.width, y * square.height)!
    const unsquared = settings({ steps: { fringes: SQUARED.fringes } })
    const there = await picture.ask('sample', unsquared, sx / picture.width, sy / picture.height, 4)
    const here = await picture.ask('sample', d, x, y, 4)
    here.forEach((v, c) => expect(v).toBeCloseTo(there[c], 6))
  })
})

describe('fringes that a profile knows', () => {
  const lens = { lens: { choice: 'profile', profile: 'mine' } }
  beforeAll(() => {
    engine.lensSource = () => Promise.resolve({ id: 'mine', profile: SHIPPED_LENSES[0] })
  })
  afterAll(() => {
    engine.lensSource = (wish) => Promise.resolve(shippedLens(wish))
    engine.forgetLenses()
  })
  const of = (part: object, fringes: object = {}) => settings({ steps: { ...lens, fringes }, ...part })
  /** How far red lies from where green is, near a corner, pixels of 3600 from the middle. */
  const apart = async (d: Development) => 3600 * ((await picture.square(d)).apart(0)(0.98) - 1)

  it('can be left in, and let in by any strength', async () => {
    const full = await apart(of({}))
    expect(Math.abs(full)).toBeGreaterThan(0.5)
    for (const gone of [
      of({}, { source: 'none' }),
      of({ off: ['fringes'] }),
      of({ strength: { fringes: 0 } }),
      of({}, { amount: 0 }),
    ])
      expect(await apart(gone)).toBe(0)
    expect((await apart(of({ strength: { fringes: 0.5 } }))) / full).toBeCloseTo(0.5, 2)
    expect((await apart(of({}, { amount: 1.5 }))) / full).toBeCloseTo(1.5, 2)
    const [on, off] = [await deliver(of({}), 600), await deliver(of({ off: ['fringes'] }), 600)]
    expect(same(on.pixels, off.pixels)).toBe(false)
    expect(same((await deliver(of({}, { source: 'none' }), 600)).pixels, off.pixels)).toBe(true)
  })
})

describe('a lens taken out', () => {
  const size = { width: 720, height: 480 }
  /** Bricks of many colours, on a scene a little larger than the frame. */
  const margin = 40
  const wall = new Float32Array((size.width + 2 * margin) * (size.height + 2 * margin) * 3)
  const pitch = size.width + 2 * margin
  for (let y = 0; y < size.height + 2 * margin; y++)
    for (let x = 0; x < pitch; x++)
      for (let c = 0; c < 3; c++)
        wall[(y * pitch + x) * 3 + c] =
          0.1 +
          0.5 * noise2(x / 21, y / 17, 3 + (c === 1 ? 0 : 1)) +
          (Math.sin(x / 7) * Math.sin(y / 9) > 0.4 ? 0.2 : 0)
  const photograph = (lens: LensModel) => {
    const scene = { x: -margin, y: -margin, width: pitch, height: size.height + 2 * margin, rgb: wall }
    const light = throughLens(lens, size, scene, { x: 0, y: 0, ...size })
    const shot = { iso: 100, exposure: 0.7, seed: 4, noise: false }
    const mosaic = mosaicOf(veldrom, shot, light, { x: 0, y: 0, ...size })
    return cameraFile(veldrom, size, mosaic, [1, 1, 1], {
      lens: wide.name,
      focalLength: 20,
      focalLength35: 20,
    })
  }
  const shown = async (lens: LensModel, choice: string, fringes: object = {}) => {
    const opened = await engine.open(photograph(lens))
    const d = settings({ steps: { lens: { choice }, fringes } })
    const { width, height } = await opened.square(d)
    const finding = await opened.lens(d)
    const pixels = await opened.deliver({ development: d, space: 'srgb', bits: 8, width, height })
    engine.close(opened)
    return { pixels, finding, width, height }
  }

  it('leaves what a lens without faults would have shown', async () => {
    const truth = await shown(perfect, 'off')
    const bent = await shown(wide, 'off')
    const mended = await shown(wide, 'automatic')
    expect(mended.finding).toMatchObject({ from: 'profile', name: wide.name })
    expect([mended.width, mended.height]).toEqual([720, 480])
    expect(psnr8(bent.pixels, truth.pixels)).toBeLessThan(24)
    expect(psnr8(mended.pixels, truth.pixels)).toBeGreaterThan(34)
  })

  it('lays fringes of one and a half pixels where a lens without them has its colours', async () => {
    const growing = (k: number) => Array.from({ length: 12 }, (_, i) => k * (i / 10) ** 2)
    const lens = { ...perfect, fringeRed: growing(-0.0035), fringeBlue: growing(0.0035) }
    const truth = await shown(perfect, 'off')
    const left = psnr8((await shown(lens, 'off')).pixels, truth.pixels)
    const own = { source: 'own', redEdge: 0.0035, blueEdge: -0.0035 }
    const taken = await shown(lens, 'off', own)
    expect(psnr8(taken.pixels, truth.pixels)).toBeGreaterThan(left + 3)
    // and nothing else moves: the frame is not sampled anew
    const wrong = await shown(lens, 'off', { ...own, redEdge: -0.0035, blueEdge: 0.0035 })
    expect(psnr8(wrong.pixels, truth.pixels)).toBeLessThan(left)
  })

  it('is looked up anew once more is known, and refused where a chosen one is gone', async () => {
    const opened = await engine.open(photograph(wide))
    const d = settings({ steps: { lens: { choice: 'profile', profile: 'mine' } } })
    await expect(opened.square(d)).rejects.toThrow('not in this library')
    expect(opened.squareNow(d)).toBeUndefined()
    engine.lensSource = () => Promise.resolve({ id: 'mine', profile: SHIPPED_LENSES[2] })
    expect((await opened.lens(d)).name).toBe('Veldrom 35 mm f/2')
    engine.lensSource = (wish) => Promise.resolve(shippedLens(wish))
    engine.forgetLenses()
    await expect(opened.square(d)).rejects.toThrow('not in this library')
    engine.close(opened)
  })
})

describe('a lens by the lines of its picture', () => {
  const demo = (name: string) => engine.open(new Uint8Array(readFileSync(demoFile.replace('HM0417', name))))

  it('is found in a wall of bricks, and declined in mist', async () => {
    const house = await demo('HM0488')
    const { bend, edge, before, after } = await findBend(house, settings({}))
    expect(after).toBeLessThan(before)
    // the lens’s own bend, as far as lines tell it: without the size of things
    const half = Math.hypot(house.width, house.height) / 2
    const radii = Array.from({ length: 19 }, (_, i) => 0.1 + 0.05 * i)
    const pairs = radii.map((r) => {
      const [want] = undistorted(wide, house, house.width / 2 + r * half, house.height / 2, 1)
      return { got: straightened([r, 0], bend, edge)[0] * half, want: want - house.width / 2 }
    })
    const scale = pairs.reduce((s, p) => s + p.got * p.want, 0) / pairs.reduce((s, p) => s + p.got * p.got, 0)
    for (const { got, want } of pairs) expect(Math.abs(got * scale - want)).toBeLessThan(8)
    // less than half of what it was
    const bent =
      undistorted(wide, house, house.width / 2 + half, house.height / 2, 1)[0] - house.width / 2 - half
    expect(bent).toBeGreaterThan(16)
    engine.close(house)
    const mist = await demo('HM0403')
    await expect(findBend(mist, settings({}))).rejects.toThrow('too few long lines')
    engine.close(mist)
    // trees and water, and a lens that bends little: nothing to go by
    const lock = await demo('HM0466')
    await expect(findBend(lock, settings({}))).rejects.toThrow('do not agree')
    engine.close(lock)
  })
})
