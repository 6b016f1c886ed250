import { ciede2000, readDng, toLab, working, type Triple } from '@dunkelkammer/core'
import { cameraFile, fbm2, mosaicOf, plainLight, veldrom, type DngContents } from '@dunkelkammer/demo'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { balanceOf, bilinear, cpsnr, ours } from '../bench/quality/demosaic'
import { photograph, zonePlate } from '../bench/quality/crops'
import { psnr8, settings, testEngine, whole, withoutAlpha } from '../test/engines'
import { matchEmbedded, type Engine } from './index'

let engine: Engine
beforeAll(() => {
  engine = testEngine({ workers: 2 })
})
afterAll(() => engine.stop())

const SIX = [
  ...[1, 1, 0, 1, 1, 2, 1, 1, 2, 1, 1, 0, 2, 0, 1, 0, 2, 1],
  ...[1, 1, 2, 1, 1, 0, 1, 1, 0, 1, 1, 2, 0, 2, 1, 2, 0, 1],
]

/** Radiance of coloured, textured, shaded things with edges; two pixels wider on every side. */
function things(width: number, height: number): Float32Array {
  const rgb = new Float32Array((width + 4) * (height + 4) * 3)
  for (let y = 0; y < height + 4; y++)
    for (let x = 0; x < width + 4; x++) {
      const part = Math.floor(x / 22 + Math.sin(y * 0.05)) + 3 * Math.floor((y + x * 0.3) / 30)
      const tone = [0.5, 0.9, 0.25, 0.7][((part % 4) + 4) % 4]
      const tint = [
        [1, 0.55, 0.35],
        [0.5, 0.75, 0.4],
        [0.6, 0.7, 1],
        [0.9, 0.88, 0.85],
        [0.8, 0.3, 0.25],
      ][((part % 5) + 5) % 5]
      const grain = 0.55 + 0.9 * fbm2(x * 0.22, y * 0.22, 3, 8)
      for (let c = 0; c < 3; c++) rgb[(y * (width + 4) + x) * 3 + c] = 0.4 * tone * tint[c] * grain
    }
  return rgb
}

describe('demosaic against the scene', () => {
  it.each([
    ['2 x 2', [0, 1, 1, 2], 3],
    ['2 x 2, turned', [1, 2, 0, 1], 3],
    ['6 x 6', SIX, 1],
  ] as const)('is far better than bilinear on things, pattern %s', async (_name, pattern, gain) => {
    const crop = photograph('things', 150, 120, things(150, 120), pattern)
    const balance = balanceOf(crop)
    expect(cpsnr(await ours(engine, crop), crop, balance)).toBeGreaterThan(
      cpsnr(bilinear(crop), crop, balance) + gain,
    )
  })

  it('draws a zone plate with hardly any colour', async () => {
    const crop = zonePlate()
    const balance = balanceOf(crop)
    expect(cpsnr(await ours(engine, crop), crop, balance)).toBeGreaterThan(
      cpsnr(bilinear(crop), crop, balance) + 14,
    )
  })
})

describe('highlights', () => {
  it('changes nothing where nothing is clipped', async () => {
    const crop = photograph('things', 100, 80, things(100, 80))
    const a = await ours(engine, crop, { highlights: { rebuild: 1 } })
    const b = await ours(engine, crop, { highlights: { rebuild: 0 } })
    expect(b).toEqual(a)
  })
})

/** A file of light on the sensor, without noise. */
function file(
  rgb: Float32Array,
  width: number,
  height: number,
  leak: number,
  part: Partial<DngContents> = {},
): Uint8Array {
  const camera = { ...veldrom, greenLeak: leak, dust: 0, hot: 0, dead: 0 }
  const crop = { x: 0, y: 0, width, height }
  const light = plainLight(rgb, width, height)
  const mosaic = mosaicOf(camera, { iso: 100, exposure: 0.8, seed: 1, noise: false }, light, crop)
  return cameraFile(camera, crop, mosaic, [1, 1, 1], part)
}

