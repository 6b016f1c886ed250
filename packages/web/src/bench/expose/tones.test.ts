import { describe, expect, it } from 'vitest'
import { onAxis } from './tones'

describe('places of the curve', () => {
  it('lie on the axis of the curve by the root of their light', () => {
    expect(onAxis([0.25, 0.25, 0.25], 'luminance')).toBeCloseTo(0.5, 9)
    expect(onAxis([0.04, 0.25, 0.81], 'red')).toBeCloseTo(0.2, 9)
    expect(onAxis([0.04, 0.25, 4], 'blue')).toBe(1)
    expect(onAxis([-1, -1, -1], 'luminance')).toBe(0)
  })
})
