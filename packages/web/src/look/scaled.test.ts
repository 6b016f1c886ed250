import { describe, expect, it } from 'vitest'
import { draggedBy, layOutScaled } from './scaled'

const pane = { width: 600, height: 400, density: 1 }
/** Place of the pane, CSS pixels, at which a place of the picture is seen. */
const seen = (g: ReturnType<typeof layOutScaled>, x: number, y: number) => [
  g.left + x * g.width * g.pixel,
  g.top + y * g.height * g.pixel,
]

describe('panes that are tied', () => {
  const large = { width: 6000, height: 4000 }
  const small = { width: 1500, height: 1000 }
  const tied = { centre: { x: 0.4, y: 0.6 }, longEdge: 6000 }

  it('show the same place of the scene in the same size, whatever their pixels are', () => {
    const [a, b] = [large, small].map((p) => layOutScaled(p, pane, tied))
    expect([a.pixel, b.pixel]).toEqual([1, 4])
    for (const [x, y] of [
      [0.4, 0.6],
      [0.45, 0.58],
    ])
      seen(a, x, y).forEach((v, i) => expect(v).toBeCloseTo(seen(b, x, y)[i], 6))
    expect(seen(a, 0.4, 0.6)).toEqual([300, 200])
  })

  it('compute no more than is seen, and all that is', () => {
    for (const picture of [large, small])
      for (const longEdge of [700, 1500, 6000, 24000]) {
        const g = layOutScaled(picture, pane, { centre: { x: 0.99, y: 0.5 }, longEdge })
        const right = g.left + (g.region.x + g.region.width) * g.pixel
        expect(g.left + g.region.x * g.pixel).toBeLessThanOrEqual(0)
        expect(right).toBeGreaterThanOrEqual(Math.min(pane.width, g.left + g.width * g.pixel) - 1e-6)
        expect(g.region.width * g.pixel).toBeLessThanOrEqual(pane.width + 2 * g.pixel)
        expect(g.region.x + g.region.width).toBeLessThanOrEqual(g.width)
      }
  })

  it('are computed smaller where the scene is smaller than their pixels', () => {
    const g = layOutScaled(large, { ...pane, density: 2 }, { centre: { x: 0.5, y: 0.5 }, longEdge: 1500 })
    expect([g.width, g.height, g.pixel]).toEqual([3000, 2000, 0.5])
  })

  it('move with the hand, and not out of the picture', () => {
    const { x, y } = draggedBy(tied, large, 60, -40)
    expect([x, y]).toEqual([0.39, 0.61])
    expect(draggedBy(tied, large, 1e6, 0).x).toBe(0)
  })
})
