import { beforeAll, describe, expect, it } from 'vitest'
import { testBench } from '../../test/bench'
import { labOf, runStep, type Colours } from '../../test/steps'
import { ciede2000, LAB_TO_ROOTS, rgbToLms, toOklab, working } from '../colour'
import type { Kernels } from '../kernels/kernels'
import { apply, invert, sinCosDegrees, type Triple } from '../math'
import type { Scratch } from '../memory'
import {
  colourfulness,
  edgeBurn,
  EdgeBurnSchema,
  grain,
  greyMixture,
  hueNodes,
  HueNodesSchema,
  look,
  LOOKS,
  LookSchema,
  monochrome,
  primaries,
  PrimariesSchema,
  tints,
  TintsSchema,
  toning,
  TONERS,
  ToningSchema,
} from './index'

let bench: { kernels: Kernels; scratch: Scratch }
beforeAll(async () => (bench = await testBench(128)))

const LMS_TO_RGB = invert(rgbToLms(working))
const fromOklab = (lab: Triple): Triple => {
  const [l, m, s] = apply(LAB_TO_ROOTS, lab)
  return apply(LMS_TO_RGB, [l ** 3, m ** 3, s ** 3])
}
const hued = (L: number, C: number, degrees: number): Triple => {
  const [sine, cosine] = sinCosDegrees(degrees)
  return fromOklab([L, C * cosine, C * sine])
}
const lch = (rgb: Triple) => {
  const [L, a, b] = toOklab(working, rgb)
  return { L, C: Math.hypot(a, b), h: ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360 }
}
/** All hues in steps of half a degree; lines of three lightnesses and chromas. */
const SWEEP = { width: 720, height: 3 }
const sweep: Colours = (x, y) => hued([0.45, 0.65, 0.8][y], [0.1, 0.12, 0.09][y], x / 2)
const WEDGE = { width: 256, height: 1 }
const wedge: Colours = (x) => {
  const v = (x / 255) ** 2.2
  return [v, v, v]
}
const difference = (a: Triple, b: Triple) => ciede2000(labOf(a), labOf(b))

/** Largest step between neighbours around the circle that was not there before. */
function steepest(after: Colours): number {
  let most = 0
  for (let y = 0; y < SWEEP.height; y++)
    for (let x = 0; x < SWEEP.width; x++)
      most = Math.max(most, difference(after(x, y), after((x + 1) % SWEEP.width, y)))
  return most
}

describe('hue nodes', () => {
  const all = (part: object) =>
    HueNodesSchema.parse({
      nodes: [30, 90, 150, 210, 270, 330].map((hue, i) => ({ hue, ...(i % 2 ? {} : part) })),
    })

  it.each([
    ['shift', { shift: 30 }],
    ['shift back', { shift: -30 }],
    ['colour', { colour: 0.8 }],
    ['drained', { colour: -1 }],
    ['light', { light: 0.8 }],
    ['dark', { light: -0.8 }],
    ['limited', { light: -0.6, colour: 0.5, chroma: [0.05, 0.13], lightness: [0.3, 0.7] }],
  ])('are smooth from hue to hue and leave greys alone: %s', (_, part) => {
    const after = runStep(bench, hueNodes, all(part), SWEEP, sweep)
    expect(steepest(after)).toBeLessThan(1)
    const greys = runStep(bench, hueNodes, all(part), WEDGE, wedge)
    for (let x = 0; x < 256; x++) expect(difference(greys(x, 0), wedge(x, 0))).toBeLessThan(0.1)
  })

  it('do to their hue what they say and nothing beyond their width', () => {
    const settings = HueNodesSchema.parse({
      nodes: [{ hue: 250, width: 40, shift: 20, colour: -0.5, light: -0.4 }],
    })
    const after = runStep(bench, hueNodes, settings, SWEEP, sweep)
    const at = lch(after(500, 1))
    expect(at.h).toBeCloseTo(270, 1)
    expect(at.C).toBeCloseTo(0.06, 3)
    const { C } = lch(sweep(500, 1))
    expect(at.L).toBeCloseTo(0.65 * (1 - 0.4 * 0.35 * (C ** 2 / (C ** 2 + 0.0009))), 4)
    for (const x of [0, 200, 418, 582]) expect(difference(after(x, 1), sweep(x, 1))).toBeLessThan(0.01)
  })

  it('act within their limits only', () => {
    const settings = HueNodesSchema.parse({
      nodes: [{ hue: 140, width: 60, light: -0.5, lightness: [0, 0.55], chroma: [0.08, 0.4] }],
    })
    const size = { width: 4, height: 1 }
    const samples = [hued(0.4, 0.14, 140), hued(0.75, 0.14, 140), hued(0.4, 0.04, 140), hued(0.4, 0.14, 320)]
    const after = runStep(bench, hueNodes, settings, size, (x) => samples[Math.min(x, 3)])
    expect(difference(after(0, 0), samples[0])).toBeGreaterThan(3)
    for (const x of [1, 2, 3]) expect(difference(after(x, 0), samples[x])).toBeLessThan(0.1)
  })
})

