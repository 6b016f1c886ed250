import { beforeAll, describe, expect, it } from 'vitest'
import { testBench } from '../../test/bench'
import { collage } from '../../test/collage'
import { labOf, runStep, type Colours } from '../../test/steps'
import { ciede2000, working } from '../colour'
import type { Kernels } from '../kernels/kernels'
import { exp2, log2, type Triple } from '../math'
import type { Scratch } from '../memory'
import { haze, HazeSchema, relief, ReliefSchema } from './index'

let bench: { kernels: Kernels; scratch: Scratch }
beforeAll(async () => (bench = await testBench(128)))

const SIZE = { width: 384, height: 256 }
const CONTEXT = { context: { noiseModels: { file: [{ a: 2e-5, b: 1e-8 }] }, balance: [1, 1, 1] as const } }
const lightOf = ([r, g, b]: Triple) => {
  const [x, y, z] = working.toXyz.slice(3, 6)
  return x * r + y * g + z * b
}

describe('relief', () => {
  const ran = (part: object, colours: Colours) =>
    runStep(bench, relief, ReliefSchema.parse(part), SIZE, colours, CONTEXT)
  const grey = (stops: number): Triple => {
    const v = 0.18 * exp2(stops)
    return [v, v, v]
  }
  /** Waves of a length over an even surface; their height in stops. */
  const waves =
    (length: number): Colours =>
    (x) =>
      grey(0.12 * Math.sin((2 * Math.PI * x) / length))
  const height = (colours: Colours, length: number) => {
    let [lo, hi] = [Infinity, -Infinity]
    for (let x = 192 - length; x < 192 + length; x++) {
      const s = log2(colours(x, 128)[1])
      lo = Math.min(lo, s)
      hi = Math.max(hi, s)
    }
    return hi - lo
  }

  it.each([
    ['fine', 4],
    ['medium', 16],
    ['broad', 70],
  ])('raises and softens drawing of its own size: %s', (name, length) => {
    const before = height(waves(length), length)
    expect(height(ran({ [name]: 1 }, waves(length)), length)).toBeGreaterThan(1.3 * before)
    expect(height(ran({ [name]: -1 }, waves(length)), length)).toBeLessThan(0.75 * before)
  })

  it('leaves drawing of other sizes to the others', () => {
    expect(height(ran({ broad: 1 }, waves(4)), 4)).toBeLessThan(1.1 * height(waves(4), 4))
    expect(height(ran({ fine: 1 }, waves(70)), 70)).toBeLessThan(1.15 * height(waves(70), 70))
  })

  it.each([
    ['all raised', { fine: 1, medium: 1, broad: 1 }],
    ['all softened', { fine: -1, medium: -1, broad: -1 }],
  ])('casts no halo at an edge of four stops: %s', (_, part) => {
    const edge: Colours = (x, y) => grey(x + y / 2 < 250 ? -2 : 2)
    const after = ran(part, edge)
    const far = [after(8, 128)[1], after(376, 128)[1]]
    for (let y = 60; y < 200; y += 7)
      for (let x = 60; x < 330; x++) {
        const off = Math.abs(log2(after(x, y)[1] / far[x + y / 2 < 250 ? 0 : 1]))
        expect(off).toBeLessThan(0.08)
      }
  })

  it('keeps colours: channels stay in their ratios', () => {
    const { width, rgb } = collage(SIZE.width, SIZE.height, 6)
    const colours: Colours = (x, y) => {
      const i = (y * width + x) * 3
      return [rgb[i], rgb[i + 1], rgb[i + 2]]
    }
    const after = ran({ fine: 0.8, medium: 0.6, broad: -0.5 }, colours)
    for (let y = 3; y < 256; y += 17)
      for (let x = 2; x < 384; x += 13) {
        const [a, b] = [colours(x, y), after(x, y)]
        expect(b[0] / b[1]).toBeCloseTo(a[0] / a[1], 4)
        expect(b[2] / b[1]).toBeCloseTo(a[2] / a[1], 4)
      }
  })
})

