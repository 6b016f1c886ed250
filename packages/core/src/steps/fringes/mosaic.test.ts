import { beforeAll, describe, expect, it } from 'vitest'
import { fillRaster, psnr, random, sampleAt, testBench } from '../../../test/bench'
import type { Kernels } from '../../kernels/kernels'
import type { Scratch } from '../../memory'
import type { PictureContext, Tile } from '../step'
import { mosaicFringes, type Apart } from './mosaic'

let bench: { kernels: Kernels; scratch: Scratch }
beforeAll(async () => (bench = await testBench()))

const SIZE = 160
const LARGE = [
  1, 0, 1, 1, 2, 1, 2, 1, 2, 0, 1, 0, 1, 0, 1, 1, 2, 1, 1, 2, 1, 1, 0, 1, 0, 1, 0, 2, 1, 2, 1, 2, 1, 1, 0, 1,
]
const PATTERNS: [string, number[]][] = [
  ['red first', [0, 1, 1, 2]],
  ['green first', [1, 0, 2, 1]],
  ['green first, blue beside it', [1, 2, 0, 1]],
  ['blue first', [2, 1, 1, 0]],
  ['6 x 6', LARGE],
]

/** Tinted things with edges, rings and fine cloth. */
function scene(c: number, x: number, y: number): number {
  const ring = 0.5 + 0.4 * Math.sin(Math.hypot(x - 70, y - 60) * 0.7)
  const cloth = 0.1 * Math.sin(x * 1.3) * Math.sin(y * 1.1)
  const edge = 1 / (1 + Math.exp(-(x * 0.7 + y - 140) / 0.7))
  return 0.06 + [0.9, 0.8, 0.5][c] * (0.4 * ring + cloth) + edge * [0.2, 0.4, 0.5][c]
}

/** 1.8 px at the corners, red outward and growing, blue inward, about an axis off the middle. */
const AXIS: [number, number] = [70.3, 83.71]
const shares = (k: number) => Array.from({ length: 33 }, (_, i) => k * (1 + (i / 32) ** 2))
const APART: Apart = { axis: AXIS, spacing: 4, red: shares(0.008), blue: shares(-0.009) }
const shareAt = (table: readonly number[], r: number) => {
  const i = Math.min(r / APART.spacing, 31.999)
  return table[Math.floor(i)] + (i % 1) * (table[Math.floor(i) + 1] - table[Math.floor(i)])
}

/** What a sensor has at a place: the scene where a colour's image came from. */
function seen(c: number, x: number, y: number): number {
  if (c === 1) return scene(1, x, y)
  const table = c === 0 ? APART.red : APART.blue
  const [vx, vy] = [x - AXIS[0], y - AXIS[1]]
  let k = 1
  for (let i = 0; i < 9; i++) k = 1 / (1 + shareAt(table, Math.hypot(vx, vy) * k))
  return scene(c, AXIS[0] + vx * k, AXIS[1] + vy * k)
}

const contextOf = (colours: number[]) =>
  ({ pattern: { size: Math.sqrt(colours.length), colours } }) as unknown as PictureContext
const colourAt = (colours: number[], x: number, y: number) => {
  const size = Math.sqrt(colours.length)
  return colours[(y % size) * size + (x % size)]
}

/** A mosaic taken through the step; its first sample at a place of the sensor. */
function laid(
  colours: number[],
  apart: Apart,
  value: (c: number, x: number, y: number) => number = seen,
  [x, y, width, height] = [0, 0, SIZE, SIZE],
): (x: number, y: number) => number {
  const { scratch } = bench
  scratch.release()
  const raster = fillRaster(scratch, width, height, 1, (_, i, j) =>
    value(colourAt(colours, x + i, y + j), x + i, y + j),
  )
  const tile: Tile = { ...{ x, y, scale: 1, raster, colours: 'rgb', whole: raster }, ...bench }
  mosaicFringes.run(tile, mosaicFringes.prepare(apart, contextOf(colours)))
  return (sx, sy) => sampleAt(scratch, tile.raster, 0, sx - x, sy - y)
}

const RIM = 32
/** Values of some colours away from the rim. */
function values(colours: number[], wanted: number[], at: (x: number, y: number, c: number) => number) {
  const out: number[] = []
  for (let y = RIM; y < SIZE - RIM; y++)
    for (let x = RIM; x < SIZE - RIM; x++) {
      const c = colourAt(colours, x, y)
      if (wanted.includes(c)) out.push(at(x, y, c))
    }
  return out
}

describe.each(PATTERNS)('fringes of a mosaic, %s', (_, colours) => {
  it('come out where green is, with their own drawing', () => {
    const after = laid(colours, APART)
    for (const c of [0, 2]) {
      const truth = values(colours, [c], (x, y) => scene(c, x, y))
      const left = psnr(
        values(colours, [c], (x, y) => seen(c, x, y)),
        truth,
      )
      const done = psnr(values(colours, [c], after), truth)
      expect(done).toBeGreaterThan(left + 4.5)
      expect(done).toBeGreaterThan(33)
    }
  })

  it('leave green as it was', () => {
    const after = laid(colours, APART)
    expect(values(colours, [1], after)).toEqual(values(colours, [1], (x, y) => Math.fround(seen(1, x, y))))
  })

  it('are the same however the picture is cut into tiles', () => {
    const reach = mosaicFringes.reach(APART, 1, contextOf(colours))
    const [left, top, side] = [51, 46, 24]
    const place = [left - reach, top - reach, side + 2 * reach, side + 2 * reach] as [
      number,
      number,
      number,
      number,
    ]
    const all = laid(colours, APART)
    const whole = Array.from({ length: side * side }, (_, i) =>
      all(left + (i % side), top + Math.floor(i / side)),
    )
    const part = laid(colours, APART, seen, place)
    whole.forEach((v, i) => {
      const x = left + (i % side)
      const y = top + Math.floor(i / side)
      // what lies beyond the smaller tile must not be seen
      expect(part(x, y)).toBe(v)
    })
  })
})

describe('a colour that lies on green', () => {
  it('stays as it is', () => {
    const colours = PATTERNS[0][1]
    const after = laid(colours, { ...APART, blue: APART.blue.map(() => 0) })
    const blue = values(colours, [2], (x, y) => Math.fround(seen(2, x, y)))
    expect(values(colours, [2], after)).toEqual(blue)
  })

  it('keeps the noise of an even place about as large as it was', () => {
    const next = random(5)
    const noise = Array.from({ length: SIZE * SIZE }, () => 0.02 * (next() + next() + next() - 1.5))
    const colours = PATTERNS[0][1]
    const after = laid(colours, APART, (_, x, y) => 0.3 + noise[y * SIZE + x])
    const spread = (at: (x: number, y: number) => number) => {
      const v = values(colours, [0, 2], at)
      const mean = v.reduce((a, b) => a + b) / v.length
      return Math.sqrt(v.reduce((s, q) => s + (q - mean) ** 2, 0) / v.length)
    }
    const ratio = spread(after) / spread((x, y) => 0.3 + noise[y * SIZE + x])
    expect(ratio).toBeGreaterThan(0.6)
    expect(ratio).toBeLessThan(1.3)
  })
})
