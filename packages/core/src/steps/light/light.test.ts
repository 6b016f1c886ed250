import { describe, expect, it } from 'vitest'
import { kelvinFromXy, working, xyOf } from '../../colour'
import { apply, multiply, type Triple } from '../../math'
import { lightMatrix } from './step'

const WHITE: Triple = [1, 1, 1]
const luminance = (v: Triple) => apply(working.toXyz, v)[1]

describe('light on an area', () => {
  it.each([40, -40, 120])(
    'of %i mireds changes the temperature of white by as many, and not its luminance',
    (mireds) => {
      const before = kelvinFromXy(xyOf(apply(working.toXyz, WHITE)))
      const lit = apply(lightMatrix(mireds, 0), WHITE)
      const after = kelvinFromXy(xyOf(apply(working.toXyz, lit)))
      // daylight is not quite on the locus of black bodies
      expect(Math.abs(1e6 / after.kelvin - 1e6 / before.kelvin - mireds)).toBeLessThan(6)
      expect(luminance(lit)).toBeCloseTo(1, 1)
      expect(Math.sign(lit[0] - lit[2])).toBe(Math.sign(mireds))
    },
  )

  it('goes towards magenta, or towards green', () => {
    const [r, g, b] = apply(lightMatrix(0, 50), WHITE)
    expect(Math.min(r, b)).toBeGreaterThan(g)
    const [x, y, z] = apply(lightMatrix(0, -50), WHITE)
    expect(y).toBeGreaterThan(Math.max(x, z))
  })

  it('is taken back by as much to the other side', () => {
    const both = multiply(lightMatrix(-90, 0), lightMatrix(90, 0))
    both.forEach((v, i) => expect(v).toBeCloseTo(i % 4 === 0 ? 1 : 0, 9))
    multiply(lightMatrix(0, -30), lightMatrix(0, 30)).forEach((v, i) =>
      expect(v).toBeCloseTo(i % 4 === 0 ? 1 : 0, 9),
    )
    lightMatrix(0, 0).forEach((v, i) => expect(v).toBeCloseTo(i % 4 === 0 ? 1 : 0, 9))
  })
})
