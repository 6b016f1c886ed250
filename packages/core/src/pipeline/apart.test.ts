import { describe, expect, it } from 'vitest'
import { Square, type LensFaults } from '../geometry'
import { readDevelopment } from '../settings'
import { apartOf, fringesOnMosaic } from './apart'
import { squareSettings } from './plan'
import type { OpenPicture } from './picture'
import { turned, uprightSize } from '../geometry/upright'

const SENSOR = { width: 600, height: 400 }
const LENS: LensFaults = {
  factors: [
    (r) => (1 + 0.03 * r * r) * (1 + 0.004 * r + 0.002 * r ** 3),
    (r) => 1 + 0.03 * r * r,
    (r) => (1 + 0.03 * r * r) * (1 - 0.003 * r * r),
  ],
  centre: [0.06, -0.03],
}
const opened = (orientation: number, layout: 'mosaic' | 'linear' = 'mosaic') => {
  const size = uprightSize(SENSOR, orientation)
  return {
    ...{ orientation, picture: { x: 12, y: 6, ...SENSOR } },
    context: { sensorSize: SENSOR, ...size, layout },
  } as unknown as OpenPicture
}
const settingsOf = (steps: object) =>
  squareSettings(readDevelopment({ steps: { lens: { choice: 'automatic' }, ...steps } }))

describe('fringes as the sensor lay', () => {
  it.each([1, 3, 6, 8])('lie where the frame’s own map has them, orientation %i', (orientation) => {
    const size = uprightSize(SENSOR, orientation)
    const square = new Square(size, settingsOf({}), LENS, 28)
    const apart = apartOf(square, opened(orientation))!
    const back = orientation === 6 ? 8 : orientation === 8 ? 6 : orientation
    for (const [fx, fy] of [
      [0.1, 0.1],
      [0.5, 0.2],
      [0.93, 0.88],
      [0.2, 0.7],
    ]) {
      const at = [fx * square.width, fy * square.height] as const
      const sensor = (c: 0 | 1 | 2) => {
        const [x, y] = square.toSource(...at, c)!
        // places count from a corner, pixels from their middles
        const [sx, sy] = turned(x - 0.5, y - 0.5, size, back)
        return [sx + 12, sy + 6]
      }
      const green = sensor(1)
      for (const c of [0, 2] as const) {
        const v = [green[0] - apart.axis[0], green[1] - apart.axis[1]]
        const table = c === 0 ? apart.red : apart.blue
        const i = Math.hypot(v[0], v[1]) / apart.spacing
        const k = table[Math.floor(i)] + (i % 1) * (table[Math.floor(i) + 1] - table[Math.floor(i)])
        sensor(c).forEach((p, d) => expect(green[d] + v[d] * k).toBeCloseTo(p, 2))
      }
    }
  })

  it('depend neither on the distortion that is taken out nor on the frame', () => {
    const of = (steps: object) => apartOf(new Square(SENSOR, settingsOf(steps), LENS, 28), opened(1))!
    const there = of({})
    const other = of({ lens: { choice: 'automatic', distortion: 0.3 }, level: { angle: 3 } })
    expect(other).toEqual(there)
    expect(of({ fringes: { amount: 0.5 } }).red[40] / there.red[40]).toBeCloseTo(0.5, 6)
  })

  it('are none where none are taken out', () => {
    const none = new Square(SENSOR, settingsOf({ fringes: { source: 'none' } }), LENS, 28)
    expect(apartOf(none, opened(1))).toBeUndefined()
  })

  it('are left to the frame where there is no mosaic, or where colours slant apart', () => {
    expect(fringesOnMosaic(opened(6), LENS)).toBe(true)
    expect(fringesOnMosaic(opened(1, 'linear'), LENS)).toBe(false)
    const same = [0, 1, 2].map(() => [1e-4, 0] as const)
    expect(fringesOnMosaic(opened(1), { ...LENS, tangential: same })).toBe(true)
    const slanting = { ...LENS, tangential: [[2e-4, 0] as const, ...same.slice(1)] }
    expect(fringesOnMosaic(opened(1), slanting)).toBe(false)
  })

  it('leave the frame’s map without colours of its own', () => {
    const laid = new Square(
      SENSOR,
      settingsOf({ lens: { choice: 'automatic', distortion: 0 } }),
      LENS,
      28,
      true,
    )
    expect(laid.fringed).toBe(false)
    expect(laid.still).toBe(true)
    expect(new Square(SENSOR, settingsOf({}), LENS, 28).fringed).toBe(true)
  })
})
