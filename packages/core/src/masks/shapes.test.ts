import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import { STEPS } from '../steps'
import { AreaStepsSchema } from '../steps/areas/schema'
import { drawMask } from './draw'
import { plannedMask, type DrawnShape, type PlannedMask } from './planned'
import { MaskSchema, ShapeSchema } from './schema'
import type { MaskWindow } from './shapes'

/** Pixels to a long edge. */
const LONG = 100

/** A window of the picture, pixels; its sides as large as those of the sensor's. */
function windowOf(x: number, y: number, width: number, height: number): MaskWindow {
  const n = width * height
  const us = Float32Array.from({ length: n }, (_, i) => (x + (i % width) + 0.5) / LONG)
  const vs = Float32Array.from({ length: n }, (_, i) => (y + Math.floor(i / width) + 0.5) / LONG)
  return { width, height, us, vs, pixel: 1 / LONG }
}
const PICTURE = windowOf(0, 0, 100, 60)

const places = (list: readonly (readonly [number, number])[]) =>
  list.map(([x, y]) => ({ x: Math.fround(x / LONG), y: Math.fround(y / LONG) }))

function shape(written: object, way?: readonly (readonly [number, number])[]): DrawnShape {
  const read = ShapeSchema.parse({ id: 'a', x: 0, y: 0, ...written })
  return way ? { ...read, places: places(way) } : read
}

/** A mask of shapes. @returns its value at the middle of a pixel */
function drawn(shapes: readonly DrawnShape[], more: object = {}, window = PICTURE) {
  const plain: PlannedMask = { ...plannedMask(MaskSchema.parse(more)), shapes }
  const mask = drawMask(plain, window) ?? new Float32Array(window.width * window.height)
  return { mask, at: (x: number, y: number) => mask[y * window.width + x] }
}

