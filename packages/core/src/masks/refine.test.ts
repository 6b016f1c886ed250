import { describe, expect, it } from 'vitest'
import { boxMean, type Plane } from './planes'
import { refineMask, withContrast } from './refine'
import { MaskRefinementSchema, type MaskRefinement } from './schema'

const LONG = 200
const HEIGHT = 120

const plane = (of: (x: number, y: number) => number): Plane => ({
  ...{ width: LONG, height: HEIGHT },
  values: Float32Array.from({ length: LONG * HEIGHT }, (_, i) => of(i % LONG, Math.floor(i / LONG))),
})
const disc = (cx: number, cy: number, r: number) => (x: number, y: number) =>
  Math.hypot(x - cx, y - cy) <= r ? 1 : 0
/** A large disc with a hole, and a speck beside it. */
const scene = plane((x, y) => disc(60, 60, 40)(x, y) - disc(50, 60, 4)(x, y) + disc(150, 40, 3)(x, y))

const refined = (mask: Plane, part: Partial<MaskRefinement>) => {
  const [values] = refineMask(mask, MaskRefinementSchema.parse(part), LONG)
  return { values, at: (x: number, y: number) => values[y * LONG + x] }
}
const sum = (values: Float32Array) => values.reduce((s, v) => s + v, 0)

describe('refining a mask', () => {
  it('drops specks of a size and leaves all else as it was', () => {
    const { values, at } = refined(scene, { specks: 10 / LONG })
    expect(at(150, 40)).toBe(0)
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < 120; x++) expect(values[y * LONG + x]).toBe(scene.values[y * LONG + x])
    expect(refined(scene, { specks: 4 / LONG }).at(150, 40)).toBe(1)
  })

  it('closes gaps of a size and leaves all else as it was', () => {
    const { values, at } = refined(scene, { gaps: 10 / LONG })
    expect(at(50, 60)).toBe(1)
    expect(at(150, 40)).toBe(1)
    expect(sum(values)).toBeCloseTo(
      sum(plane(disc(60, 60, 40)).values) + sum(plane(disc(150, 40, 3)).values),
      3,
    )
    expect(refined(scene, { gaps: 5 / LONG }).at(50, 60)).toBe(0)
  })

  it('grows and shrinks by so many pixels all around, also by parts of one', () => {
    const one = plane(disc(100, 60, 20))
    for (const by of [6, -6]) {
      const { at } = refined(one, { grow: by / LONG })
      const r = 20 + by
      for (const turn of [0, 30, 45, 60, 90, 200]) {
        const [c, s] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)]
        const along = (d: number) => at(Math.round(100 + d * c), Math.round(60 + d * s))
        expect([turn, along(r - 2)]).toEqual([turn, 1])
        expect([turn, along(r + 2)]).toEqual([turn, 0])
      }
    }
    expect(refined(one, { grow: 0.4 / LONG }).at(121, 60)).toBeCloseTo(0.4, 5)
  })

  it('softens without moving the edge or what it holds in all', () => {
    const half = plane((x) => (x < 100 ? 1 : 0))
    const { values, at } = refined(half, { softness: 16 / LONG })
    expect(at(99, 60) + at(100, 60)).toBeCloseTo(1, 4)
    expect(at(99, 60)).toBeGreaterThan(at(103, 60))
    // a Gaussian of a standard deviation of 8: 16 % are beyond one of them
    expect(at(107, 60)).toBeCloseTo(0.173, 1)
    expect([at(60, 60), at(140, 60)]).toEqual([expect.closeTo(1, 4), expect.closeTo(0, 4)])
    expect(sum(values) / sum(half.values)).toBeCloseTo(1, 3)
  })

  it('gives contrast around a half', () => {
    const mask = Float32Array.of(0, 0.4, 0.5, 0.6, 1)
    withContrast(mask, 0.5)
    expect([...mask].map((v) => Number(v.toFixed(4)))).toEqual([0, 0.3, 0.5, 0.7, 1])
  })

  it('takes means over what there is of a square', () => {
    const mean = boxMean(scene, 3)
    for (const [x, y] of [
      [0, 0],
      [199, 119],
      [55, 62],
      [100, 1],
    ]) {
      let [all, n] = [0, 0]
      for (let j = Math.max(y - 3, 0); j <= Math.min(y + 3, HEIGHT - 1); j++)
        for (let i = Math.max(x - 3, 0); i <= Math.min(x + 3, LONG - 1); i++, n++)
          all += scene.values[j * LONG + i]
      expect(mean[y * LONG + x]).toBeCloseTo(all / n, 5)
    }
  })
})
