import { Square, squareSettings } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { settings } from '../../test/engines'
import { framedAreas } from './automatic'
import { sourceSize } from './framing'

const SIZE = { width: 6000, height: 4000 }

describe('the size of the picture that a frame is sampled from', () => {
  it('is never smaller than needed, and at most a fifth larger', () => {
    for (const scale of [1, 0.99, 0.71, 0.5, 0.33, 0.131, 0.05]) {
      const { width, height, scale: found } = sourceSize(SIZE, scale)
      expect(found).toBeGreaterThanOrEqual(scale * 0.9998)
      expect(found).toBeLessThan(scale * 1.2)
      expect(Math.abs(width - SIZE.width * found)).toBeLessThanOrEqual(0.5)
      expect(Math.abs(height - SIZE.height * found)).toBeLessThanOrEqual(0.5)
    }
    expect(sourceSize(SIZE, 1)).toEqual({ ...SIZE, scale: 1 })
  })

  it('stays while the scale moves a little, so that a drag does not make another', () => {
    expect(sourceSize(SIZE, 0.2)).toEqual(sourceSize(SIZE, 0.203))
  })
})

describe('areas that matter most', () => {
  const squareOf = (steps: object) => new Square(SIZE, squareSettings(settings({ steps })), undefined)
  const area = { x: 0.3, y: 0.2, width: 0.2, height: 0.1 }

  it('lie where they are where nothing is squared up', () => {
    const [found] = framedAreas([area], squareOf({}), 6000)
    for (const k of ['x', 'y', 'width', 'height'] as const) expect(found[k]).toBeCloseTo(area[k], 9)
  })

  it('follow a crop and a quarter turn, and are left out where the frame does not show them', () => {
    const crop = { rect: { centre: [0.45, 0.3] as [number, number], width: 0.4, height: 0.4 } }
    const [found] = framedAreas([area], squareOf({ crop }), 6000)
    // the frame is 2400 pixels a side, its corner at (1500, 600)
    expect(found.x).toBeCloseTo((1800 - 1500) / 2400, 6)
    expect(found.y).toBeCloseTo((1200 - 600) / 2400, 6)
    expect(found.width).toBeCloseTo(0.5, 6)
    const [turned] = framedAreas([area], squareOf({ level: { turns: 1 } }), 6000)
    expect([turned.width, turned.height].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([0.1, 0.2])
    const elsewhere = { rect: { centre: [0.85, 0.55] as [number, number], width: 0.2, height: 0.1 } }
    expect(framedAreas([area], squareOf({ crop: elsewhere }), 6000)).toEqual([])
  })
})