describe('shapes', () => {
  it('a ramp falls from all to nothing between its ends, with half at its middle', () => {
    const { at } = drawn([shape({ kind: 'ramp', from: [0.205, 0], to: [0.605, 0], middle: 0.25 })])
    expect([at(10, 5), at(20, 50), at(30, 5), at(60, 7), at(90, 40)]).toEqual([
      1,
      expect.closeTo(1, 5),
      expect.closeTo(0.5, 5),
      expect.closeTo(0, 5),
      0,
    ])
    expect(at(25, 5)).toBeGreaterThan(at(26, 5))
  })

  it('a ramp runs across its line whichever way that goes', () => {
    const { at } = drawn([shape({ kind: 'ramp', from: [0.3, 0.4], to: [0.5, 0.2] })])
    // along a line of the same share
    expect(at(35, 25)).toBeCloseTo(at(45, 35), 5)
    expect(at(10, 50)).toBe(1)
    expect(at(70, 5)).toBe(0)
  })

  it('an oval lies turned about its middle, and runs out from its inner ring', () => {
    const oval = { kind: 'oval', x: 0.505, y: 0.305, across: 0.3, down: 0.1, turn: 90, softness: 0.5 }
    const { at } = drawn([shape(oval)])
    expect(at(50, 30)).toBe(1)
    expect(at(50, 16)).toBe(1)
    // half way from the inner ring to the oval
    expect(at(50, 30 - 22)).toBeCloseTo(0.55, 1)
    expect(at(50, 0)).toBeCloseTo(0, 1)
    expect(at(61, 30)).toBe(0)
    expect(at(57, 30)).toBeCloseTo(at(43, 30), 5)
  })

  it('an oval runs out evenly from its inner ring, wherever that lies', () => {
    const [x, y, across, down, turn, softness] = [0.45, 0.3, 0.2, 0.1, 35, 0.7]
    const shift = [0.25, -0.4] as const
    const oval = shape({ kind: 'oval', x, y, across, down, turn, softness, shift })
    const next = random(8)
    const [cosine, sine] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)]
    for (let k = 0; k < 60; k++) {
      const [s, angle] = [next(), 2 * Math.PI * next()]
      // a place on the ring that lies that far between the two
      const radius = 1 - softness + s * softness
      const u = across * ((1 - s) * shift[0] + radius * Math.cos(angle))
      const v = down * ((1 - s) * shift[1] + radius * Math.sin(angle))
      const us = Float32Array.of(x + u * cosine - v * sine)
      const vs = Float32Array.of(y + u * sine + v * cosine)
      const { mask } = drawn([oval], {}, { width: 1, height: 1, us, vs, pixel: 1e-4 })
      expect(mask[0]).toBeCloseTo(1 - s * s * (3 - 2 * s), 3)
    }
  })

  it('an oval whose inner ring is moved is steep on one side and gentle on the other', () => {
    const oval = { kind: 'oval', x: 0.505, y: 0.305, across: 0.2, down: 0.2, softness: 0.6, shift: [0.4, 0] }
    const { at, mask } = drawn([shape(oval)])
    // the inner ring reaches from 0.4 - 0.4 to 0.4 + 0.4 of the radius
    expect(at(51, 30)).toBe(1)
    expect(at(65, 30)).toBe(1)
    expect(at(71, 30)).toBe(0)
    expect(at(40, 30)).toBeGreaterThan(0.3)
    expect(at(29, 30)).toBe(0)
    expect(Math.max(...mask)).toBeLessThanOrEqual(1)
    // beyond where it could go it is held, and nothing is out of range
    const held = drawn([shape({ ...oval, shift: [1, 1] })]).mask
    expect(held.every((v) => v >= 0 && v <= 1)).toBe(true)
  })

  it('a stroke is full along its way and gone at its width', () => {
    const stroke = { kind: 'stroke', radius: 0.1, softness: 0.4 }
    const { at } = drawn([shape(stroke, [[20.5, 20.5], [60.5, 20.5], [60.5, 50.5]])]) // prettier-ignore
    expect([at(20, 20), at(40, 25), at(60, 40), at(64, 24)]).toEqual([1, 1, 1, 1])
    expect(at(40, 28)).toBeCloseTo(0.5, 5)
    expect([at(40, 30), at(40, 35), at(5, 20)]).toEqual([0, 0, 0])
  })

  it('a stroke of a pen is as much thinner as it was pressed less', () => {
    const stroke = shape({ kind: 'stroke', radius: 0.2, softness: 0 }, [[10.5, 30.5], [90.5, 30.5]]) // prettier-ignore
    const [a, b] = stroke.places!
    const pen = {
      ...stroke,
      places: [
        { ...a, pressure: 1 },
        { ...b, pressure: 0.25 },
      ],
    }
    const { mask } = drawn([pen])
    // at a fifth, a half and four fifths of the way
    for (const [x, width] of [
      [26, 34],
      [50, 25],
      [74, 16],
    ] as const) {
      // prettier-ignore
      const column = Array.from({ length: 60 }, (_, y) => mask[y * 100 + x])
      expect(column.filter((v) => v > 0.5).length).toBeGreaterThanOrEqual(width - 1)
      expect(column.filter((v) => v > 0.5).length).toBeLessThanOrEqual(width + 1)
    }
    expect(drawn([{ ...stroke, places: stroke.places!.map((p) => ({ ...p, pressure: 1 })) }]).mask).toEqual(
      drawn([stroke]).mask,
    )
  })

  it('a stroke of one place is a dab, and one without softness ends at its size', () => {
    const { at } = drawn([shape({ kind: 'stroke', radius: 0.1, softness: 0 }, [[50.5, 30.5]])])
    expect([at(50, 30), at(59, 30), at(60, 30), at(61, 30)]).toEqual([1, 1, expect.closeTo(0.5, 4), 0])
  })

  it('an outline holds what it goes around at all, also where it crosses itself', () => {
    const star = [0, 2, 4, 1, 3].map((k): [number, number] => {
      const angle = (2 * Math.PI * k) / 5 - Math.PI / 2
      return [50 + 25 * Math.cos(angle), 30 + 25 * Math.sin(angle)]
    })
    const { at } = drawn([shape({ kind: 'outline', softness: 0 }, star)])
    expect([at(50, 30), at(50, 10), at(50, 45), at(20, 30)]).toEqual([1, 1, 0, 0])
    const soft = drawn([shape({ kind: 'outline', softness: 0.1 }, [[20, 10], [80, 10], [80, 50], [20, 50]])]) // prettier-ignore
    expect(soft.at(50, 30)).toBe(1)
    expect(soft.at(19, 30) + soft.at(20, 30)).toBeCloseTo(1, 4)
    expect([soft.at(14, 30), soft.at(26, 30)]).toEqual([0, 1])
  })

  it('an outline is whole where its corners lie on a line of pixels', () => {
    const rhomb = [[50.5, 10.5], [80.5, 30.5], [50.5, 50.5], [20.5, 30.5]] as const // prettier-ignore
    const { at } = drawn([shape({ kind: 'outline', softness: 0 }, rhomb)])
    expect([at(5, 30), at(50, 30), at(95, 30), at(5, 10), at(95, 10), at(5, 50), at(50, 51)]).toEqual([
      ...[0, 1, 0, 0, 0, 0, 0],
    ])
  })

  it('an outline without corners holds nothing', () => {
    expect(drawn([shape({ kind: 'outline' }, [[20, 20], [40, 30]])]).mask.every((v) => v === 0)).toBe(true) // prettier-ignore
    expect(drawn([shape({ kind: 'outline' })]).mask.every((v) => v === 0)).toBe(true)
  })

  it('are the same however the picture is cut', () => {
    const next = random(3)
    const way = Array.from({ length: 60 }, (): [number, number] => [100 * next(), 60 * next()])
    const shapes = [
      shape({ kind: 'oval', x: 0.5, y: 0.3, across: 0.4, down: 0.2, turn: 30 }),
      shape({ kind: 'stroke', radius: 0.03, flow: 0.7 }, way),
      shape({ kind: 'stroke', radius: 0.08, softness: 0.2 }, [[70, 20], [75, 40]]), // prettier-ignore
      shape({ kind: 'outline', way: 'take', softness: 0.02 }, way.slice(0, 9)),
      shape({ kind: 'ramp', way: 'common', from: [0, 0], to: [1, 0.5] }),
    ]
    const whole = drawn(shapes)
    for (const [x, y, w, h] of [
      [0, 0, 37, 60],
      [37, 11, 63, 29],
      [99, 59, 1, 1],
      ...Array.from({ length: 60 }, (_, i) => [10 * (i % 10), 10 * Math.floor(i / 10), 10, 10]),
    ]) {
      const part = drawn(shapes, {}, windowOf(x, y, w, h))
      for (let j = 0; j < h; j++)
        for (let i = 0; i < w; i++) expect(part.at(i, j)).toBe(whole.at(x + i, y + j))
    }
  })
})

