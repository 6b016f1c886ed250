import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import { exp2 } from '../math'
import { TonesSchema } from '../steps'
import {
  automaticExposure,
  automaticPoints,
  automaticTones,
  greyWorld,
  interestWeights,
  toneQuantiles,
  type SmallPicture,
} from './automatic'

/** Greys of given stops around mid grey, with a little spread. */
function picture(stops: (i: number) => number, n = 4000): SmallPicture {
  const next = random(3)
  const rgb = new Float32Array(3 * n)
  for (let i = 0; i < n; i++) rgb.fill(0.18 * exp2(stops(i / n) + 0.2 * (next() - 0.5)), 3 * i, 3 * i + 3)
  return { width: n / 40, height: 40, rgb }
}
const ramp = (from: number, to: number) => picture((t) => from + t * (to - from))

describe('tones of a picture', () => {
  it('are found where they are', () => {
    const [low, middle, high] = toneQuantiles(ramp(-6, 2), [0.1, 0.5, 0.9])
    expect(low).toBeCloseTo(-5.2, 1)
    expect(middle).toBeCloseTo(-2, 1)
    expect(high).toBeCloseTo(1.2, 1)
  })

  it('count most in areas of interest, which lie by the long edge', () => {
    const weights = interestWeights(8, 4, [{ x: 0.5, y: 0.25, width: 0.25, height: 0.125 }])
    const inside = [...weights].flatMap((w, i) => (w > 1 ? [i] : []))
    expect(inside).toEqual([2 * 8 + 4, 2 * 8 + 5])
    const half = ramp(-6, 2)
    const weighted = { ...half, weights: new Float32Array(4000).fill(1).fill(50, 3000) }
    expect(toneQuantiles(weighted, [0.5])[0]).toBeGreaterThan(toneQuantiles(half, [0.5])[0] + 2)
  })
})

describe('exposure from the picture', () => {
  it('brings the dark up and the bright down, and leaves what lies well', () => {
    expect(automaticExposure(ramp(-8, -2))).toBeGreaterThan(1)
    expect(automaticExposure(ramp(0, 4.5))).toBeLessThan(-0.5)
    // mist, an overcast meadow, a tree against the light
    for (const [from, to] of [
      [-4, 2.2],
      [-0.8, 1.4],
      [-3, 1],
    ])
      expect(automaticExposure(ramp(from, to))).toBe(0)
  })

  it('brings no light that is not tiny near white', () => {
    const night = picture((t) => (t < 0.97 ? -7 + t : 2.8))
    expect(automaticExposure(night)).toBe(0)
    const window = picture((t) => (t < 0.97 ? -7 + t : 1.5))
    expect(automaticExposure(window)).toBeGreaterThan(0.5)
    expect(automaticExposure(window)).toBeLessThan(3.15 - 1.5)
  })
})

describe('points and tones from the picture', () => {
  it('go toward its ends and cut nothing off', () => {
    const found = automaticPoints(ramp(-7, 2.5))
    expect(found.black).toBeGreaterThan(-8.2)
    expect(found.black).toBeLessThan(-7)
    expect(found.white).toBeGreaterThan(2.5)
    expect(found.white).toBeLessThan(3.15)
    // lights beyond white are let in
    expect(automaticPoints(ramp(-7, 3.6)).white).toBeGreaterThan(3.6)
    // nothing dark: no black is forced
    expect(automaticPoints(ramp(-1, 1)).black).toBe(-5)
    expect(automaticPoints(picture(() => 7)).white).toBe(4.2)
  })

  it('lift what is too dark and hold what is too bright', () => {
    const start = TonesSchema.parse({})
    const found = automaticTones(ramp(-9, 4), start)
    expect(found.deepShadows.lift).toBeGreaterThan(0.3)
    expect(found.brightHighlights.lift).toBeLessThan(-0.2)
    expect(found.shadows.at).toBe(start.shadows.at)
    const flat = automaticTones(ramp(-2, 1), start)
    expect(flat.deepShadows.lift).toBe(0)
    expect(flat.brightHighlights.lift + 0).toBe(0)
    // a tenth that is dark is opened, a hundredth is not
    const shed = (share: number) =>
      automaticTones(
        picture((t) => (t < share ? -6 : t)),
        start,
      )
    expect(shed(0.1).deepShadows.lift).toBeGreaterThan(0.5)
    expect(shed(0.01).deepShadows.lift).toBe(0)
    // snow and mist are not made grey
    expect(automaticTones(ramp(-0.5, 1.8), start)).toEqual(start)
  })
})

describe('grey-world', () => {
  it('calls the mean neutral', () => {
    const rgb = Float32Array.from([0.2, 0.4, 0.1, 0.6, 0.4, 0.3])
    expect(greyWorld({ width: 2, height: 1, rgb })).toEqual([1, 1, 0.5].map((v) => expect.closeTo(v, 6)))
  })
})
