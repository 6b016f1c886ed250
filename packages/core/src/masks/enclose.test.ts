import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import { insideEdge } from './enclose'
import type { Guide } from './range'

const [width, height] = [120, 80]
const n = width * height

/** A picture with some noise. */
function guideOf(light: (x: number, y: number) => number): Guide {
  const next = random(5)
  const L = Float32Array.from(
    { length: n },
    (_, i) => light(i % width, Math.floor(i / width)) + 0.01 * (next() - 0.5),
  )
  return { L, a: new Float32Array(n), b: new Float32Array(n) }
}
const shapeOf = (within: (x: number, y: number) => boolean) => ({
  ...{ width, height },
  values: Float32Array.from({ length: n }, (_, i) => (within(i % width, Math.floor(i / width)) ? 1 : 0)),
})
const DISC = { x: 50, y: 40, r: 24 } as const
const fromDisc = (x: number, y: number) => Math.sqrt((x - DISC.x) ** 2 + (y - DISC.y) ** 2) - DISC.r
const everything = shapeOf(() => true)
const around = shapeOf((x, y) => fromDisc(x, y) < 14)

describe('what lies inside an edge', () => {
  it('ends at it, within three pixels, and leaves no hole', () => {
    const inside = insideEdge(
      around,
      guideOf((x, y) => (fromDisc(x, y) < 0 ? 0.7 : 0.5)),
      0.08,
    )
    for (let i = 0; i < n; i++) {
      const d = fromDisc(i % width, Math.floor(i / width))
      if (d < -3) expect(inside[i]).toBeCloseTo(1, 5)
      if (d > 3) expect(inside[i]).toBe(0)
    }
  })

  it('goes on over light that changes slowly, and over edges of less contrast', () => {
    const inside = insideEdge(
      around,
      guideOf((x) => 0.4 + x / 400 + (x > 55 ? 0.02 : 0)),
      0.08,
    )
    expect(inside[40 * width + 30]).toBe(1)
    expect(inside[40 * width + 70]).toBe(1)
    expect(inside[40 * width + 84]).toBe(1)
  })

  it('does not leak through a gap of three pixels', () => {
    const gap = (x: number, y: number) => x > DISC.x && Math.abs(y - DISC.y) < 2
    const ring = (x: number, y: number) => Math.abs(fromDisc(x, y)) < 2 && !gap(x, y)
    const inside = insideEdge(
      around,
      guideOf((x, y) => (ring(x, y) ? 0.3 : 0.6)),
      0.08,
    )
    expect(inside[40 * width + 50]).toBe(1)
    expect(inside[40 * width + 84]).toBe(0)
    expect(inside[10 * width + 50]).toBe(0)
  })

  it('begins at the heart of what fills all of the picture', () => {
    const light = guideOf((x) => (x < 20 ? 0.2 : 0.6))
    const inside = insideEdge(everything, light, 0.08)
    expect(inside[40 * width + 60]).toBe(1)
    expect(inside[40 * width + 10]).toBe(0)
  })

  it('is as much of a dim picture as of a bright one', () => {
    const count = (light: number) =>
      insideEdge(
        around,
        guideOf((x, y) => light * (fromDisc(x, y) < 0 ? 1.4 : 1)),
        0.08,
      ).filter((v) => v > 0.5).length
    expect(Math.abs(count(0.6) - count(0.3))).toBeLessThan(60)
  })

  it('is nothing of a shape that is nothing, and all of one of a single pixel', () => {
    expect(
      insideEdge(
        shapeOf(() => false),
        guideOf(() => 0.5),
        0.08,
      ).some((v) => v > 0),
    ).toBe(false)
    const dot = shapeOf((x, y) => x === 20 && y === 20)
    expect(
      insideEdge(
        dot,
        guideOf(() => 0.5),
        0.08,
      )[20 * width + 20],
    ).toBe(1)
  })
})
