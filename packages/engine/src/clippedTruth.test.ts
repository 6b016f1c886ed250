import { ciede2000, toLab, working, type Triple } from '@dunkelkammer/core'
import { fbm2 } from '@dunkelkammer/demo'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { highlightErrors, photographClipped, type ClippedCrop } from '../bench/quality/highlights'
import { settings, testEngine, whole } from '../test/engines'
import type { Engine } from './index'

let engine: Engine
beforeAll(() => {
  engine = testEngine({ workers: 2 })
})
afterAll(() => engine.stop())

const W = 160
const H = 120

/** Photographs light given by place, two pixels wider on every side. */
function photographed(name: string, light: (x: number, y: number) => Triple): ClippedCrop {
  const rgb = new Float32Array((W + 4) * (H + 4) * 3)
  for (let y = 0; y < H + 4; y++) for (let x = 0; x < W + 4; x++) rgb.set(light(x, y), (y * (W + 4) + x) * 3)
  return photographClipped(name, rgb, 1, [1, 1, 1], W, H)
}

/** Mean over places where so many channels are clipped. */
const over = (errors: readonly { mean: number; count: number }[], ...kinds: number[]) => {
  const count = kinds.reduce((s, k) => s + errors[k - 1].count, 0)
  return { count, mean: kinds.reduce((s, k) => s + errors[k - 1].mean * errors[k - 1].count, 0) / count }
}

/** A sky that brightens from below what the sensor holds to where two channels are clipped. */
const sky = () =>
  photographed('sky', (x, y) => {
    const cloud = fbm2(x * 0.03, y * 0.03, 5, 3)
    const light = 0.55 + 0.8 * (x / W) * (0.6 + 0.6 * cloud)
    return [light * (0.85 + 0.15 * cloud), light * 0.95, light * (1.15 - 0.15 * cloud)]
  })

/** A petal of one colour on leaves, lit above what the sensor holds in the middle. */
const petal = (colour: Triple, most: number) =>
  photographed('petal', (x, y) => {
    const r = Math.hypot((x - W / 2) / 60, (y - H / 2) / 45)
    if (r > 1) return [0.05, 0.09, 0.03]
    const shade = most * (1 - 0.8 * r * r) * (0.95 + 0.1 * fbm2(x * 0.1, y * 0.1, 3, 5))
    return [colour[0] * shade, colour[1] * shade, colour[2] * shade]
  })

describe('clipped light', () => {
  it('comes back by halves of the difference to what was there, at least', async () => {
    const crop = sky()
    const [plain, rebuilt, half] = await Promise.all(
      [0, 1, 0.5].map(async (rebuild) => over(await highlightErrors(engine, crop, rebuild), 1, 2)),
    )
    expect(plain.count).toBeGreaterThan(2000)
    expect(rebuilt.mean).toBeLessThan(plain.mean / 2)
    expect(half.mean).toBeLessThan(plain.mean)
    expect(half.mean).toBeGreaterThan(rebuilt.mean)
  })

  it.each([
    ['yellow', [1, 0.85, 0.08]],
    ['red', [1, 0.12, 0.1]],
    ['violet', [0.55, 0.2, 1]],
    ['green', [0.3, 1, 0.15]],
  ] as const)('keeps a %s petal its colour', async (_name, colour) => {
    const crop = petal(colour as Triple, 2.2)
    const errors = await highlightErrors(engine, crop, 1)
    const cut = await highlightErrors(engine, crop, 0)
    const two = over(errors, 1, 2)
    expect(two.count).toBeGreaterThan(500)
    expect(two.mean).toBeLessThan(4)
    expect(two.mean).toBeLessThan(over(cut, 1, 2).mean / 2)
  })

  it('shows no contour where the next channel clips', async () => {
    const crop = photographed('evening', (x) => {
      const light = 0.3 * 12 ** (x / W)
      return [light, light * 0.8, light * 0.5]
    })
    const picture = await engine.open(crop.dng)
    const development = settings({ steps: { exposure: { ev: -2 } } })
    const size = { width: W, height: H }
    const bytes = await picture.deliver({ development, space: 'linear-rec2020', bits: 16, ...size })
    engine.close(picture)
    const values = new Uint16Array(bytes.buffer)
    const lab = Array.from({ length: W }, (_, x) => {
      const o = ((H / 2) * W + x) * 3
      return toLab(working, [0, 1, 2].map((c) => values[o + c] / 65535) as unknown as Triple)
    })
    const kind = (x: number) => [0, 1, 2].filter((c) => crop.light[((H / 2) * W + x) * 3 + c] >= 1).length
    expect(new Set(lab.map((_, x) => kind(x)))).toEqual(new Set([0, 1, 2, 3]))
    for (let x = 6; x < W - 6; x++) {
      // both sides of a border, beyond what the border itself touches
      const mean = [0, 1, 2].map((c) => (lab[x - 4][c] + lab[x + 4][c]) / 2) as unknown as Triple
      expect(ciede2000(lab[x], mean), `at ${x}, ${kind(x)} clipped`).toBeLessThan(3)
    }
  })

  it('leaves a blown lamp without colour of its own', async () => {
    const n = 96
    const rgb = new Float32Array((n + 4) ** 2 * 3)
    for (let y = 0; y < n + 4; y++)
      for (let x = 0; x < n + 4; x++) {
        const r = Math.hypot(x - 50, y - 50)
        const light = r < 14 ? 20 : 0.04 + 0.25 * Math.exp(-(r - 14) / 9)
        rgb.set([light, light * 0.97, light * 0.93], (y * (n + 4) + x) * 3)
      }
    const crop = photographClipped('lamp', rgb, 1, [1, 0.97, 0.93], n, n)
    const picture = await engine.open(crop.dng)
    const view = await picture.view({
      development: settings({ steps: { exposure: { ev: -2 } } }),
      ...whole(picture),
    })
    for (let y = 40; y < 56; y++)
      for (let x = 40; x < 56; x++) {
        const [r, g, b] = view.rgba.subarray((y * n + x) * 4)
        // neither magenta nor cyan: green lies between the two others, or next to them
        expect(Math.abs(g - (r + b) / 2)).toBeLessThan(14)
      }
    engine.close(picture)
  })
})
