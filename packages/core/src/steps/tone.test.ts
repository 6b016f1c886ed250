import { beforeAll, describe, expect, it } from 'vitest'
import { random, testBench } from '../../test/bench'
import { runStep, type Colours } from '../../test/steps'
import type { Kernels } from '../kernels/kernels'
import { exp2, log2, type Triple } from '../math'
import { WHITE_POINT } from './points/schema'
import type { Scratch } from '../memory'
import {
  curve,
  CurveSchema,
  evenLighting,
  points,
  rangeCurve,
  RangeCurveSchema,
  recovery,
  renderGrey,
  renderingCurve,
  slopeAtGrey,
  gradeSlope,
  MID_GREY,
  tones,
  TonesSchema,
  withPoints,
} from './index'

let bench: { kernels: Kernels; scratch: Scratch }
beforeAll(async () => (bench = await testBench(128)))

const SIZE = { width: 512, height: 96 }
const grey = (stops: number): Triple => {
  const v = 0.18 * exp2(stops)
  return [v, v, v]
}
const stopsOf = ([, g]: Triple) => log2(Math.max(g, 1e-9) / 0.18)
/** What a step does to a place, in stops. */
const moved = (before: Colours, after: Colours, x: number, y: number) =>
  stopsOf(after(x, y)) - stopsOf(before(x, y))

const grips = (part: object) => TonesSchema.parse(part)

