import { describe, expect, it } from 'vitest'
import { heldShift, inOval, ovalAround, ovalPlace, snapped, turnOf } from './geometry'
import { withColour, withTone } from './ranges'

const oval = { x: 0.4, y: 0.3, across: 0.2, down: 0.1, turn: 30 }

describe('handles of shapes', () => {
  it('snap to directions that are close, and keep their length', () => {
    const from = { x: 0.2, y: 0.2 }
    const near = snapped(from, { x: 0.6, y: 0.21 })
    expect(near.y).toBeCloseTo(0.2, 9)
    expect(near.x).toBeCloseTo(0.2 + Math.hypot(0.4, 0.01), 9)
    expect(turnOf(from, snapped(from, { x: 0.4, y: 0.405 }))).toBeCloseTo(45, 9)
    expect(snapped(from, { x: 0.6, y: 0.3 })).toEqual({ x: 0.6, y: 0.3 })
  })

  it('lie on an oval that is turned, there and back', () => {
    const right = ovalPlace(oval, 1, 0)
    expect(Math.hypot(right.x - oval.x, right.y - oval.y)).toBeCloseTo(0.2, 9)
    // clockwise on the screen, where y goes down
    expect(turnOf(oval, right)).toBeCloseTo(30, 9)
    for (const [u, v] of [
      [0.3, -0.7],
      [-1, 0.2],
    ]) {
      const back = inOval(oval, ovalPlace(oval, u, v))
      expect([back.u, back.v]).toEqual([expect.closeTo(u, 9), expect.closeTo(v, 9)])
    }
    for (const p of ovalAround(oval, 0.5, [0.2, 0])) {
      const { u, v } = inOval(oval, p)
      expect(Math.hypot(u - 0.2, v)).toBeCloseTo(0.5, 9)
    }
  })

  it('keep the inner ring of an oval within it', () => {
    expect(heldShift({ softness: 0.5, shift: [0.2, 0.1] })).toEqual([0.2, 0.1])
    const [u, v] = heldShift({ softness: 0.5, shift: [0.6, 0.8] })
    expect(Math.hypot(u, v)).toBeCloseTo(0.475, 9)
    expect(v / u).toBeCloseTo(0.8 / 0.6, 9)
  })
})

describe('ranges', () => {
  const whole = { from: -10, to: 6, below: 1, above: 1 }

  it('of tones become narrow with the first sample, and wider with others', () => {
    const one = withTone(whole, -1.23)
    expect([one.from, one.to]).toEqual([-1.75, -0.75])
    const two = withTone(one, 1)
    expect([two.from, two.to, two.below]).toEqual([-1.75, 1.5, 1])
    expect(withTone(whole, 5.9).to).toBe(6)
  })

  it('of colours hold so many samples, the newest', () => {
    let range = { samples: [] as [number, number][], reach: 0.06, softness: 0.04 }
    for (let i = 0; i < 20; i++) range = withColour(range, [i / 100, 0])
    expect(range.samples.length).toBe(16)
    expect(range.samples.at(-1)).toEqual([0.19, 0])
    expect(range.samples[0]).toEqual([0.04, 0])
  })
})
