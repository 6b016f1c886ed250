import { describe, expect, it } from 'vitest'
import { standOut } from './standOut'

const [WIDTH, HEIGHT] = [160, 120]
const picture = (of: (x: number, y: number) => readonly [number, number, number]) => {
  const rgba = new Uint8ClampedArray(WIDTH * HEIGHT * 4)
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) rgba.set([...of(x, y), 255], (y * WIDTH + x) * 4)
  return rgba
}
const at = (rgba: Uint8ClampedArray, x: number, y: number) => [...rgba.slice((y * WIDTH + x) * 4).slice(0, 4)]

describe('what stands out', () => {
  it('is a faint spot on a slope, by the gain, and grey', () => {
    const sky = (x: number, y: number) => {
      const v = 120 + x * 0.5 - (Math.hypot(x - 80, y - 60) < 5 ? 4 : 0)
      return [v, v, v] as const
    }
    for (const gain of [4, 16]) {
      const rgba = picture(sky)
      standOut(rgba, WIDTH, HEIGHT, gain)
      const [r, g, b, a] = at(rgba, 80, 60)
      expect([g, b, a]).toEqual([r, r, 255])
      // the spot is a thirtieth of what is around it
      expect(Math.abs(r - (128 - 4 * gain * (1 - 79 / 49 ** 2)))).toBeLessThan(gain * 0.6)
      // the slope is gone
      expect(Math.abs(at(rgba, 40, 30)[0] - 128)).toBeLessThan(gain * 0.6)
    }
  })

  it('is nothing of an even picture, up to its edges', () => {
    const rgba = picture(() => [200, 100, 50])
    standOut(rgba, WIDTH, HEIGHT, 32)
    for (const [x, y] of [
      [0, 0],
      [WIDTH - 1, HEIGHT - 1],
      [80, 60],
    ])
      expect(at(rgba, x, y)).toEqual([128, 128, 128, 255])
  })
})
