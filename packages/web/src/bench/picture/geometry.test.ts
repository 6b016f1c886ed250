import { describe, expect, it } from 'vitest'
import { centreAround, layOutView, readZoom, toPicture, zoomOf, zoomStep, zoomText } from './geometry'

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

describe('zoom', () => {
  const picture = { width: 6000, height: 4000 }
  const pane = { width: 800, height: 600, density: 1 }

  it('computes no more pixels than are shown', () => {
    const g = layOutView(picture, pane, 0.25, { x: 0.5, y: 0.5 })
    expect([g.width, g.height]).toEqual([1500, 1000])
    expect([g.region.width, g.region.height]).toEqual([800, 600])
    expect(zoomOf(g, picture, pane)).toBe(0.25)
    const large = layOutView(picture, pane, 4, { x: 0.5, y: 0.5 })
    expect([large.region.width, large.region.height]).toEqual([200, 150])
    expect(zoomOf(large, picture, pane)).toBe(4)
  })

  it('fills the pane by its longer need', () => {
    for (const [width, height] of [
      [800, 600],
      [1200, 300],
    ]) {
      const g = layOutView(picture, { width, height, density: 1 }, 'fill', { x: 0.5, y: 0.5 })
      expect(g.width * g.pixel).toBeGreaterThanOrEqual(width - 1)
      expect(g.height * g.pixel).toBeGreaterThanOrEqual(height - 1)
      expect(Math.min(g.width * g.pixel - width, g.height * g.pixel - height)).toBeLessThan(2)
    }
  })

  it('leaves what is under the pointer where it is', () => {
    const [x, y] = [620, 140]
    for (const from of [0.3, 1, 2.5])
      for (const factor of [0.8, 1.25, 2]) {
        const g = layOutView(picture, pane, from, { x: 0.4, y: 0.6 })
        const at = toPicture(g, x, y)
        const next = layOutView(picture, pane, from * factor, centreAround(g, pane, factor, x, y))
        const then = toPicture(next, x, y)
        // to a pixel of the screen
        expect(Math.abs(then.x - at.x) * next.width * next.pixel).toBeLessThan(from * factor + 1)
        expect(Math.abs(then.y - at.y) * next.height * next.pixel).toBeLessThan(from * factor + 1)
      }
  })

  it('goes from any size to the next step, and is written as it is read', () => {
    expect([0.3, 0.5, 8, 0.2].map((z) => zoomStep(z, true))).toEqual([0.5, 1, 8, 0.25])
    expect([0.3, 0.5, 0.125, 3].map((z) => zoomStep(z, false))).toEqual([0.25, 0.25, 0.125, 2])
    for (const zoom of ['fit', 'fill', 0.3712, 1, 8] as const)
      expect(readZoom(zoomText(zoom) ?? null)).toBe(zoom)
    expect(readZoom('99999')).toBe(8)
    expect(readZoom('rubbish')).toBe('fit')
  })
})
