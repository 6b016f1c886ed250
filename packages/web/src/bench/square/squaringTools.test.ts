import { CropSchema, Square, squareSettings, startDevelopment, type Development } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { withStep } from '../steps/withStep'
import { quarterTurned } from './squaringTools'

const SIZE = { width: 2256, height: 1504 }
const squareOf = (d: Development) => new Square(SIZE, squareSettings(d), undefined)
const start = startDevelopment()
const cropped = (part: object, angle = 0) =>
  withStep(withStep(start, 'level', { angle }), 'crop', CropSchema.parse(part))
const rect = { centre: [0.4, 0.35] as [number, number], width: 0.3, height: 0.45 }

describe('a quarter turn', () => {
  it.each([
    ['free', cropped({ rect, ratio: 'free' })],
    ['of a ratio, levelled', cropped({ rect: { ...rect, width: 0.4, height: 0.3 }, ratio: '4:3' }, 3)],
    ['all of it', start],
  ])('keeps what the frame shows: %s', (_, d) => {
    const before = squareOf(d)
    const after = squareOf(quarterTurned(d, 1))
    expect([after.width, after.height]).toEqual([before.height, before.width])
    // clockwise: what was on the left is at the top
    for (const [x, y] of [
      [0.1, 0.2],
      [0.5, 0.5],
      [0.9, 0.7],
    ]) {
      const was = before.toSource(x * before.width, y * before.height)!
      const is = after.toSource((1 - y) * after.width, x * after.height)!
      expect(Math.hypot(is[0] - was[0], is[1] - was[1])).toBeLessThan(1)
    }
  })

  it('turns a ratio that was chosen, not one that goes by the picture', () => {
    const upright = (ratio: string) => quarterTurned(cropped({ rect, ratio }), 1).steps.crop.upright
    expect(upright('4:3')).toBe(true)
    expect(upright('own')).toBe(true)
    for (const ratio of ['taken', 'free', 'square']) expect(upright(ratio)).toBe(false)
  })

  it('is taken back by three more', () => {
    let d = cropped({ rect, ratio: '3:2', upright: true })
    const before = d
    for (let i = 0; i < 4; i++) d = quarterTurned(d, 1)
    expect(d).toEqual(before)
    expect(quarterTurned(quarterTurned(before, 1), 3)).toEqual(before)
  })
})
