import { apply, between, invert, spaces, toLab, toOklab, working, type Triple } from '@dunkelkammer/core'
import { CHART, LAMPS, type LampName } from '@dunkelkammer/demo'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { CHART_HEIGHT, CHART_WIDTH, chartErrors, chartFile, patchMean } from '../test/chart'
import { settings, testEngine } from '../test/engines'
import type { Engine, Picture } from './index'

let engine: Engine
beforeAll(() => {
  engine = testEngine({ workers: 2 })
})
afterAll(() => engine.stop())

const EXPOSURE = 0.5
const deliver = async (picture: Picture, space: 'linear-rec2020' | 'rec2020' | 'srgb', part: object = {}) => {
  const size = { width: CHART_WIDTH, height: CHART_HEIGHT }
  const bytes = await picture.deliver({ development: settings(part), space, ...size, bits: 16 })
  return new Uint16Array(bytes.buffer)
}

const encoded = (space: 'rec2020' | 'srgb', v: number) => {
  const { cut, slope, a, p, b } = spaces[space].curve
  return v < cut * slope ? v / slope : ((v + b) / a) ** (1 / p)
}
const hue = ([, a, b]: Triple) => (Math.atan2(b, a) * 180) / Math.PI
const turn = (x: number, y: number) => Math.abs(((x - y + 540) % 360) - 180)
const chroma = ([, a, b]: Triple) => Math.hypot(a, b)

describe('the chart through the spectral camera', () => {
  it.each(Object.keys(LAMPS) as LampName[])(
    'comes out within 2.0 CIEDE2000 on average under %s',
    async (lamp) => {
      const picture = await engine.open(chartFile(lamp, EXPOSURE))
      const values = await deliver(picture, 'linear-rec2020')
      const errors = chartErrors(lamp, values, EXPOSURE)
      expect(errors.reduce((s, e) => s + e, 0) / errors.length).toBeLessThanOrEqual(2)
      // greys are as grey as the one that was picked
      CHART.forEach((patch, i) => {
        if (patch.kind !== 'grey') return
        const [, a, b] = toLab(working, patchMean(values, i).map((v) => v / EXPOSURE) as unknown as Triple)
        expect(Math.hypot(a, b)).toBeLessThan(0.5)
      })
      engine.close(picture)
    },
  )

  it('keeps the Oklab hue of every patch within 3 degrees from -4 to +4 EV', async () => {
    const picture = await engine.open(chartFile('daylight65', EXPOSURE))
    const at = async (ev: number) => {
      const values = await deliver(picture, 'rec2020', { steps: { exposure: { ev } } })
      return CHART.map((_, i) =>
        toOklab(working, patchMean(values, i).map((v) => encoded('rec2020', v)) as unknown as Triple),
      )
    }
    const start = await at(0)
    for (let ev = -4; ev <= 4; ev++) {
      const now = await at(ev)
      now.forEach((lab, i) => {
        // nearly grey from the start, or nearly white by now: there is no hue to speak of
        if (chroma(start[i]) < 0.03 || chroma(lab) < 0.02) return
        expect(turn(hue(lab), hue(start[i]))).toBeLessThan(3)
      })
    }
    engine.close(picture)
  })

  it('keeps hue within 2 degrees on the way into sRGB', async () => {
    const picture = await engine.open(chartFile('daylight65', EXPOSURE))
    const toSrgb = between(working, spaces.srgb)
    let outside = 0
    for (const ev of [0, 1.5, 3]) {
      const wide = await deliver(picture, 'rec2020', { steps: { exposure: { ev } } })
      const narrow = await deliver(picture, 'srgb', { steps: { exposure: { ev } } })
      CHART.forEach((_, i) => {
        const full = patchMean(wide, i).map((v) => encoded('rec2020', v)) as unknown as Triple
        const fit = patchMean(narrow, i).map((v) => encoded('srgb', v)) as unknown as Triple
        const a = toOklab(working, full)
        const b = toOklab(working, apply(invert(toSrgb), fit))
        if (Math.min(...apply(toSrgb, full)) < -0.002 || Math.max(...apply(toSrgb, full)) > 1.002) outside++
        if (chroma(b) > 0.02) expect(turn(hue(a), hue(b))).toBeLessThan(2)
        expect(Math.abs(a[0] - b[0])).toBeLessThan(0.01)
      })
    }
    expect(outside).toBeGreaterThan(3)
    engine.close(picture)
  })
})