describe('ranges', () => {
  /** One grey or colour a pixel: light as linear values of Oklab's lightness cubed. */
  const seen = (list: readonly (readonly [L: number, a: number, b: number])[]): MaskWindow => ({
    ...windowOf(0, 0, list.length, 1),
    guide: () => ({
      L: Float32Array.from(list, ([L]) => L),
      a: Float32Array.from(list, ([, a]) => a),
      b: Float32Array.from(list, ([, , b]) => b),
    }),
  })
  const grey = (ev: number) => [Math.cbrt(0.18 * 2 ** ev), 0, 0] as const

  it('of tones take EV from middle grey, and run out over as many as said', () => {
    const range = { from: -2, to: 1, below: 2, above: 1 }
    const window = seen([-5, -4, -3, -2, 0, 1, 1.5, 2, 4].map(grey))
    const { mask } = drawn([shape({ kind: 'tones', range })], {}, window)
    const wanted = [0, 0, 0.5, 1, 1, 1, 0.5, 0, 0]
    mask.forEach((v, i) => expect(v).toBeCloseTo(wanted[i], 3))
  })

  it('of tones are open at their ends', () => {
    const window = seen([[0, 0, 0], grey(-14), grey(9)])
    expect([...drawn([shape({ kind: 'tones' })], {}, window).mask]).toEqual([1, 1, 1])
  })

  it('of colours take what is near a sample, however bright, and nothing without samples', () => {
    const window = seen([[0.8, 0.08, 0.16], [0.2, 0.02, 0.04], [0.8, 0.08, -0.16], [0.8, 0, 0], [0, 0, 0]]) // prettier-ignore
    const range = { samples: [[0.1, 0.2]], reach: 0.02, softness: 0.02 }
    expect([...drawn([shape({ kind: 'colours', range })], {}, window).mask]).toEqual([1, 1, 0, 0, 0])
    expect(drawn([shape({ kind: 'colours' })], {}, window).mask.every((v) => v === 0)).toBe(true)
  })

  it('limit any shape', () => {
    const window = seen([grey(-3), grey(0), [0.5, 0.05, 0.1]])
    const everywhere = { kind: 'oval', x: 0, y: 0, across: 2, down: 2, softness: 0 }
    const tones = { from: -1, to: 1, below: 0, above: 0 }
    expect([...drawn([shape({ ...everywhere, tones })], {}, window).mask]).toEqual([0, 1, 1])
    const colours = { samples: [[0.1, 0.2]] }
    expect([...drawn([shape({ ...everywhere, tones, colours })], {}, window).mask]).toEqual([0, 0, 1])
    // what is turned round is limited all the same
    expect([...drawn([shape({ ...everywhere, x: 4, invert: true, tones })], {}, window).mask]).toEqual([
      0, 1, 1,
    ])
  })
})

