import { describe, expect, it } from 'vitest'
import { BorderSchema, layoutOf } from './around'
import { MarkSchema, placeOfMark } from './mark'
import { DeliverySizeSchema } from './size'

const PICTURES = [
  { width: 6000, height: 4000 },
  { width: 4000, height: 6000 },
  { width: 3001, height: 3000 },
  { width: 700, height: 480 },
]
const border = BorderSchema.parse({ width: 6, below: 4, line: 0.5 })

describe('a border', () => {
  it.each(PICTURES)('is its share of the short edge and part of the size: %o', (picture) => {
    const size = DeliverySizeSchema.parse({ by: 'long edge', pixels: 1200, enlarge: true })
    const layout = layoutOf(size, border, picture)
    const { whole } = layout.picture
    const short = Math.min(whole.width, whole.height)
    expect(Math.max(layout.width, layout.height)).toBe(1200)
    expect(Math.abs(layout.left - short * 0.06)).toBeLessThanOrEqual(1)
    expect(layout.top).toBe(layout.left)
    expect(layout.width).toBe(whole.width + 2 * layout.left)
    expect(Math.abs(layout.height - whole.height - 2 * layout.left - short * 0.04)).toBeLessThanOrEqual(2)
    // not pulled out of shape
    expect(Math.abs((whole.width / whole.height) * (picture.height / picture.width) - 1)).toBeLessThan(0.004)
  })

  it.each(PICTURES)('leaves a picture of full size as it is: %o', (picture) => {
    const layout = layoutOf(DeliverySizeSchema.parse({ by: 'full' }), border, picture)
    expect(layout.picture).toMatchObject({ ...picture, whole: picture, x: 0, y: 0 })
    expect(layout.line).toBe(Math.round(Math.min(picture.width, picture.height) * 0.005))
  })

  it.each(PICTURES)('lies inside of a box that is filled: %o', (picture) => {
    const size = DeliverySizeSchema.parse({ by: 'fill', width: 400, height: 300, x: 0, y: 1 })
    const { width, height, left, top, picture: inner } = layoutOf(size, border, picture)
    expect([width, height]).toEqual([400, 300])
    expect(inner.width + 2 * left).toBe(400)
    expect(inner.whole.width).toBeGreaterThanOrEqual(inner.width)
    expect(inner.whole.height).toBeGreaterThanOrEqual(inner.height)
    expect(inner.whole.width === inner.width || inner.whole.height === inner.height).toBe(true)
    expect([inner.x, inner.y]).toEqual([0, inner.whole.height - inner.height])
    expect(top).toBe(left)
  })

  it('is left away', () => {
    const size = DeliverySizeSchema.parse({ by: 'short edge', pixels: 200 })
    expect(layoutOf(size, null, PICTURES[0])).toMatchObject({ width: 300, height: 200, left: 0, top: 0 })
  })
})

describe('a mark', () => {
  const file = { width: 1000, height: 600 }
  const own = { width: 100, height: 40 }
  it.each([
    ['top left', 30, 30],
    ['top', 450, 30],
    ['right', 870, 280],
    ['middle', 450, 280],
    ['bottom right', 870, 530],
    ['bottom left', 30, 530],
  ] as const)('lies where it is wanted: %s', (place, x, y) => {
    const mark = MarkSchema.parse({ kind: 'words', text: 'Halm', place, inset: 5 })
    expect(placeOfMark(mark, file, own)).toEqual({ x, y })
  })
})
