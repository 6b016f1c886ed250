import { describe, expect, it } from 'vitest'
import { together } from './developed'

const filled = (width: number, height: number, without: (x: number, y: number) => boolean = () => false) =>
  Array.from({ length: width * height }, (_, i) => [i % width, Math.floor(i / width)] as const).filter(
    ([x, y]) => !without(x, y),
  )

describe('cells put together to rectangles', () => {
  it.each([
    ['a full field', filled(14, 9)],
    ['a field with a hole', filled(14, 9, (x, y) => x > 3 && x < 8 && y > 2 && y < 6)],
    ['an odd shape', filled(9, 9, (x, y) => x + y < 6 || (x === 7 && y % 2 === 0))],
  ])('cover %s, each cell once and no other', (_, cells) => {
    const seen = new Map<string, number>()
    for (const { x, y, width, height } of together(cells, 4)) {
      expect(width).toBeLessThanOrEqual(4)
      expect(height).toBeLessThanOrEqual(4)
      for (let j = y; j < y + height; j++)
        for (let i = x; i < x + width; i++) seen.set(`${i} ${j}`, (seen.get(`${i} ${j}`) ?? 0) + 1)
    }
    expect([...seen.keys()].sort()).toEqual(cells.map(([x, y]) => `${x} ${y}`).sort())
    expect([...seen.values()].every((n) => n === 1)).toBe(true)
  })

  it('are as even as they can be', () => {
    const sizes = together(filled(9, 7), 6).map(({ width, height }) => width * height)
    expect(sizes.length).toBe(4)
    expect(Math.max(...sizes) - Math.min(...sizes)).toBeLessThanOrEqual(8)
  })
})