describe('tints', () => {
  const settings = TintsSchema.parse({
    stops: [
      { at: 0.2, hue: 250, strength: 1, light: 0.5 },
      { at: 0.5, hue: 140, strength: 0.6 },
      { at: 0.8, hue: 70, strength: 1, light: -0.5 },
    ],
  })

  it('are smooth over tones and hues and leave black and white', () => {
    expect(steepest(runStep(bench, tints, settings, SWEEP, sweep))).toBeLessThan(1)
    const fine = { width: 1024, height: 1 }
    const ramp: Colours = (x) => fromOklab([x / 1023, 0, 0])
    const after = runStep(bench, tints, settings, fine, ramp)
    for (let x = 1; x < 1024; x++) expect(difference(after(x, 0), after(x - 1, 0))).toBeLessThan(1)
    expect(difference(after(0, 0), ramp(0, 0))).toBeLessThan(0.1)
    expect(difference(after(1023, 0), ramp(1023, 0))).toBeLessThan(0.1)
  })

  it('put their hue on their tone', () => {
    const after = runStep(bench, tints, settings, WEDGE, () => fromOklab([0.5, 0, 0]))
    const { h, C, L } = lch(after(0, 0))
    expect(h).toBeCloseTo(140, 0)
    expect(C).toBeCloseTo(0.06, 3)
    expect(L).toBeCloseTo(0.5, 3)
  })
})

describe('colourfulness', () => {
  it('changes chroma alone, of all colours alike', () => {
    const after = runStep(bench, colourfulness, { all: 0.5, muted: 0, spareSkin: 1 }, SWEEP, sweep)
    for (let x = 0; x < 720; x += 31) {
      const [was, is] = [lch(sweep(x, 0)), lch(after(x, 0))]
      expect(is.C).toBeCloseTo(was.C * 1.5, 4)
      expect(is.L).toBeCloseTo(was.L, 4)
    }
    const drained = runStep(bench, colourfulness, { all: -1, muted: 0, spareSkin: 1 }, SWEEP, sweep)
    for (let x = 0; x < 720; x += 31) expect(lch(drained(x, 1)).C).toBeLessThan(1e-3)
  })

  it('of muted colours raises them more than strong ones', () => {
    const size = { width: 4, height: 1 }
    const chromas = [0.03, 0.08, 0.16, 0.3]
    const before: Colours = (x) => hued(0.6, chromas[Math.min(x, 3)], 200)
    const after = runStep(bench, colourfulness, { all: 0, muted: 1, spareSkin: 1 }, size, before)
    const gains = chromas.map((C, x) => lch(after(x, 0)).C / C)
    expect(gains[0]).toBeGreaterThan(1.8)
    for (let i = 1; i < 4; i++) expect(gains[i]).toBeLessThan(gains[i - 1])
    expect(gains[3]).toBeLessThan(1.05)
  })
})

describe('primaries', () => {
  it('keep white and greys, and turn what leans on them', () => {
    const settings = PrimariesSchema.parse({ red: { turn: 15 }, blue: { spread: -0.3 } })
    const greys = runStep(bench, primaries, settings, WEDGE, wedge)
    for (let x = 0; x < 256; x += 5) expect(difference(greys(x, 0), wedge(x, 0))).toBeLessThan(0.01)
    const size = { width: 3, height: 1 }
    const pure: Triple[] = [
      [0.5, 0.1, 0.1],
      [0.1, 0.5, 0.1],
      [0.1, 0.1, 0.5],
    ]
    const after = runStep(bench, primaries, settings, size, (x) => pure[Math.min(x, 2)])
    expect(lch(after(0, 0)).h).toBeGreaterThan(lch(pure[0]).h + 5)
    expect(lch(after(2, 0)).C).toBeLessThan(lch(pure[2]).C * 0.97)
    expect(Math.abs(lch(after(1, 0)).C / lch(pure[1]).C - 1)).toBeLessThan(0.15)
  })
})