describe('a mask', () => {
  const left = { kind: 'ramp', from: [0.5, 0], to: [0.5, 0] }
  const everywhere = (more: object) =>
    shape({ kind: 'oval', x: 0.5, y: 0.3, across: 2, down: 2, softness: 0, ...more })
  const part = (strength: number, more: object = {}) => everywhere({ strength, ...more })
  const first = (shapes: readonly DrawnShape[], more: object = {}) => drawn(shapes, more).mask[0]

  it('adds, takes away and keeps in common in order, each as far as its strength', () => {
    expect(first([part(0.5), part(0.5)])).toBeCloseTo(0.75, 6)
    expect(first([part(0.8), part(0.25, { way: 'take' })])).toBeCloseTo(0.6, 6)
    expect(first([part(1), part(0.4, { way: 'common', invert: true })])).toBeCloseTo(0.6, 6)
    expect(first([part(1, { way: 'take' }), part(0.3)])).toBeCloseTo(0.3, 6)
    expect(first([part(0.3), part(1, { way: 'take' })])).toBe(0)
    // far away it holds nothing in common with anything
    expect(first([part(1), part(0.4, { way: 'common', x: 4 })])).toBeCloseTo(0.6, 6)
    expect(first([part(1), part(1, { way: 'common', x: 4 })])).toBe(0)
  })

  it('holds nothing before its first shape, or everything, and the other way round', () => {
    expect([first([]), first([], { start: 'everything' }), first([], { invert: true })]).toEqual([0, 1, 1])
    expect(first([part(1, { way: 'take' })])).toBe(0)
    expect(first([part(0.3, { way: 'take' })], { start: 'everything', invert: true })).toBeCloseTo(0.3, 6)
  })

  it('builds strokes up by their flow as far as their limit', () => {
    const dab = shape({ kind: 'stroke', radius: 0.2, flow: 0.5, limit: 0.6 }, [[0.5, 0.5]])
    expect(first([dab])).toBeCloseTo(0.5, 6)
    expect(first([dab, dab, dab])).toBeCloseTo(0.6, 6)
    // there is more already: it takes nothing of that
    expect(first([part(0.9), dab])).toBeCloseTo(0.9, 6)
    const taken = { ...dab, way: 'take' as const }
    expect(first([part(1), taken])).toBeCloseTo(0.5, 6)
    expect(first([part(1), taken, taken, taken])).toBeCloseTo(0.4, 6)
  })

  it('of a line without length is an edge', () => {
    const { at } = drawn([shape(left)])
    expect(new Set([at(0, 0), at(99, 0), at(0, 59), at(99, 59)]).size).toBeGreaterThan(1)
  })

  it('is another by every shape at work, and the same by those that are not', () => {
    const mask = (shapes: object[]) =>
      plannedMask(MaskSchema.parse({ shapes: shapes.map((s, i) => ({ id: `${i}`, ...s })) }))
    expect(mask([left]).key).not.toBe(mask([left, { ...left, way: 'take' }]).key)
    expect(mask([left, { ...left, on: false }, { ...left, strength: 0 }]).key).toBe(mask([left]).key)
    expect([
      mask([left]).reads,
      mask([{ kind: 'tones' }]).reads,
      mask([{ ...left, colours: {} }]).reads,
    ]).toEqual([false, true, true])
  })
})

it('has the steps in areas that may run there', () => {
  const there = Object.keys(AreaStepsSchema.shape)
  const may = STEPS.filter(
    (s) => 'inArea' in s && s.inArea && !('settingsOf' in s && there.includes(s.settingsOf ?? '')),
  )
  expect(there).toEqual(may.map((s) => s.id))
})
