import { describe, expect, it } from 'vitest'
import { movePoint, pointAt, pointNear, withoutPoint, withPoint } from './curvePoints'

describe('points of a curve', () => {
  const points = [
    [0, 0],
    [0.5, 0.4],
    [1, 1],
  ] as const

  it('stay between their neighbours and within the square', () => {
    expect(movePoint(points, 1, 2, -1)[1]).toEqual([0.99, 0])
    expect(movePoint(points, 0, 0.7, 0.2)[0]).toEqual([0.49, 0.2])
    expect(movePoint(points, 1, 0.3, 0.6)).toEqual([
      [0, 0],
      [0.3, 0.6],
      [1, 1],
    ])
  })

  it('are taken where one is near and set where none is', () => {
    expect(pointAt(points, 0.51, 0.9)).toEqual({ points: points.map((p) => [...p]), index: 1 })
    const made = pointAt(points, 0.8, 0.7)!
    expect(made.index).toBe(2)
    expect(made.points[2]).toEqual([0.8, 0.7])
    const full = Array.from({ length: 16 }, (_, i) => [i / 15, i / 15] as const)
    expect(pointAt(full, 0.1, 0.1, 0.01)).toBeUndefined()
  })

  it('are taken hold of near by, the nearest first, and set where there is room', () => {
    const two = [...points.slice(0, 2), [0.56, 0.46] as const, points[2]]
    expect(pointNear(two, 0.54, 0.45, 0.05)).toBe(2)
    expect(pointNear(two, 0.51, 0.41, 0.05)).toBe(1)
    // beside the end, but high above it
    expect(pointNear(points, 0.02, 0.5, 0.05)).toBeUndefined()
    expect(withPoint(points, 0.3, 0.9)!.points).toEqual([
      [0, 0],
      [0.3, 0.9],
      [0.5, 0.4],
      [1, 1],
    ])
    expect(withPoint(points, 0.5, 0.9)).toBeUndefined()
    expect(withPoint(points, 0, 0.9)).toBeUndefined()
  })

  it('go, but not the ends', () => {
    expect(withoutPoint(points, 1)).toHaveLength(2)
    expect(withoutPoint(points, 0)).toHaveLength(3)
    expect(withoutPoint(points, 2)).toHaveLength(3)
  })
})
