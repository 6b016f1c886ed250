import { describe, expect, it } from 'vitest'
import { continueValues } from './membrane'

/** A disc in a square of known values; how far the continued ones are off within, at most. */
function worst(size: number, radius: number, of: (x: number, y: number) => number): number {
  const values = new Float64Array(size * size)
  const weights = new Float64Array(size * size)
  const middle = (size - 1) / 2
  const far = (x: number, y: number) => Math.hypot(x - middle, y - middle)
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) {
      const r = far(x, y)
      if (r > radius && r <= radius + 3) weights[y * size + x] = 1
      values[y * size + x] = weights[y * size + x] ? of(x, y) : NaN
    }
  const [found] = continueValues([values], weights, size, size)
  let most = 0
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++)
      if (far(x, y) <= radius) most = Math.max(most, Math.abs(found[y * size + x] - of(x, y)))
  return most
}

describe('values continued over a gap', () => {
  it.each([9, 30, 77, 200])('of %i pixels are the same where the border is the same', (size) => {
    expect(worst(size, size / 2 - 4, () => 0.7)).toBeLessThan(1e-9)
  })

  it('follow a slope from one side to the other', () => {
    // from 0 to 1 over the square
    expect(worst(64, 26, (x) => x / 63)).toBeLessThan(0.13)
  })

  it('stay between the least and the largest, and are 0 where nothing is known', () => {
    const size = 40
    const weights = new Float64Array(size * size)
    const values = new Float64Array(size * size)
    weights[0] = weights[size * size - 1] = 1
    values[0] = -2
    values[size * size - 1] = 5
    const [found] = continueValues([values], weights, size, size)
    expect(Math.min(...found)).toBeGreaterThanOrEqual(-2 - 1e-9)
    expect(Math.max(...found)).toBeLessThanOrEqual(5 + 1e-9)
    const [nothing] = continueValues([values], new Float64Array(size * size), size, size)
    expect(nothing.every((v) => v === 0)).toBe(true)
  })
})
