import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import { fitFringes, sampleFringes, type FringeSample } from './fringes'

const SIZE = 80
/** Light of a scene that is finer than a pixel, at places between pixels too. */
function scene(seed: number) {
  const next = random(seed)
  const waves = Array.from({ length: 40 }, () => {
    const length = 3 + 20 * next()
    const way = Math.PI * next()
    return { fx: Math.cos(way) / length, fy: Math.sin(way) / length, at: next() }
  })
  return (x: number, y: number) =>
    0.3 + waves.reduce((s, w) => s + Math.sin(2 * Math.PI * (w.fx * x + w.fy * y + w.at)), 0) / 60
}
/** A block of a mosaic whose red and blue lie farther out than green by a shift. */
function block(seed: number, away: readonly [number, number], red: number, blue: number, noise: number) {
  const light = scene(seed)
  const next = random(seed + 1)
  const shifts = [red, 0, blue]
  const gains = [0.6, 1, 0.8]
  return [0, 1, 2].map((c) => {
    const values = new Float32Array(SIZE * SIZE)
    const there = new Uint8Array(SIZE * SIZE)
    for (let y = 0; y < SIZE; y++)
      for (let x = 0; x < SIZE; x++) {
        if ((y % 2 === 0 ? (x % 2 === 0 ? 0 : 1) : x % 2 === 0 ? 1 : 2) !== c) continue
        const o = y * SIZE + x
        there[o] = 1
        values[o] =
          gains[c] * light(x - shifts[c] * away[0], y - shifts[c] * away[1]) + noise * (next() + next() - 1)
      }
    return { values, there }
  })
}

describe('lateral fringes of a block', () => {
  it.each([
    [0.6, 0.8],
    [-1, 0],
    [0.7071, -0.7071],
  ])('are measured along the way outward (%f, %f), in noise', (dx, dy) => {
    const half = 3600
    const middle = [dx * 2000, dy * 2000] as const
    for (const [red, blue] of [
      [0.8, -0.5],
      [-1.6, 0.2],
      [0, 0],
    ]) {
      const found = sampleFringes(block(11, [dx, dy], red, blue, 0.03), SIZE, middle, half)!
      expect(found.radius).toBeCloseTo(2000 / half, 3)
      expect(Math.abs(found.red * half - red)).toBeLessThan(0.15)
      expect(Math.abs(found.blue * half - blue)).toBeLessThan(0.15)
    }
  })

  it('are not read out of noise, nor near the middle', () => {
    const next = random(5)
    const noise = [0, 1, 2].map(() => ({
      values: Float32Array.from({ length: SIZE * SIZE }, () => 0.3 + 0.05 * next()),
      there: new Uint8Array(SIZE * SIZE).fill(1),
    }))
    expect(sampleFringes(noise, SIZE, [2000, 0], 3600)).toBeUndefined()
    expect(sampleFringes(block(11, [1, 0], 1, 1, 0), SIZE, [200, 0], 3600)).toBeUndefined()
  })
})

describe('lateral fringes of a picture', () => {
  const samples = (outliers: number): FringeSample[] => {
    const next = random(9)
    return Array.from({ length: 60 }, (_, i) => {
      const r = 0.2 + (0.8 * i) / 60
      const wild = i % 10 < outliers
      return {
        radius: r,
        red: wild ? 0.002 * (next() - 0.5) : r * (0.0001 + 0.0006 * r * r) + 1e-5 * (next() - 0.5),
        blue: r * (-0.0002 - 0.0003 * r * r),
        redWeight: 20,
        blueWeight: 20,
      }
    })
  }
  it('are size and edge, and a few wild blocks do not matter', () => {
    for (const outliers of [0, 2]) {
      const found = fitFringes(samples(outliers))!
      for (const r of [0.3, 0.6, 1]) {
        expect(
          Math.abs(r * (found.redSize + found.redEdge * r * r) - r * (0.0001 + 0.0006 * r * r)),
        ).toBeLessThan(2e-5)
        expect(
          Math.abs(r * (found.blueSize + found.blueEdge * r * r) + r * (0.0002 + 0.0003 * r * r)),
        ).toBeLessThan(2e-6)
      }
    }
  })
  it('are not told from a handful of blocks', () => {
    expect(fitFringes(samples(0).slice(0, 12))).toBeUndefined()
    expect(fitFringes(samples(0).map((s) => ({ ...s, blueWeight: 0 })))).toBeUndefined()
  })
})
