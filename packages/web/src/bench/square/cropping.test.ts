import { readDevelopment, Square, squareSettings, type Box } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { allowedBox, draggedBox, movedBox, ratioOf, rectOf, reshapedBox, towards } from './cropping'
import { levelledAlong } from './squaringTools'

const SIZE = { width: 6000, height: 4000 }
const crop = (part: object = {}) => readDevelopment({ steps: { crop: part } }).steps.crop
const squareOf = (steps: object) =>
  new Square(
    SIZE,
    squareSettings(readDevelopment({ steps: { ...steps, crop: { inside: false } } })),
    undefined,
  )
const box: Box = { x: 100, y: -50, width: 1200, height: 800 }

describe('the frame’s shape', () => {
  it('keeps its ratio, turned or not', () => {
    expect(ratioOf(crop(), SIZE, 0)).toBe(1.5)
    expect(ratioOf(crop(), SIZE, 1)).toBeCloseTo(2 / 3, 9)
    expect(ratioOf(crop({ upright: true }), SIZE, 0)).toBeCloseTo(2 / 3, 9)
    expect(ratioOf(crop({ ratio: 'din' }), SIZE, 0)).toBeCloseTo(Math.SQRT2, 9)
    expect(ratioOf(crop({ ratio: 'own', own: [5, 2] }), SIZE, 0)).toBe(2.5)
    expect(ratioOf(crop({ ratio: 'free' }), SIZE, 0)).toBeUndefined()
  })

  it('follows a handle, the opposite side in its place', () => {
    const free = draggedBox(box, { x: 1, y: 1 }, -100, 60)
    expect([free.width, free.height]).toEqual([1100, 860])
    expect([free.x - free.width / 2, free.y - free.height / 2]).toEqual([-500, -450])
    const kept = draggedBox(box, { x: -1, y: 0 }, -300, 0, 1.5)
    expect([kept.width, kept.height, kept.x + kept.width / 2, kept.y]).toEqual([1500, 1000, 700, -50])
    const corner = draggedBox(box, { x: -1, y: -1 }, -150, -100, 1.5)
    expect(corner.width / corner.height).toBeCloseTo(1.5, 9)
    expect(corner.width).toBeCloseTo(1350, 6)
    // never turned inside out
    expect(draggedBox(box, { x: 1, y: 0 }, -5000, 0).width).toBeGreaterThan(0)
  })

  it('takes up as much room in another shape, as far as there is room', () => {
    const square = squareOf({})
    const allowed = allowedBox(square, true, square.box)
    const wide = reshapedBox(box, 16 / 9, allowed)
    expect(wide.width / wide.height).toBeCloseTo(16 / 9, 9)
    expect(wide.width * wide.height).toBeCloseTo(box.width * box.height, 3)
    const all = reshapedBox({ x: 0, y: 0, width: 6000, height: 4000 }, 1, allowed)
    expect(all.width).toBeLessThanOrEqual(4000)
    expect(all.width).toBeGreaterThan(3800)
  })
})

describe('the frame’s place', () => {
  it('stays within a turned picture, and slides along its edge', () => {
    const square = squareOf({ level: { angle: 12 } })
    const allowed = allowedBox(square, true, square.box)
    expect(allowed(box)).toBe(true)
    const far = movedBox(box, -9000, 0, allowed)
    expect(allowed(far)).toBe(true)
    expect(allowed({ ...far, x: far.x - 20 })).toBe(false)
    expect(far.y).toBe(box.y)
    const large = towards(box, { ...box, width: 6000, height: 4000 }, allowed)
    expect(allowed(large)).toBe(true)
    expect(large.width).toBeGreaterThan(box.width)
    // with empty corners it may go as far as anything is shown
    const open = allowedBox(square, false, square.box)
    expect(open({ ...box, x: -square.box.width / 2 + box.width / 2 })).toBe(true)
  })

  it('is kept by what it shows', () => {
    const square = squareOf({ level: { angle: 12, turns: 1 } })
    const rect = rectOf(square, box)!
    const again = new Square(
      SIZE,
      squareSettings(readDevelopment({ steps: { level: { angle: 12, turns: 1 }, crop: { rect } } })),
      undefined,
    )
    expect([again.width, again.height]).toEqual([1200, 800])
    expect(again.box.x).toBeCloseTo(100, 0)
    expect(again.box.y).toBeCloseTo(-50, 0)
  })
})

describe('a line drawn to level by', () => {
  const d = (level: object = {}) => readDevelopment({ steps: { level } })
  const angle = (level: object, from: [number, number], to: [number, number]) =>
    levelledAlong(d(level), squareOf({}), { x: from[0], y: from[1] }, { x: to[0], y: to[1] })?.steps.level
      .angle
  it('turns the picture against its slope, whichever way it was drawn', () => {
    // falls by 4 in 100 on a frame of 3 : 2
    expect(angle({}, [0.2, 0.5], [0.8, 0.536])).toBeCloseTo(-Math.atan(0.04) * (180 / Math.PI), 1)
    expect(angle({}, [0.8, 0.536], [0.2, 0.5])).toBeCloseTo(-Math.atan(0.04) * (180 / Math.PI), 1)
    expect(angle({ angle: 1 }, [0.2, 0.5], [0.8, 0.5])).toBe(1)
  })
  it('sets uprights upright, and knows a mirrored picture', () => {
    // leans to the right going down, by 1 in 20
    const lean = Math.atan(0.05) * (180 / Math.PI)
    expect(angle({}, [0.5, 0.2], [0.52, 0.8])).toBeCloseTo(lean, 1)
    expect(angle({ mirror: true }, [0.5, 0.2], [0.52, 0.8])).toBeCloseTo(-lean, 1)
    expect(angle({}, [0.5, 0.5], [0.505, 0.5])).toBeUndefined()
  })
})