describe('monochrome', () => {
  it('weighs the light as its filter lets it through; white stays', () => {
    const patches: Triple[] = [
      [0.5, 0.05, 0.05],
      [0.05, 0.4, 0.05],
      [0.05, 0.1, 0.6],
      [1, 1, 1],
    ]
    const size = { width: 4, height: 1 }
    const through = (filter: 'none' | 'red' | 'green' | 'blue' | 'yellow', density = 1) => {
      const after = runStep(
        bench,
        monochrome,
        { on: true, filter, density },
        size,
        (x) => patches[Math.min(x, 3)],
      )
      return patches.map((_, x) => {
        const [r, g, b] = after(x, 0)
        expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(1e-4)
        return g
      })
    }
    const plain = through('none')
    const [Yr, Yg, Yb] = working.toXyz.slice(3, 6)
    patches.forEach(([r, g, b], i) => expect(plain[i]).toBeCloseTo(Yr * r + Yg * g + Yb * b, 4))
    const red = through('red')
    expect(red[0]).toBeGreaterThan(plain[0] * 1.6)
    expect(red[2]).toBeLessThan(plain[2] * 0.75)
    expect(through('blue')[2]).toBeGreaterThan(plain[2] * 1.6)
    expect(through('green')[1]).toBeGreaterThan(plain[1])
    expect(through('yellow')[2]).toBeLessThan(plain[2])
    expect(through('red', 2)[0]).toBeGreaterThan(red[0])
    expect(through('red')[3]).toBeCloseTo(1, 4)
    const m = greyMixture({ on: true, filter: 'orange', density: 0 })
    m.forEach((w, i) => expect(w).toBeCloseTo([Yr, Yg, Yb][i], 6))
  })
})

describe('toning', () => {
  const HUES: Partial<Record<(typeof TONERS)[number], [number, number]>> = {
    sepia: [50, 85],
    selenium: [340, 20],
    gold: [235, 280],
    ironBlue: [230, 265],
  }
  it.each(Object.keys(HUES) as (keyof typeof HUES)[])('%s gives greys its colour, by strength', (toner) => {
    const full = runStep(bench, toning, ToningSchema.parse({ toner, strength: 1 }), WEDGE, wedge)
    const half = runStep(bench, toning, ToningSchema.parse({ toner, strength: 0.5 }), WEDGE, wedge)
    const { h, C } = lch(full(120, 0))
    const [from, to] = HUES[toner]!
    expect(from < to ? h >= from && h <= to : h >= from || h <= to).toBe(true)
    expect(C).toBeGreaterThan(0.02)
    expect(lch(half(120, 0)).C / C).toBeCloseTo(0.5, 1)
    for (const x of [0, 255]) expect(difference(full(x, 0), wedge(x, 0))).toBeLessThan(0.5)
    for (let x = 1; x < 256; x++) expect(labOf(full(x, 0))[0]).toBeGreaterThan(labOf(full(x - 1, 0))[0])
  })

  it('split gives dark and light tones hues of their own and the middle none', () => {
    const settings = ToningSchema.parse({
      toner: 'split',
      strength: 1,
      darkHue: 250,
      lightHue: 80,
      meet: 0.5,
    })
    const after = runStep(bench, toning, settings, { width: 3, height: 1 }, (x) =>
      fromOklab([[0.3, 0.5, 0.8][Math.min(x, 2)], 0, 0]),
    )
    expect(lch(after(0, 0)).h).toBeCloseTo(250, 0)
    expect(lch(after(1, 0)).C).toBeLessThan(0.003)
    expect(lch(after(2, 0)).h).toBeCloseTo(80, 0)
  })
})

describe('looks', () => {
  it('are eight in colour and eight in monochrome at least, each with a name and a character of its own', () => {
    expect(LOOKS.filter((l) => l.kind === 'colour').length).toBeGreaterThanOrEqual(8)
    expect(LOOKS.filter((l) => l.kind === 'monochrome').length).toBeGreaterThanOrEqual(8)
    expect(new Set(LOOKS.map((l) => l.name)).size).toBe(LOOKS.length)
    const sums = LOOKS.map(({ id, name, kind }) => {
      const after = runStep(bench, look, LookSchema.parse({ kind: 'own', id, name }), SWEEP, sweep)
      let sum = 0
      for (let x = 0; x < 720; x += 7) {
        sum += difference(after(x, 1), sweep(x, 1))
        // a monochrome has one colour for a tone, whatever the hue was
        if (kind === 'monochrome') expect(lch(after(x, 1)).C).toBeLessThan(0.08)
      }
      expect(sum).toBeGreaterThan(20)
      return sum.toFixed(3)
    })
    expect(new Set(sums).size).toBe(LOOKS.length)
  })
})