describe('tone grips', () => {
  // a wedge from -7 to +3 stops, patches 48 wide
  const wedge: Colours = (x) => grey(Math.min(Math.floor(x / 48), 10) - 7)

  it('lift the shadows by what they say and leave tones two stops above mid grey alone', () => {
    const after = runStep(bench, tones, grips({ shadows: { lift: 1 } }), SIZE, wedge)
    const at = (stops: number) => moved(wedge, after, (stops + 7) * 48 + 24, 48)
    expect(at(-2)).toBeGreaterThan(0.75)
    expect(at(-3)).toBeGreaterThan(0.75)
    for (const s of [0, 1, 2, 3]) expect(Math.abs(at(s))).toBeLessThan(0.05)
    expect(Math.abs(at(-6))).toBeLessThan(0.05)
    // nowhere in the patches above either, up to their borders
    for (let x = 9 * 48; x < 512; x++) expect(Math.abs(moved(wedge, after, x, 20))).toBeLessThan(0.05)
  })

  it.each([
    ['shadows up', { deepShadows: { lift: 2 }, shadows: { lift: 2 } }],
    ['lights down', { highlights: { lift: -2 }, brightHighlights: { lift: -3 } }],
    ['everything', { shadows: { lift: 3 }, midTones: { lift: -1 }, brightHighlights: { lift: -3 } }],
  ])('cast no halo at an edge of six stops: %s', (_, part) => {
    // a roof against the sky, slanted
    const edge: Colours = (x, y) => grey(x + y / 2 < 256 ? -3.5 : 2.5)
    const after = runStep(bench, tones, grips(part), SIZE, edge)
    const far = [after(20, 48)[1], after(490, 48)[1]]
    for (let y = 0; y < 96; y += 5)
      for (let x = 0; x < 512; x++) {
        const dark = x + y / 2 < 256
        // within 2 % of what the plain surface far from the edge becomes
        expect(Math.abs(after(x, y)[1] / far[dark ? 0 : 1] - 1)).toBeLessThan(0.02)
      }
  })

  it('keep the drawing of a surface that they lift', () => {
    const next = random(3)
    const noise = Array.from({ length: 512 * 96 }, () => (next() - 0.5) * 0.5)
    const dark: Colours = (x, y) => grey(-3 + noise[y * 512 + x])
    const after = runStep(bench, tones, grips({ shadows: { at: -2.5, lift: 2 } }), SIZE, dark)
    const places: [number, number][] = []
    for (let x = 100; x < 400; x++) for (let y = 20; y < 76; y++) places.push([x, y])
    const lifts = places.map(([x, y]) => moved(dark, after, x, y))
    const mean = lifts.reduce((m, v) => m + v, 0) / lifts.length
    const deviation = (v: number[], m: number) =>
      Math.sqrt(v.reduce((q, d) => q + (d - m) ** 2, 0) / v.length)
    const own = deviation(
      places.map(([x, y]) => noise[y * 512 + x]),
      0,
    )
    const now = deviation(lifts, mean)
    expect(mean).toBeGreaterThan(1.5)
    // differences of half a stop keep five sixths of themselves
    expect(now / own).toBeLessThan(0.18)
  })

  /** Of a texture of a quarter stop, the share of contrast that is left under a lift. */
  const kept = (part: object, stops: number, texture: (x: number, y: number) => number) => {
    const drawn: Colours = (x, y) => grey(stops + 0.25 * texture(x, y))
    const after = runStep(bench, tones, grips(part), SIZE, drawn)
    let [both, own] = [0, 0]
    for (let x = 100; x < 400; x++)
      for (let y = 20; y < 76; y++) {
        const d = 0.25 * texture(x, y)
        both += d * stopsOf(after(x, y))
        own += d * d
      }
    return both / own
  }
  const next = random(7)
  const white = Array.from({ length: 512 * 96 }, () => (next() - 0.5) * Math.sqrt(12))
  const textures: [string, (x: number, y: number) => number][] = [
    ['grains of a pixel', (x, y) => white[y * 512 + x]],
    ['stripes of two', (x) => Math.SQRT2 * Math.sin((x * Math.PI) / 2)],
    ['spots of five', (x, y) => 2 * Math.sin((x * Math.PI) / 5) * Math.sin((y * Math.PI) / 5)],
  ]
  it.each(textures)('keep the drawing where the lift itself changes: %s', (_, texture) => {
    for (const stops of [-2, -1.5, -1, -0.5])
      expect(kept({ shadows: { lift: 2 } }, stops, texture)).toBeGreaterThan(0.85)
    for (const stops of [0.5, 1])
      expect(kept({ highlights: { lift: -2 } }, stops, texture)).toBeGreaterThan(0.85)
  })

  it.each([1, 1.5, 2, 4])(
    'cast no halo at an edge of %s stops in the tones where the lift changes',
    (stops) => {
      const edge: Colours = (x, y) => grey(-1 + (x + y / 2 < 256 ? -stops / 2 : stops / 2))
      const after = runStep(bench, tones, grips({ shadows: { lift: 2 } }), SIZE, edge)
      for (let y = 0; y < 96; y += 7)
        for (let x = 0; x < 512; x++) {
          // the edge's own pixels are drawing
          if (Math.abs(x + y / 2 - 256) < 3) continue
          expect(Math.abs(moved(() => after(x + y / 2 < 256 ? 20 : 490, 48), after, x, y))).toBeLessThan(0.05)
        }
    },
  )

  it('never turn tones around, however far they are pulled against each other', () => {
    const ramp: Colours = (x) => grey((x / 511) * 14 - 9)
    const all = { deepShadows: 3, shadows: -3, midTones: 3, highlights: -3, brightHighlights: 3 }
    const part = Object.fromEntries(Object.entries(all).map(([k, lift]) => [k, { lift }]))
    const after = runStep(bench, tones, grips(part), SIZE, ramp)
    // to two thousandths of a stop: how far surroundings count differs from place to place
    for (let x = 1; x < 512; x++) expect(moved(() => after(x - 1, 48), after, x, 48)).toBeGreaterThan(-2e-3)
  })

  it('want to be in order', () => {
    expect(() => grips({ shadows: { at: 1 } })).toThrow(/order/)
  })
})

describe('recovery', () => {
  it('brings lights six stops above mid grey below display white and leaves what is below its knee', () => {
    const wedge: Colours = (x) => grey(Math.min(Math.floor(x / 64), 7) - 1)
    const after = runStep(bench, recovery, { amount: 1 }, SIZE, wedge)
    const at = (stops: number) => stopsOf(after((stops + 1) * 64 + 32, 48))
    expect(at(6)).toBeLessThan(3.2)
    expect(at(6)).toBeGreaterThan(3)
    expect(at(-1)).toBeCloseTo(-1, 2)
    expect(at(0)).toBeCloseTo(0, 2)
    for (let s = 0; s < 6; s++) expect(at(s + 1)).toBeGreaterThan(at(s) + 0.1)
  })
})

