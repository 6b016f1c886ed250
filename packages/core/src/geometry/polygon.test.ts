import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import { boundsOf, contains, holdsBox, largestBox, roomFor } from './polygon'

/** A square of side 2 about the middle, turned by an angle, its sides in pieces. */
const turnedSquare = (angle: number) => {
  const corners = [0, 1, 2, 3].map((k) => {
    const a = angle + Math.PI / 4 + (k * Math.PI) / 2
    return [Math.SQRT2 * Math.cos(a), Math.SQRT2 * Math.sin(a)] as const
  })
  return corners.flatMap(([x, y], i) => {
    const [u, v] = corners[(i + 1) % 4]
    return Array.from({ length: 12 }, (_, k) => [x + ((u - x) * k) / 12, y + ((v - y) * k) / 12] as const)
  })
}

describe('the outline of a picture', () => {
  it('knows inside from outside', () => {
    const outline = turnedSquare(0.3)
    const next = random(3)
    for (let i = 0; i < 500; i++) {
      const [x, y] = [4 * next() - 2, 4 * next() - 2]
      const [u, v] = [x * Math.cos(-0.3) - y * Math.sin(-0.3), x * Math.sin(-0.3) + y * Math.cos(-0.3)]
      if (Math.abs(Math.abs(u) - 1) < 0.01 || Math.abs(Math.abs(v) - 1) < 0.01) continue
      expect(contains(outline, x, y)).toBe(Math.abs(u) < 1 && Math.abs(v) < 1)
    }
  })

  it('holds the box that geometry says: a square in a square turned by half a right angle has half its side', () => {
    const outline = turnedSquare(Math.PI / 4)
    const box = { x: 0, y: 0, width: 1, height: 1 }
    expect(roomFor(outline, box, 2)).toBeCloseTo(Math.SQRT2, 3)
    expect(holdsBox(outline, { ...box, width: 1.4, height: 1.4 })).toBe(true)
    expect(holdsBox(outline, { ...box, width: 1.43, height: 1.43 })).toBe(false)
    expect(roomFor(outline, { ...box, x: 3 }, 2)).toBe(0)
    // not of interest where even the least does not fit
    expect(roomFor(outline, box, 2, 1.5)).toBe(0)
    expect(boundsOf(outline).width).toBeCloseTo(2 * Math.SQRT2, 6)
  })

  it('is filled from a bad start as well: the largest box finds the middle', () => {
    const outline = turnedSquare(0.2)
    const found = largestBox(outline, { x: 0.5, y: -0.4, width: 2, height: 2 })
    // side of the largest upright square in one turned by an angle
    const side = 2 / (Math.cos(0.2) + Math.sin(0.2))
    expect(found.width).toBeGreaterThan(side * 0.985)
    expect(found.width).toBeLessThan(side * 1.001)
    expect(Math.hypot(found.x, found.y)).toBeLessThan(0.05)
    // no larger than what was asked for
    expect(largestBox(outline, { x: 0, y: 0, width: 0.4, height: 0.3 })).toEqual({
      x: 0,
      y: 0,
      width: 0.4,
      height: 0.3,
    })
  })
})
