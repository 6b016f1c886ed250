import { apply, D50, D65, kelvinFromXy, working, xyOf, type Triple } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { calibrate } from './calibrate'
import { CHART } from './chart'
import { daylight, glowing, LAMPS } from './lamps'
import { integrate, OBSERVER, times, WAVELENGTHS, xyzOf } from './observer'
import { sceneResponse, signalsOf, veldromCurves } from './sensor'

describe('light', () => {
  it('of daylight has the chromaticities that CIE 15 gives it', () => {
    for (const [kelvin, xy] of [
      [6504, D65],
      [5003, D50],
    ] as const)
      xyOf(xyzOf(daylight(kelvin))).forEach((v, i) => expect(Math.abs(v - xy[i])).toBeLessThan(0.0006))
  })

  it('of glowing bodies has the temperature that it is said to have', () => {
    for (const kelvin of [2856, 2900, 4000]) {
      const found = kelvinFromXy(xyOf(xyzOf(glowing(kelvin))))
      expect(Math.abs(found.kelvin - kelvin)).toBeLessThan(kelvin * 0.002)
      expect(Math.abs(found.tint)).toBeLessThan(3)
    }
  })

  it('comes from lamps of very different kinds, each as bright as the others', () => {
    for (const lamp of Object.values(LAMPS)) {
      expect(lamp).toHaveLength(WAVELENGTHS.length)
      expect(integrate(lamp, OBSERVER[1])).toBeCloseTo(1, 9)
      expect(Math.min(...lamp)).toBeGreaterThanOrEqual(0)
    }
    // the tube is peaky: much of its light lies in few bands
    const peaks = (l: readonly number[]) => Math.max(...l) / (l.reduce((s, v) => s + v, 0) / l.length)
    expect(peaks(LAMPS.fluorescent)).toBeGreaterThan(4)
    expect(peaks(LAMPS.daylight65)).toBeLessThan(2)
  })
})

describe('the chart', () => {
  it('has 24 smooth surfaces that could exist, of all the kinds wanted', () => {
    expect(CHART).toHaveLength(24)
    for (const { reflectance } of CHART) {
      expect(Math.min(...reflectance)).toBeGreaterThan(0)
      expect(Math.max(...reflectance)).toBeLessThan(1)
      for (let i = 1; i < reflectance.length; i++)
        expect(Math.abs(reflectance[i] - reflectance[i - 1])).toBeLessThan(0.2)
    }
    for (const kind of ['skin', 'foliage', 'sky', 'saturated', 'grey'])
      expect(CHART.filter((p) => p.kind === kind).length).toBeGreaterThanOrEqual(3)
    expect(new Set(CHART.map((p) => p.name)).size).toBe(24)
  })
})

describe('the sensor', () => {
  it('sees scenes by way of spectra: white as daylight, and no colour as the eye does', () => {
    const m = sceneResponse(veldromCurves)
    const white = apply(m, [1, 1, 1])
    const direct = signalsOf(veldromCurves, daylight(6504))
    expect(white[1]).toBeCloseTo(1, 9)
    for (const c of [0, 2]) expect(Math.abs(white[c] / (direct[c] / direct[1]) - 1)).toBeLessThan(0.01)
    // no mixture of the curves is the observer: the best matrix leaves something over
    const { forwardMatrix } = calibrate(veldromCurves, daylight(6504))
    const neutral = signalsOf(veldromCurves, daylight(6504))
    const errors = CHART.map(({ reflectance }) => {
      const light = times(reflectance, daylight(6504))
      const s = signalsOf(veldromCurves, light).map((v, c) => v / neutral[c]) as unknown as Triple
      return Math.abs(apply(forwardMatrix, s)[1] - xyzOf(light)[1] / xyzOf(daylight(6504))[1])
    })
    expect(Math.max(...errors)).toBeGreaterThan(0.002)
    expect(Math.max(...errors)).toBeLessThan(0.05)
  })

  it('is calibrated so that white stays white and the two matrices agree', () => {
    for (const lamp of [glowing(2856), daylight(6504)]) {
      const { colorMatrix, forwardMatrix } = calibrate(veldromCurves, lamp)
      const sum = [0, 1, 2].map(
        (r) => forwardMatrix[r * 3] + forwardMatrix[r * 3 + 1] + forwardMatrix[r * 3 + 2],
      )
      expect(xyOf(sum as unknown as Triple)[0]).toBeCloseTo(D50[0], 6)
      const seen = apply(colorMatrix, xyzOf(lamp))
      const truth = signalsOf(veldromCurves, lamp)
      for (const c of [0, 2]) expect(seen[c] / seen[1]).toBeCloseTo(truth[c] / truth[1], 6)
    }
    expect(working.white).toEqual(D65)
  })
})