describe('even lighting', () => {
  it('evens a slow fall of light and keeps the differences of things', () => {
    // light falls off by 4 stops over the picture, a pattern of one stop lies on it
    const things = (x: number, y: number) => ((x >> 3) + (y >> 3)) % 2
    const scene: Colours = (x, y) => grey(2 - (4 * x) / 511 + things(x, y) - 1)
    const after = runStep(bench, evenLighting, { amount: 1 }, SIZE, scene)
    const mean = (f: Colours, from: number) => {
      let sum = 0
      for (let x = from; x < from + 64; x++) for (let y = 16; y < 80; y++) sum += stopsOf(f(x, y)) / 4096
      return sum
    }
    const before = mean(scene, 32) - mean(scene, 416)
    expect(before).toBeCloseTo(3, 1)
    expect(mean(after, 32) - mean(after, 416)).toBeLessThan(before * 0.6)
    // neighbours keep their difference
    const step = (f: Colours) => Math.abs(stopsOf(f(252, 44)) - stopsOf(f(260, 44)))
    expect(step(after)).toBeGreaterThan(step(scene) * 0.75)
  })
})

describe('black and white point', () => {
  it('go where they are set, with mid grey and its contrast untouched', () => {
    const settings = { black: -4, white: 2 }
    expect(withPoints(settings, 0.18 * exp2(-4))).toBeCloseTo(0, 9)
    expect(withPoints(settings, 0.18 * 4)).toBeCloseTo(0.18 * exp2(3.15), 6)
    expect(withPoints(settings, 0.18)).toBeCloseTo(0.18, 9)
    const slope = (s: number) =>
      (log2(withPoints(settings, 0.18 * exp2(s + 1e-4))) - log2(withPoints(settings, 0.18 * exp2(s)))) / 1e-4
    expect(slope(0)).toBeCloseTo(1, 3)
    expect(slope(-0.0002)).toBeCloseTo(1, 2)
    for (const s of [{ black: -1.5, white: 6 }, { black: -12, white: 1.6 }, settings]) {
      let last = -1
      for (let x = -10; x < 7; x += 0.05) {
        const y = withPoints(s, 0.18 * exp2(x))
        expect(y).toBeGreaterThanOrEqual(last)
        last = y
      }
    }
  })

  it('keep the ratios of the channels', () => {
    const warm: Colours = (x) => [0.5 * (x / 256), 0.3 * (x / 256), 0.1 * (x / 256)]
    const after = runStep(bench, points, { black: -3, white: 2.2 }, SIZE, warm)
    for (const x of [120, 256, 400, 510]) {
      const [r, g, b] = after(x, 10)
      expect(r / g).toBeCloseTo(5 / 3, 4)
      expect(b / g).toBeCloseTo(1 / 3, 4)
    }
    const size = (0.5 ** 3 + 0.3 ** 3 + 0.1 ** 3) / (0.5 ** 2 + 0.3 ** 2 + 0.1 ** 2)
    expect(after(256, 10)[0]).toBeCloseTo((0.5 * withPoints({ black: -3, white: 2.2 }, size)) / size, 4)
  })
})

describe('character of the rendering', () => {
  it('moves mid grey by the brightness and keeps white, black and contrast', () => {
    for (const brightness of [-1.5, -0.5, 0.5, 1.5])
      for (const grade of [0, 2, 4]) {
        const c = renderingCurve(grade, { brightness, shoulder: 0, toe: 0 })
        expect(renderGrey(c, MID_GREY)).toBeCloseTo(MID_GREY * exp2(brightness), 6)
        expect(renderGrey(c, 1.6)).toBeCloseTo(1, 6)
        // so far from the usual grey not every contrast fits between it and white
        if (Math.abs(brightness) < 1 && grade > 0) expect(slopeAtGrey(c)).toBeCloseTo(gradeSlope(grade), 5)
      }
  })

  it('bends late or early at the shoulder and deep or shallow at the toe, the middle where it is', () => {
    const at = (shoulder: number, toe: number, stops: number) =>
      renderGrey(renderingCurve(2, { brightness: 0, shoulder, toe }), MID_GREY * exp2(stops))
    expect(at(1, 0, 2)).toBeGreaterThan(at(0, 0, 2) * 1.02)
    expect(at(-1, 0, 2)).toBeLessThan(at(0, 0, 2))
    expect(at(0, 1, -5)).toBeLessThan(at(0, 0, -5) * 0.9)
    expect(at(0, -1, -5)).toBeGreaterThan(at(0, 0, -5) * 1.1)
    for (const s of [-1, 1]) {
      expect(at(s, s, 0)).toBeCloseTo(MID_GREY, 6)
      for (let x = -9; x < 3; x += 0.1) expect(at(s, s, x + 0.1)).toBeGreaterThan(at(s, s, x))
    }
  })
})