const develop = async (bytes: Uint8Array, part: object = {}, request: object = {}) => {
  const picture = await engine.open(bytes)
  const view = await picture.view({ development: settings(part), ...whole(picture), ...request })
  const { width, height } = picture
  engine.close(picture)
  return { rgb: withoutAlpha(view.rgba), width, height, exact: view.exact }
}

describe('greens of the two kinds of rows', () => {
  it('are brought together, so that an even brick red shows no maze', async () => {
    const flat = new Float32Array(100 * 84 * 3)
    for (let i = 0; i < flat.length; i += 3) flat.set([0.55, 0.14, 0.06], i)
    const bytes = file(flat, 96, 80, 0.015)
    const roughness = async (even: boolean) => {
      const { rgb } = await develop(bytes, { steps: { greenBalance: { even }, exposure: { ev: 1 } } })
      let sum = 0
      for (let y = 30; y < 50; y++)
        for (let x = 30; x < 60; x++)
          sum += Math.abs(rgb[(y * 96 + x) * 3 + 1] - rgb[(y * 96 + x + 1) * 3 + 1])
      return sum / 600
    }
    const before = await roughness(false)
    expect(before).toBeGreaterThan(0.8)
    expect(await roughness(true)).toBeLessThan(before / 4)
  })
})

describe('files of other kinds', () => {
  const [w, h] = [120, 90]
  it('turned on their side come out upright, as the turned picture of an upright one', async () => {
    const rgb = things(w, h)
    const upright = await develop(file(rgb, w, h, 0))
    const turned = await develop(file(rgb, w, h, 0, { orientation: 6 }))
    expect([turned.width, turned.height]).toEqual([h, w])
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++)
        for (let c = 0; c < 3; c++)
          // dithered the way they lie
          expect(
            Math.abs(turned.rgb[(x * h + h - 1 - y) * 3 + c] - upright.rgb[(y * w + x) * 3 + c]),
          ).toBeLessThanOrEqual(1)
  })

  it('with oblong pixels come out with square ones', async () => {
    const wide = await develop(file(things(w, h), w, h, 0, { defaultScale: [2, 1] }))
    expect([wide.width, wide.height]).toEqual([2 * w, h])
    const plain = await develop(file(things(w, h), w, h, 0))
    const every = Uint8Array.from({ length: w * h * 3 }, (_, i) => {
      const [x, y, c] = [Math.floor(i / 3) % w, Math.floor(i / 3 / w), i % 3]
      return (wide.rgb[(y * 2 * w + 2 * x) * 3 + c] + wide.rgb[(y * 2 * w + 2 * x + 1) * 3 + c]) / 2
    })
    expect(psnr8(every, plain.rgb)).toBeGreaterThan(38)
  })

  it('of linear colours come out like the mosaic that they were made from', async () => {
    const bytes = file(things(w, h), w, h, 0)
    const picture = await engine.open(bytes)
    const camera = await picture.deliver({
      development: settings(),
      space: 'camera',
      width: w,
      height: h,
      bits: 16,
    })
    engine.close(picture)
    const { colour } = readDng(bytes)
    const linear = file(things(w, h), w, h, 0, {
      layout: 'linear',
      mosaic: new Uint16Array(camera.buffer),
      bits: 16,
      black: 0,
      white: 65535,
      asShotNeutral: colour.asShotNeutral,
    })
    expect(psnr8((await develop(linear)).rgb, (await develop(bytes)).rgb)).toBeGreaterThan(48)
  })

  it('with a baseline exposure are as much brighter', async () => {
    const light = async (part: Partial<DngContents>, ev: number) => {
      const picture = await engine.open(file(things(w, h), w, h, 0, part))
      const development = settings({ steps: { exposure: { ev } } })
      const bytes = await picture.deliver({
        development,
        space: 'linear-rec2020',
        width: w,
        height: h,
        bits: 16,
      })
      engine.close(picture)
      return new Uint16Array(bytes.buffer)
    }
    const a = await light({ baselineExposure: 0.5 }, 0)
    const b = await light({}, 0.5)
    expect(Math.max(...a.map((v, i) => Math.abs(v - b[i])))).toBeLessThanOrEqual(1)
  })

  it('with a rendering of their own show it on demand only', async () => {
    const map = {
      hues: 6,
      saturations: 2,
      levels: 1,
      values: Float32Array.from({ length: 36 }, (_, i) => [40, 1, 1][i % 3]),
      encoded: false,
    }
    const dark = [
      [0, 0],
      [0.5, 0.2],
      [1, 1],
    ] as const
    const bytes = file(things(w, h), w, h, 0, { profile: { maps: [map], look: map, toneCurve: dark } })
    const own = await develop(bytes)
    expect(own.rgb).toEqual((await develop(file(things(w, h), w, h, 0))).rgb)
    const mean = (v: Uint8Array) => v.reduce((s, n) => s + n, 0) / v.length
    const curve = await develop(bytes, { steps: { baseRendering: { rendering: 'file' } } })
    expect(mean(curve.rgb)).toBeLessThan(mean(own.rgb) * 0.9)
    const colours = await develop(bytes, { steps: { cameraColour: { profile: 'file' } } })
    const lab = (v: Uint8Array, i: number) =>
      toLab(working, [...v.subarray(i, i + 3)].map((n) => (n / 255) ** 2.2) as unknown as Triple)
    let turned = 0
    for (let i = 0; i < own.rgb.length; i += 300) turned += ciede2000(lab(own.rgb, i), lab(colours.rgb, i))
    expect(turned / (own.rgb.length / 300)).toBeGreaterThan(3)
  })
})

