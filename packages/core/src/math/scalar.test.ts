import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import {
  atan,
  atan2,
  cbrt,
  degrees,
  exp2,
  invert,
  log2,
  monotoneSpline,
  multiply,
  pow,
  radians,
  sinCosDegrees,
  tan,
  type Matrix3,
} from './index'

describe('our own elementary functions', () => {
  it('agree with the true ones', () => {
    const next = random(1)
    for (let i = 0; i < 2000; i++) {
      const x = 2 ** (next() * 40 - 20)
      expect(log2(x)).toBeCloseTo(Math.log2(x), 12)
      const y = next() * 60 - 30
      expect(exp2(y) / 2 ** y).toBeCloseTo(1, 12)
      expect(pow(x, 0.4166) / x ** 0.4166).toBeCloseTo(1, 11)
      expect(cbrt(-x) / Math.cbrt(-x)).toBeCloseTo(1, 12)
    }
    expect(cbrt(0)).toBe(0)
    expect(log2(1)).toBe(0)
  })
})

describe('matrices', () => {
  it('invert to the identity, and singular ones are refused', () => {
    const m: Matrix3 = [2, 0.1, -0.3, 0.4, 1, 0.2, -0.1, 0.6, 3]
    multiply(m, invert(m)).forEach((v, i) => expect(v).toBeCloseTo(i % 4 === 0 ? 1 : 0, 12))
    expect(() => invert([1, 2, 3, 2, 4, 6, 0, 0, 1])).toThrow(RangeError)
  })
})

describe('sine and cosine', () => {
  it('are those of the host, without asking it', () => {
    for (let x = -700; x <= 700; x += 0.37) {
      const [sine, cosine] = sinCosDegrees(x)
      expect(sine).toBeCloseTo(Math.sin((x * Math.PI) / 180), 12)
      expect(cosine).toBeCloseTo(Math.cos((x * Math.PI) / 180), 12)
    }
  })
})

describe('a monotone spline', () => {
  it('passes its points, never turns where they do not, and stays level beyond its ends', () => {
    const points = [
      [0.1, 0],
      [0.2, 0.02],
      [0.25, 0.6],
      [0.7, 0.6],
      [0.9, 1],
    ] as const
    const f = monotoneSpline(points)
    for (const [x, y] of points) expect(f(x)).toBeCloseTo(y, 12)
    for (let x = 0; x < 1; x += 0.001) expect(f(x + 0.001)).toBeGreaterThanOrEqual(f(x) - 1e-12)
    expect(f(0)).toBe(0)
    expect(f(1)).toBe(1)
    expect(f(0.5)).toBeCloseTo(0.6, 12)
  })
})

describe('angles', () => {
  it('agree with the host’s to the last places', () => {
    for (const x of [-1e6, -3, -1, -0.1, 0, 1e-5, 0.4, 1, 2.7, 40, 1e9])
      expect(atan(x)).toBeCloseTo(Math.atan(x), 14)
    for (const [y, x] of [
      [1, 1],
      [1, -1],
      [-1, -1],
      [-1, 1],
      [0, 1],
      [0, -1],
      [2, 0],
      [-2, 0],
    ])
      expect(atan2(y, x)).toBeCloseTo(Math.atan2(y, x), 14)
    for (const x of [-1.4, -0.3, 0, 0.7, 1.2]) expect(tan(x)).toBeCloseTo(Math.tan(x), 12)
    expect(degrees(radians(37))).toBeCloseTo(37, 12)
  })
})
