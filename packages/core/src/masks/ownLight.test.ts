import { describe, expect, it } from 'vitest'
import { lightRatio, withOwnLight } from './ownLight'
import { refineMask } from './refine'
import { MaskRefinementSchema } from './schema'

const [width, height] = [80, 40]
const n = width * height
const [SKY, TREE] = [0.8, 0.2]
/** Places whose middle column is part sky, part tree. */
const COLUMN = 40
const shareAt = (x: number) => (x < COLUMN ? 1 : x > COLUMN ? 0 : 0.4)
const share = Float32Array.from({ length: n }, (_, i) => shareAt(i % width))
const light = share.map((s) => s * SKY + (1 - s) * TREE)
const guide = { L: light.map((v) => Math.cbrt(v)), a: new Float32Array(n), b: new Float32Array(n) }
const refined = (values: Float32Array, part: object) =>
  refineMask({ width, height, values }, MaskRefinementSchema.parse(part), width, guide)

describe('own light at an edge', () => {
  it.each([4, 0.25])('makes of a mixed place what a factor of %d makes of the sky in it alone', (factor) => {
    const mask = share.slice()
    withOwnLight(mask, lightRatio({ width, height, values: share }, guide), 1)
    for (const x of [10, COLUMN, 70]) {
      const i = 20 * width + x
      const should = shareAt(x) * SKY * factor + (1 - shareAt(x)) * TREE
      const by = (m: number) => light[i] * (1 + m * (factor - 1))
      expect(Math.abs(by(mask[i]) - should)).toBeLessThan(0.04)
    }
    const at = 20 * width + COLUMN
    // without it there is a rim
    expect(
      Math.abs(light[at] * (1 + 0.4 * (factor - 1)) - (0.4 * SKY * factor + 0.6 * TREE)),
    ).toBeGreaterThan(0.1)
  })

  it('is a plane after all others, and only where it is wanted', () => {
    expect(refined(share, { ownLight: 0.5 })).toHaveLength(2)
    expect(refined(share, { ownLight: 0.5, matte: 0.02 })).toHaveLength(6)
    expect(refined(share, { ownLight: 0.5, matte: 0.02, softness: 0.05 })).toHaveLength(2)
    const half = share.slice()
    const ratio = lightRatio({ width, height, values: share }, guide)
    withOwnLight(half, ratio, 0)
    expect(half).toEqual(share)
  })
})

describe('the matte of a border', () => {
  it('says how much of a mixed place lies inside, and moves a border that is a little off', () => {
    for (const off of [-1, 0, 1]) {
      const hard = Float32Array.from({ length: n }, (_, i) => (i % width < COLUMN + off ? 1 : 0))
      const [mask] = refined(hard, { matte: 0.02 })
      for (const x of [COLUMN - 3, COLUMN, COLUMN + 3])
        expect(Math.abs(mask[20 * width + x] - shareAt(x))).toBeLessThan(0.12)
    }
  })

  it('leaves a mask alone away from its border, and where nothing is to be told apart', () => {
    const hard = Float32Array.from({ length: n }, (_, i) => (i % width < 20 ? 1 : 0))
    const [mask] = refined(hard, { matte: 0.02 })
    expect(mask).toEqual(hard)
  })
})
