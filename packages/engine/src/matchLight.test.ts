import { kelvinFromXy, startDevelopment, xyFromNeutral, type Development } from '@dunkelkammer/core'
import { veldrom, veldromPocket } from '@dunkelkammer/demo'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { burstFile, chartDistance, chartIn, type BurstShot } from '../test/burst'
import { settings, testEngine } from '../test/engines'
import { lightOf, matchLight, withLight, type Engine, type LightMatch } from './index'

let engine: Engine
beforeAll(() => {
  engine = testEngine({ workers: 1 })
})
afterAll(() => engine.stop())

const WIDTH = 360
async function taken<T>(
  shot: BurstShot,
  use: (p: Awaited<ReturnType<Engine['open']>>) => Promise<T>,
): Promise<T> {
  const picture = await engine.open(burstFile(shot))
  try {
    return await use(picture)
  } finally {
    engine.close(picture)
  }
}
/** The chart in a delivered file of a shot. */
const chartOf = (shot: BurstShot, development: Development) =>
  taken(shot, async (p) => {
    const pixels = await p.deliver({ development, space: 'srgb', bits: 16, width: p.width, height: p.height })
    return chartIn(new Uint16Array(pixels.buffer), WIDTH, 65535, shot)
  })

const FIRST: BurstShot = { ev: 0, takenFor: 5500 }
const GIVEN = settings({ steps: { exposure: { ev: 0.4 } } })
const lightIn = (shot: BurstShot, development: Development = startDevelopment()) =>
  taken(shot, (p) => lightOf(p, development))

/** How a shot is matched to another one, and how far its chart is from there then, and was before. */
async function matched(shot: BurstShot, to = FIRST, given = GIVEN) {
  const match = matchLight(await lightIn(to, given), await lightIn(shot))
  const chart = await chartOf(to, given)
  return {
    match,
    before: chartDistance(await chartOf(shot, given), chart),
    after: chartDistance(await chartOf(shot, withLight(given, match)), chart),
  }
}

describe('matching exposure and white to a chosen frame', () => {
  it.each<[string, BurstShot, LightMatch['by']]>([
    ['2 EV darker, taken for 1500 K colder', { ev: -2, takenFor: 4000 }, 'scene'],
    ['2 EV brighter, with a window that clips', { ev: 2, takenFor: 7000 }, 'scene'],
    ['somebody walked on', { ev: -1, takenFor: 4600, shift: 9, walked: 70, seed: 9 }, 'scene'],
    [
      'turned aside under a cloud',
      { ev: 0.5, takenFor: 4600, shift: 60, light: 6800, brighter: -1.5 },
      'scene',
    ],
    ['a cloud, and the sun gone warmer', { ev: 0, takenFor: 6500, light: 4300, brighter: -1.2 }, 'scene'],
    [
      'another view in the same light',
      { ev: -1.5, takenFor: 4100, scene: 1, seed: 3, fNumber: 11 },
      'exposure',
    ],
    ['taken for lamp light, where red is strongest', { ev: -1, takenFor: 2400 }, 'scene'],
  ])('agrees on the chart: %s', async (_, shot, by) => {
    const { match, before, after } = await matched(shot)
    expect(match.by).toBe(by)
    expect(before).toBeGreaterThan(4)
    expect(after).toBeLessThan(1.5)
  })

  it('says by how much: what the shutter and the balance were varied by', async () => {
    const { match } = await matched({ ev: -1.25, takenFor: 4200 })
    expect(match.ev).toBeCloseTo(0.4 + 1.25, 1)
    // the first was taken as it is
    const { colour, neutral } = await lightIn(FIRST)
    const taken = kelvinFromXy(xyFromNeutral(colour, neutral))
    expect(Math.abs(match.kelvin - taken.kelvin)).toBeLessThan(60)
    expect(Math.abs(match.tint - taken.tint)).toBeLessThan(3)
  })

  it('leaves a frame where it is that agrees already, whatever its steps are let in by', async () => {
    const to = settings({ steps: { exposure: { ev: 0.8 } }, strength: { exposure: 0.5 } })
    const match = matchLight(await lightIn(FIRST, to), await lightIn(FIRST))
    expect(match).toMatchObject({ by: 'scene', ev: 0.4 })
    const off = settings({ steps: { exposure: { ev: 0.8 } }, off: ['exposure'] })
    expect(matchLight(await lightIn(FIRST, off), await lightIn(FIRST)).ev).toBe(0)
    const d = withLight(settings({ off: ['exposure'], strength: { exposure: 0.3, tones: 0.5 } }), match)
    expect(d).toMatchObject({ off: [], strength: { tones: 0.5 }, steps: { exposure: { ev: 0.4 } } })
    expect(d.strength.exposure).toBeUndefined()
  })

  it('goes by the white that the chosen frame was given, not by what its camera took', async () => {
    const given = settings({ steps: { cameraColour: { source: 'kelvin', kelvin: 7500, tint: 12 } } })
    const { match, after } = await matched({ ev: 1, takenFor: 4300 }, FIRST, given)
    expect(Math.abs(match.kelvin - 7500)).toBeLessThan(200)
    expect(after).toBeLessThan(1.5)
  })

  it('of another camera takes the light and the exposure that it noted', async () => {
    const { match } = await matched({ ev: 1, takenFor: 6000, camera: veldromPocket, light: 5500 })
    expect(match.by).toBe('exposure')
    expect(match.ev).toBeCloseTo(0.4 - 1, 1)
    expect(veldrom.model).not.toBe(veldromPocket.model)
  })

  it('without any note of the exposure goes by the brightness of the picture', async () => {
    const { match } = await matched({ ev: 1, takenFor: 5500, scene: 1, silent: true })
    expect(match.by).toBe('brightness')
    expect(Math.abs(match.ev - (0.4 - 1))).toBeLessThan(0.7)
  })
})