describe('haze of known depth and light', () => {
  /** Things before others, farther up the picture; the farthest nearly lost. */
  const scene = (seed: number, air: Triple, density: number) => {
    const { width, rgb } = collage(SIZE.width, SIZE.height, seed, 4, 36, 420)
    const clear: Colours = (x, y) => {
      const i = (y * width + x) * 3
      // as between leaves and stones there are gaps that no light gets into
      const gap = (7 * x + 3 * y) % 23 < 3 ? 0.06 : 1
      return [rgb[i] * gap, rgb[i + 1] * gap, rgb[i + 2] * gap]
    }
    const through = (_x: number, y: number) => Math.exp(-density * (1 - y / SIZE.height) ** 1.5)
    const hazy: Colours = (x, y) => {
      // above the last things there is nothing but air
      if (y < 14) return air
      const t = through(x, y)
      return clear(x, y).map((v, c) => v * t + air[c] * (1 - t)) as unknown as Triple
    }
    return { clear, hazy }
  }
  const judged = (a: Colours, truth: Colours) => {
    let [de, light, true_, n] = [0, 0, 0, 0]
    for (let y = 24; y < SIZE.height; y += 3)
      for (let x = 0; x < SIZE.width; x += 3) {
        de += ciede2000(labOf(a(x, y)), labOf(truth(x, y)))
        light += lightOf(a(x, y))
        true_ += lightOf(truth(x, y))
        n++
      }
    return { de: de / n, light: light / true_ }
  }
  const AIRS: readonly [string, Triple, number][] = [
    ['grey morning', [0.62, 0.64, 0.66], 1.6],
    ['warm evening', [0.75, 0.62, 0.5], 1.2],
    ['blue distance', [0.5, 0.6, 0.75], 2],
  ]

  it.each(AIRS)(
    'is taken away: colours at least twice as close, brightness within 8 %%: %s',
    (_, air, density) => {
      const { clear, hazy } = scene(31, air, density)
      const before = judged(hazy, clear)
      const after = judged(runStep(bench, haze, HazeSchema.parse({ strength: 1 }), SIZE, hazy), clear)
      expect(after.de).toBeLessThan(before.de / 2)
      expect(Math.abs(after.light - 1)).toBeLessThan(0.08)
    },
  )

  it('that is not there is hardly taken away', () => {
    const { clear } = scene(31, AIRS[0][1], 0)
    // white things with drawing of their own, and a wall in the sun
    const bright: Colours = (x, y) => {
      const paper = 0.6 + 0.15 * Math.sin(x * 0.5) * Math.sin(y * 0.4)
      return (Math.floor(x / 60) + Math.floor(y / 60)) % 3 === 0 ? [paper, paper, 0.9 * paper] : clear(x, y)
    }
    for (const picture of [clear, bright]) {
      const after = judged(runStep(bench, haze, HazeSchema.parse({ strength: 1 }), SIZE, picture), picture)
      expect(after.de).toBeGreaterThan(0.05)
      expect(after.de).toBeLessThan(2)
    }
  })

  it('is taken from far things alone where that is asked', () => {
    const { hazy } = scene(32, AIRS[0][1], 1.6)
    const ran = (depth: number) => runStep(bench, haze, HazeSchema.parse({ strength: 1, depth }), SIZE, hazy)
    const [all, far] = [ran(0), ran(0.7)]
    const moved = (a: Colours, y: number) => Math.abs(lightOf(a(200, y)) - lightOf(hazy(200, y)))
    expect(moved(far, 236)).toBeLessThan(0.5 * moved(all, 236) + 1e-4)
    expect(moved(far, 40)).toBeGreaterThan(0.4 * moved(all, 40))
  })

  it('does not blow up noise where it is dense', () => {
    const even: Colours = (x, y) => {
      const t = y < 128 ? 0.12 : 0.95
      const ripple = ((x * 7 + y * 3) % 5) - 2
      const v = (x < 192 ? 0.05 : 0.3) * t + 0.7 * (1 - t) + 0.002 * ripple
      return [v, v, v]
    }
    const after = runStep(bench, haze, HazeSchema.parse({ strength: 1 }), SIZE, even)
    let most = 0
    for (let x = 20; x < 90; x++) {
      const values = [0, 1, 2, 3, 4].map((k) => after(x + k, 60)[1])
      most = Math.max(most, Math.max(...values) - Math.min(...values))
    }
    // through an eighth of the light the classic way gains eight times
    expect(most).toBeLessThan(0.008 * 4)
  })

  it('is added: far things go toward its light, near ones less', () => {
    const { hazy } = scene(33, AIRS[0][1], 1.2)
    const after = runStep(bench, haze, HazeSchema.parse({ strength: -0.8 }), SIZE, hazy)
    const distance = (a: Colours, y: number) => Math.abs(lightOf(a(150, y)) - lightOf(AIRS[0][1]))
    for (const y of [60, 120, 200]) expect(distance(after, y)).toBeLessThan(distance(hazy, y))
    const share = (y: number) => distance(after, y) / distance(hazy, y)
    expect(share(60)).toBeLessThan(share(230))
  })

  it('takes a picked light at its word', () => {
    const { hazy } = scene(34, AIRS[1][1], 1.2)
    const ran = (picked: [number, number, number]) =>
      runStep(bench, haze, HazeSchema.parse({ strength: 1, air: 'picked', picked }), SIZE, hazy)
    const [warm, cold] = [ran([0.75, 0.62, 0.5]), ran([0.5, 0.62, 0.75])]
    const [w, c] = [warm(200, 60), cold(200, 60)]
    // what is taken for the haze's colour is missing afterwards
    expect(w[0] / w[2]).toBeLessThan(c[0] / c[2])
  })
})
