import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import { readDevelopment } from '../settings'
import { squareSettings } from '../pipeline'
import { anglesOf, holdsBox, Square, turnedCamera, type LensFaults } from './index'

const SIZE = { width: 6000, height: 4000 }
const square = (steps: object, lens?: LensFaults, focal35 = 28, size = SIZE) =>
  new Square(size, squareSettings(readDevelopment({ steps })), lens, focal35)

const barrel: LensFaults = {
  factors: [(r) => (1 - 0.05 * r * r) * 1.0004, (r) => 1 - 0.05 * r * r, (r) => (1 - 0.05 * r * r) * 0.9996],
  centre: [0.01, -0.02],
  tangential: [
    [0.0008, -0.0005],
    [0.0008, -0.0005],
    [0.0008, -0.0005],
  ],
}
const EVERYTHING = {
  lens: { choice: 'automatic' },
  level: { angle: 3.2, turns: 1, mirror: true },
  perspective: { tilt: -7, swing: 4, roll: 1.5, squeeze: 0.08, size: 0.9, soften: 0.4 },
}

describe('the frame', () => {
  it('is the picture where nothing is set, and knows that nothing moves', () => {
    const s = square({})
    expect([s.width, s.height, s.plain, s.still]).toEqual([6000, 4000, true, true])
    expect(s.toSource(12.5, 99.5)!.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([12.5, 99.5])
    expect(square({ fallOff: { ev: 1 } }).still).toBe(true)
    expect(square({ fallOff: { ev: 1 } }).plain).toBe(false)
  })

  it('finds its way back from the picture, with everything at work', () => {
    const s = square(EVERYTHING, barrel)
    const next = random(4)
    let seen = 0
    for (let i = 0; i < 300; i++) {
      const x = next() * s.width
      const y = next() * s.height
      const at = s.toSource(x, y)
      if (!at) continue
      seen++
      const back = s.toFrame(at[0], at[1])!
      expect(Math.hypot(back[0] - x, back[1] - y)).toBeLessThan(0.02)
    }
    expect(seen).toBeGreaterThan(290)
  })

  it('holds nothing but picture unless corners may be empty', () => {
    for (const steps of [
      { level: { angle: 7 } },
      { level: { angle: -20, turns: 3 } },
      { perspective: { tilt: -14 } },
      { perspective: { tilt: 9, swing: -8 } },
      EVERYTHING,
    ]) {
      const s = square(steps, barrel)
      for (let i = 0; i <= 40; i++)
        for (const [x, y] of [
          [(s.width * i) / 40, 0.5],
          [(s.width * i) / 40, s.height - 0.5],
          [0.5, (s.height * i) / 40],
          [s.width - 0.5, (s.height * i) / 40],
        ]) {
          const [u, v] = s.toSource(x, y)!
          expect(u > -2 && v > -2 && u < 6002 && v < 4002).toBe(true)
        }
      // and wastes little: at least a fifth more would no longer fit
      expect(holdsBox(s.outline, { ...s.box, width: s.box.width * 1.2, height: s.box.height * 1.2 })).toBe(
        false,
      )
      const open = square({ ...steps, crop: { inside: false } }, barrel)
      expect(open.width * open.height).toBeGreaterThan(s.width * s.height)
    }
  })

  it('turns by quarters and mirrors whole pixels onto whole pixels', () => {
    const s = square({ level: { turns: 1 } })
    expect([s.width, s.height]).toEqual([4000, 6000])
    // clockwise: what was on the left is on top
    expect(s.toSource(0.5, 0.5)!.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([0.5, 3999.5])
    expect(square({ level: { turns: 3 } }).toSource(0.5, 0.5)![0]).toBeCloseTo(5999.5, 6)
    const mirrored = square({ level: { mirror: true } }).toSource(0.5, 10.5)!
    expect(mirrored[0]).toBeCloseTo(5999.5, 6)
    expect(mirrored[1]).toBeCloseTo(10.5, 6)
  })

  it('cuts out what the crop says, and keeps it where the picture is levelled later', () => {
    const crop = { rect: { centre: [0.3, 0.4], width: 0.25, height: 0.2 } }
    const s = square({ crop })
    expect([s.width, s.height]).toEqual([1500, 1200])
    const places = [...s.toSource(750, 600)!, ...s.toSource(0, 0)!].map((v) => Math.round(v * 1e6) / 1e6)
    expect(places).toEqual([1800, 2400, 1050, 1800])
    const levelled = square({ crop, level: { angle: 4 }, lens: { choice: 'automatic' } }, barrel)
    const middle = levelled.toSource(levelled.width / 2, levelled.height / 2)!
    expect(Math.hypot(middle[0] - 1800, middle[1] - 2400)).toBeLessThan(2)
    expect(levelled.width / levelled.height).toBeCloseTo(1.25, 2)
    // beyond the picture it is moved back in, or left with empty corners
    const beyond = { rect: { centre: [0.02, 0.3], width: 0.4, height: 0.3 } }
    const [u] = square({ crop: beyond }).toSource(0, 10)!
    expect(u).toBeGreaterThanOrEqual(0)
    expect(square({ crop: { ...beyond, inside: false } }).toSource(0, 10)![0]).toBeCloseTo(120 - 1200, 6)
  })

  it('turns a camera that looked up level again: uprights stand upright', () => {
    // a point above another in the world, seen by a camera with a 28 mm lens that looks up by 11 degrees
    const f = (28 / 21.6333) * (Math.hypot(6000, 4000) / 2)
    const up = (11 * Math.PI) / 180
    const seen = (x: number, y: number, z: number): [number, number] => {
      const cy = y * Math.cos(up) + z * Math.sin(up)
      const cz = -y * Math.sin(up) + z * Math.cos(up)
      return [3000 + (f * x) / cz, 2000 + (f * cy) / cz]
    }
    const s = square({ perspective: { tilt: -11 } })
    for (const x of [-4, -1, 2, 5]) {
      const a = s.toFrame(...seen(x, 0, 10))!
      const b = s.toFrame(...seen(x, -3, 10))!
      expect(Math.abs(a[0] - b[0])).toBeLessThan(1e-3)
      expect(b[1]).toBeLessThan(a[1])
    }
    for (const angles of [
      { tilt: 12, swing: -30, roll: 5 },
      { tilt: -40, swing: 8, roll: -17 },
    ]) {
      const back = anglesOf(turnedCamera(angles))
      for (const k of ['tilt', 'swing', 'roll'] as const) expect(back[k]).toBeCloseTo(angles[k], 9)
    }
  })

  it('softens stretching: circles near the corner of a wide view come out rounder', () => {
    // a ball to the side is drawn as an ellipse; its long axis over the short one must shrink toward 1
    const elongation = (soften: number) => {
      const s = square({ perspective: { soften } }, undefined, 16)
      const f = (16 / 21.6333) * (Math.hypot(6000, 4000) / 2)
      const at = (angle: number, side: number) => {
        const d = [Math.sin(0.8 + angle), side, Math.cos(0.8 + angle)]
        return s.toFrame(3000 + (f * d[0]) / d[2], 2000 + (f * d[1]) / d[2])!
      }
      const e = 0.01
      const along = Math.hypot(at(e, 0)[0] - at(-e, 0)[0], at(e, 0)[1] - at(-e, 0)[1])
      const across = Math.hypot(at(0, e)[0] - at(0, -e)[0], at(0, e)[1] - at(0, -e)[1])
      return along / across
    }
    expect(elongation(0)).toBeGreaterThan(1.4)
    expect(elongation(0.5)).toBeLessThan(elongation(0) * 0.9)
    expect(elongation(1)).toBeLessThan(1.03)
  })

  it('gives no picture beyond the place where a formula turns back', () => {
    const folding: LensFaults = {
      factors: [0, 1, 2].map(() => (r: number) => 1 - 0.4 * r * r),
      centre: [0, 0],
    }
    const s = square({ lens: { choice: 'automatic' }, crop: { inside: false } }, folding)
    const far = s.toSource(s.width / 2 + 3600 * 1.4, s.height / 2)!
    expect(far[0]).toBeGreaterThan(6000)
  })
})

describe('fall-off of a lens', () => {
  const lens = {
    factors: [() => 1, () => 1, () => 1],
    centre: [0, 0] as const,
    fallOff: (r: number) => 1 - 0.6 * r * r,
  }
  const gainAt = (share: number, r: number) =>
    new Square(
      { width: 300, height: 200 },
      squareSettings(readDevelopment({ steps: { lens: { choice: 'automatic', fallOff: share } } })),
      lens,
      28,
    ).gain(r)

  it('is given back by the share that is asked for', () => {
    for (const r of [0, 0.3, 0.7, 1]) {
      expect(gainAt(1, r)).toBeCloseTo(1 / (1 - 0.6 * r * r), 9)
      // half of the loss of light
      expect(gainAt(0.5, r)).toBeCloseTo(1 / (1 - 0.3 * r * r), 9)
      expect(gainAt(0, r)).toBe(1)
    }
  })
})