describe('curves', () => {
  const ramp: Colours = (x) => {
    const v = (x / 511) ** 2
    return [v, v, v]
  }
  const root = (v: number) => Math.sqrt(Math.max(v, 0))

  it('pass through their points, on all channels or by luminance', () => {
    for (const part of ['all', 'luminance']) {
      const settings = CurveSchema.parse({
        [part]: [
          [0, 0],
          [0.3, 0.2],
          [0.7, 0.82],
          [1, 1],
        ],
      })
      const after = runStep(bench, curve, settings, SIZE, ramp)
      expect(root(after(153, 1)[0])).toBeCloseTo(0.2 + (0.2 / 0.3) * (153 / 511 - 0.3), 2)
      expect(root(after(358, 1)[2])).toBeCloseTo(0.82, 2)
      for (let x = 1; x < 512; x++) expect(after(x, 1)[1]).toBeGreaterThan(after(x - 1, 1)[1])
    }
  })

  it('make a matte print where the ends move inward', () => {
    for (const part of ['all', 'luminance']) {
      const settings = CurveSchema.parse({
        [part]: [
          [0.05, 0.15],
          [0.95, 0.9],
        ],
      })
      const after = runStep(bench, curve, settings, SIZE, ramp)
      expect(root(after(0, 0)[0])).toBeCloseTo(0.15, 3)
      expect(root(after(511, 0)[0])).toBeCloseTo(0.9, 3)
    }
  })

  it('bend one channel alone', () => {
    const settings = CurveSchema.parse({
      red: [
        [0, 0],
        [0.5, 0.6],
        [1, 1],
      ],
    })
    const after = runStep(bench, curve, settings, SIZE, ramp)
    const [r, g, b] = after(256, 0)
    expect(root(r)).toBeCloseTo(0.6, 2)
    expect(g).toBeCloseTo((256 / 511) ** 2, 6)
    expect(b).toBeCloseTo((256 / 511) ** 2, 6)
  })

  it('refuse points that do not follow each other', () => {
    expect(() =>
      CurveSchema.parse({
        all: [
          [0, 0],
          [0.5, 0.2],
          [0.4, 0.8],
        ],
      }),
    ).toThrow(/follow/)
  })

  it('by ranges raise the range they are told to, between movable borders, and keep order', () => {
    const settings = RangeCurveSchema.parse({ borders: [0.3, 0.6], all: { low: -1, middle: 1, high: -1 } })
    const after = runStep(bench, rangeCurve, settings, SIZE, ramp)
    expect(root(after(Math.round(0.15 * 511), 0)[0])).toBeLessThan(0.1)
    expect(root(after(Math.round(0.45 * 511), 0)[0])).toBeGreaterThan(0.55)
    expect(root(after(Math.round(0.8 * 511), 0)[0])).toBeLessThan(0.75)
    expect(after(0, 0)[0]).toBeCloseTo(0, 5)
    expect(after(511, 0)[0]).toBeCloseTo(1, 5)
    for (let x = 1; x < 512; x++) expect(after(x, 1)[1]).toBeGreaterThan(after(x - 1, 1)[1])
    const blue = RangeCurveSchema.parse({ blue: { low: 1 } })
    const tinted = runStep(bench, rangeCurve, blue, SIZE, ramp)(60, 0)
    expect(tinted[2]).toBeGreaterThan(tinted[0] * 1.2)
    expect(tinted[0]).toBeCloseTo((60 / 511) ** 2, 6)
  })
})

describe('light beyond the white point', () => {
  it('goes on with the slope that it has there', () => {
    for (const white of [1.5, 2.5, 4]) {
      const settings = { black: -12, white }
      const at = (stops: number) => Math.log2(withPoints(settings, 0.18 * 2 ** stops) / 0.18)
      const slope = (stops: number) => (at(stops + 1e-4) - at(stops - 1e-4)) / 2e-4
      expect(slope(white - 0.001)).toBeCloseTo(slope(white + 0.001), 2)
      // straight on, and where the point was set it meets the rendering's white
      expect(slope(white + 1)).toBeCloseTo(slope(white + 0.01), 3)
      expect(at(white)).toBeCloseTo(WHITE_POINT.start, 6)
    }
  })
})