describe('the quick picture', () => {
  it.each([
    ['2 x 2', [0, 1, 1, 2], 1],
    ['6 x 6', SIX, 1],
    ['2 x 2 on its side', [0, 1, 1, 2], 8],
  ] as const)('is close to the exact one in a small view, %s', async (_name, pattern, orientation) => {
    const [w, h] = [600, 420]
    const crop = photograph('things', w, h, things(w, h), pattern)
    const turned = crop.dng.slice()
    const view = new DataView(turned.buffer)
    for (let i = 0; i + 12 <= turned.length; i += 2)
      if (view.getUint16(i, true) === 274 && view.getUint16(i + 2, true) === 3)
        view.setUint16(i + 8, orientation, true)
    const size = orientation === 1 ? { width: 150, height: 105 } : { width: 105, height: 150 }
    const picture = await engine.open(turned)
    const request = { development: settings(), ...size, region: { x: 0, y: 0, ...size } }
    const quick = await picture.view({ ...request, quick: true })
    const exact = await picture.view(request)
    expect([quick.exact, exact.exact]).toEqual([false, true])
    expect(psnr8(quick.rgba, exact.rgba)).toBeGreaterThan(30)
    // with the exact picture at hand it is the one that is shown
    const again = await picture.view({ ...request, quick: true })
    expect(again.exact).toBe(true)
    expect(again.rgba).toEqual(exact.rgba)
    engine.close(picture)
  })
})

describe('the camera’s own picture', () => {
  it('is matched in brightness and contrast by exposure and grade alone', async () => {
    const picture = await engine.open(file(things(300, 200), 300, 200, 0))
    const size = { width: 300, height: 200 }
    const look = settings({ steps: { exposure: { ev: 0.7 }, baseRendering: { grade: 3.1 } } })
    const { rgba } = await picture.view({ development: look, ...size, region: { x: 0, y: 0, ...size } })
    const start = settings({ steps: { cameraColour: { source: 'kelvin', kelvin: 6000 } } })
    const found = await matchEmbedded(picture, start, rgba)
    expect(Math.abs(found.steps.exposure.ev - 0.7)).toBeLessThan(0.25)
    expect(Math.abs(found.steps.baseRendering.grade - 3.1)).toBeLessThan(0.6)
    expect({
      ...found.steps,
      exposure: start.steps.exposure,
      baseRendering: start.steps.baseRendering,
    }).toEqual(start.steps)
    engine.close(picture)
  })
})
