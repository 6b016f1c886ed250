import { describe, expect, it } from 'vitest'
import { neutralFromSample } from './pickGrey'

describe('picking grey', () => {
  it('takes ratios, and refuses what says nothing', () => {
    expect(neutralFromSample([0.1, 0.2, 0.15])).toEqual({ neutral: [0.5, 1, expect.closeTo(0.75, 9)] })
    expect(neutralFromSample([0.3, 0.99, 0.5])).toMatchObject({ problem: expect.stringMatching(/clipped/) })
    expect(neutralFromSample([0.0001, 0.0002, 0.0001])).toMatchObject({
      problem: expect.stringMatching(/dark/),
    })
  })
})