describe('edge burn', () => {
  const size = { width: 300, height: 200 }
  const flat: Colours = () => [0.3, 0.2, 0.1]

  it('darkens from where it begins, by its stops at the end, keeping the ratios of the channels', () => {
    const settings = EdgeBurnSchema.parse({ ev: -2, begin: 0.4, run: 0.6, shape: 0 })
    const after = runStep(bench, edgeBurn, settings, size, flat)
    const gain = (x: number, y: number) => after(x, y)[0] / 0.3
    expect(gain(150, 100)).toBeCloseTo(1, 4)
    expect(gain(0, 0)).toBeCloseTo(0.25, 2)
    for (let x = 151; x < 300; x++) expect(gain(x, 100)).toBeLessThanOrEqual(gain(x - 1, 100) + 1e-6)
    const [r, g, b] = after(10, 10)
    expect(r / g).toBeCloseTo(1.5, 3)
    expect(b / g).toBeCloseTo(0.5, 3)
  })

  it('follows its centre and its shape', () => {
    const settings = EdgeBurnSchema.parse({ ev: 1, begin: 0.2, run: 0.4, shape: 1, centre: [0.25, 0.5] })
    const after = runStep(bench, edgeBurn, settings, size, flat)
    expect(after(75, 100)[0]).toBeCloseTo(0.3, 4)
    expect(after(299, 100)[0]).toBeGreaterThan(0.55)
    // an oval like the frame: as far across as down, in shares of the sides
    expect(after(75 + 60, 100)[0]).toBeCloseTo(after(75, 100 + 40)[0], 2)
  })
})

describe('film grain', () => {
  const grey: Colours = () => fromOklab([0.5, 0, 0])
  const spread = (width: number, size: number, strength = 1) => {
    const shape = { width, height: Math.round(width / 2) }
    const after = runStep(bench, grain, { strength, size }, shape, grey)
    let sum = 0
    let squares = 0
    let beside = 0
    const n = (shape.width - 1) * shape.height
    for (let y = 0; y < shape.height; y++)
      for (let x = 0; x < shape.width - 1; x++) {
        const v = lch(after(x, y)).L - 0.5
        sum += v
        squares += v * v
        beside += v * (lch(after(x + 1, y)).L - 0.5)
      }
    return { mean: sum / n, deviation: Math.sqrt(squares / n), like: beside / squares }
  }

  it('has no bias, follows its strength and is finer in a smaller view', () => {
    const large = spread(1000, 4)
    expect(Math.abs(large.mean)).toBeLessThan(0.004)
    expect(large.deviation).toBeGreaterThan(0.04)
    expect(spread(1000, 4, 0.5).deviation / large.deviation).toBeCloseTo(0.5, 1)
    // grains of four pixels are alike from pixel to pixel, smaller ones are not
    expect(large.like).toBeGreaterThan(0.7)
    const small = spread(250, 2)
    expect(small.like).toBeLessThan(0.3)
    expect(small.deviation).toBeLessThan(large.deviation * 0.75)
  })

  it('spares black and white', () => {
    const shape = { width: 64, height: 8 }
    for (const v of [0, 1]) {
      const flat: Colours = () => [v, v, v]
      const after = runStep(bench, grain, { strength: 1, size: 2 }, shape, flat)
      for (let x = 0; x < 64; x++) expect(Math.abs(after(x, 3)[1] - v)).toBeLessThan(0.08)
    }
  })
})

describe('grain of an upright picture', () => {
  it('is as large as that of the same picture lying down', () => {
    const grains = (width: number, height: number) =>
      runStep(bench, grain, { strength: 1, size: 2 }, { width, height }, () => [0.2, 0.2, 0.2])
    const lying = grains(64, 32)
    const values = (at: Colours) => Array.from({ length: 32 * 32 }, (_, i) => at(i % 32, i >> 5)[0])
    const there = values(lying)
    expect(values(grains(32, 64))).toEqual(there)
    expect(new Set(there).size).toBeGreaterThan(500)
  })
})
