import { describe, expect, it } from 'vitest'
import { layOutView, toPicture } from './geometry'

describe('the view', () => {
  const picture = { width: 2256, height: 1504 }
  it('fits the whole picture into the pane, centred', () => {
    const g = layOutView(picture, { width: 828, height: 580, density: 2 }, 'fit', { x: 0.5, y: 0.5 })
    expect(g.width / g.height).toBeCloseTo(1.5, 2)
    expect(g.width * g.pixel).toBeLessThanOrEqual(788)
    expect(g.left * 2 + g.width * g.pixel).toBeCloseTo(828, 0)
  })

  it('shows one picture pixel a device pixel at 100 %, always inside the picture', () => {
    for (const density of [1, 2])
      for (const zoom of [1, 2] as const)
        for (const x of [0, 0.13, 0.5, 1]) {
          const pane = { width: 801, height: 577, density }
          const g = layOutView(picture, pane, zoom, { x, y: 1 - x })
          expect(g.pixel * density).toBe(zoom)
          expect(g.region.x).toBeGreaterThanOrEqual(0)
          expect(g.region.x + g.region.width).toBeLessThanOrEqual(picture.width)
          expect(g.region.y + g.region.height).toBeLessThanOrEqual(picture.height)
          expect(g.region.width * g.pixel).toBeGreaterThanOrEqual(
            Math.min(pane.width, picture.width * g.pixel),
          )
          const middle = toPicture(g, g.left + g.width * g.pixel * 0.25, g.top + g.height * g.pixel * 0.75)
          expect(middle).toEqual({ x: expect.closeTo(0.25, 9), y: expect.closeTo(0.75, 9) })
        }
  })
})
