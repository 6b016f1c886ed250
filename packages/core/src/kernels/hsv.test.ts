import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { floatsAt, random, testBench } from '../../test/bench'
import {
  encodingTables,
  hsvBlock,
  hueSatMapFor,
  kelvinFromXy,
  toneTable,
  xyFromNeutral,
  type HsvTable,
} from '../colour'
import type { Scratch } from '../memory'
import type { Kernels } from './kernels'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))
beforeEach(() => scratch.release())

type Rgb = [number, number, number]

function look(table: HsvTable, colours: readonly Rgb[]): Rgb[] {
  const n = (colours.length + 3) & ~3
  const planes = [0, 1, 2].map((c) =>
    scratch.floats(Array.from({ length: n }, (_, i) => colours[i]?.[c] ?? 0)),
  )
  const curve = table.encoded ? scratch.floats(encodingTables()) : 0
  const { hues, saturations, levels } = table
  kernels.hsv_table(
    planes[0],
    planes[1],
    planes[2],
    n,
    scratch.floats(hsvBlock(table)),
    hues,
    saturations,
    levels,
    curve,
  )
  return colours.map((_, i) => planes.map((p) => floatsAt(scratch, p, n)[i]) as Rgb)
}

const next = random(2)
const colours: Rgb[] = Array.from({ length: 64 }, () => [next(), next(), next()])
const table = (entry: (h: number, s: number, v: number) => Rgb, levels = 1, encoded = false): HsvTable => {
  const values: number[] = []
  for (let v = 0; v < levels; v++)
    for (let h = 0; h < 12; h++) for (let s = 0; s < 4; s++) values.push(...entry(h, s, v))
  return { hues: 12, saturations: 4, levels, values: Float32Array.from(values), encoded }
}

/** Hue in degrees, saturation and value of the hexagonal model. */
function hsv([r, g, b]: Rgb): Rgb {
  const v = Math.max(r, g, b)
  const d = v - Math.min(r, g, b)
  const h = d === 0 ? 0 : v === r ? ((g - b) / d + 6) % 6 : v === g ? 2 + (b - r) / d : 4 + (r - g) / d
  return [h * 60, v === 0 ? 0 : d / v, v]
}

describe('tables of hue, saturation and value', () => {
  it.each([false, true])('leave colours alone where they say nothing, value encoded %s', (encoded) => {
    look(
      table(() => [0, 1, 1], 3, encoded),
      colours,
    ).forEach((c, i) => c.forEach((v, k) => expect(v).toBeCloseTo(colours[i][k], 3)))
  })

  it('turn hue and scale saturation and value', () => {
    look(
      table(() => [30, 0.5, 0.8]),
      colours,
    ).forEach((c, i) => {
      const [h, s, v] = hsv(colours[i])
      const [h2, s2, v2] = hsv(c)
      expect(Math.abs(((h2 - h - 30 + 540) % 360) - 180)).toBeLessThan(0.1)
      expect(s2).toBeCloseTo(s / 2, 4)
      expect(v2).toBeCloseTo(v * 0.8, 5)
    })
  })

  it('read between their entries, round the circle of hues', () => {
    const t = table((h, s, v) => [0, 1, 1 + 0.02 * h + 0.1 * s + 0.3 * v], 2)
    look(t, colours).forEach((c, i) => {
      const [h, s, v] = hsv(colours[i])
      const hue = h / 30
      // from the last hue to the first the table falls back
      const place = hue <= 11 ? hue : 11 - 11 * (hue - 11)
      expect(c.reduce((a, b) => Math.max(a, b))).toBeCloseTo(v * (1 + 0.02 * place + 0.3 * s + 0.3 * v), 3)
    })
  })

  it('are taken between two lights in inverse temperature', () => {
    const camera = {
      calibrations: [
        { kelvin: 6504, colorMatrix: [0.9, -0.1, -0.1, -0.45, 1.2, 0.2, -0.1, 0.2, 0.5] as const },
      ],
      analogBalance: [1, 1, 1] as const,
      asShotNeutral: [1, 1, 1] as const,
    }
    const maps = [
      { kelvin: 2856, map: table(() => [10, 1, 1]) },
      { kelvin: 6504, map: table(() => [20, 1, 1]) },
    ]
    const warm = hueSatMapFor({ maps }, camera, [1, 0.6, 0.2])!
    const cool = hueSatMapFor({ maps }, camera, [0.5, 1, 0.8])!
    expect(warm.values[0]).toBeLessThan(cool.values[0])
    expect(cool.values[0]).toBeLessThanOrEqual(20)
    expect(warm.values[0]).toBeGreaterThanOrEqual(10)
  })
})

describe('a tone curve', () => {
  it('goes through its points, and keeps hue', () => {
    const points = [
      [0, 0],
      [0.2, 0.35],
      [0.6, 0.8],
      [1, 1],
    ] as const
    const curve = toneTable(points)
    for (const [x, y] of points) expect(curve[Math.round(x * 4096)]).toBeCloseTo(y, 3)
    for (let i = 1; i < curve.length; i++) expect(curve[i]).toBeGreaterThanOrEqual(curve[i - 1])
    const planes = [0, 1, 2].map((c) => scratch.floats(colours.map((v) => v[c])))
    kernels.hue_curve(planes[0], planes[1], planes[2], 64, scratch.floats(curve))
    colours.forEach((before, i) => {
      const after = planes.map((p) => floatsAt(scratch, p, 64)[i]) as Rgb
      expect(Math.max(...after)).toBeCloseTo(curve[Math.round(Math.max(...before) * 4096)], 2)
      expect(Math.abs(hsv(after)[0] - hsv(before)[0])).toBeLessThan(0.1)
    })
  })
})

describe('tables for two lights', () => {
  const camera = {
    calibrations: [
      { kelvin: 6504, colorMatrix: [0.9, -0.1, -0.1, -0.45, 1.2, 0.2, -0.1, 0.2, 0.5] as const },
    ],
    analogBalance: [1, 1, 1] as const,
    asShotNeutral: [1, 1, 1] as const,
  }
  const one = (hue: number): HsvTable => ({
    ...{ hues: 1, saturations: 2, levels: 1, encoded: false },
    values: Float32Array.from([hue, 1, 1, hue, 1, 1]),
  })
  const kelvinOf = (neutral: Rgb) => kelvinFromXy(xyFromNeutral(camera, neutral)).kelvin
  const between = (low: number, high: number, neutral: Rgb) =>
    hueSatMapFor(
      {
        maps: [
          { kelvin: high, map: one(20) },
          { kelvin: low, map: one(10) },
        ],
      },
      camera,
      neutral,
    )!.values[0]

  it('go in inverse temperature from one to the other, in whatever order they come', () => {
    const neutral: Rgb = [0.6, 1, 0.6]
    const kelvin = kelvinOf(neutral)
    const [low, high] = [kelvin * 0.8, kelvin * 1.5]
    const share = (1 / kelvin - 1 / low) / (1 / high - 1 / low)
    expect(share).toBeGreaterThan(0.3)
    expect(between(low, high, neutral)).toBeCloseTo(10 + 10 * share, 4)
  })

  it('stop at either of them', () => {
    const neutral: Rgb = [0.6, 1, 0.6]
    const kelvin = kelvinOf(neutral)
    expect(between(kelvin * 1.2, kelvin * 2, neutral)).toBe(10)
    expect(between(kelvin * 0.4, kelvin * 0.8, neutral)).toBe(20)
  })
})
