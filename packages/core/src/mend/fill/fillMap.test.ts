import { describe, expect, it } from 'vitest'
import { random } from '../../../test/bench'
import { decodeFill, encodeFill, fillIn, type FillMap } from './fillMap'

/** A fill whose offsets say where they lie. */
function someFill(by = 1): FillMap {
  const next = random(11)
  const box = (x: number, y: number, width: number, height: number) => {
    const right = Int32Array.from({ length: width * height }, () => Math.floor(next() * 3) * 700 - 650)
    const down = right.map((r, i) => r - (i % 5) + 1)
    return { x, y, width, height, right, down }
  }
  return { long: 2000, by, boxes: [box(-3, 7, 19, 11), box(10, 12, 30, 25)] }
}

describe('a fill as bulk data', () => {
  it('comes back as it was', () => {
    const fill = someFill(3)
    expect(decodeFill(encodeFill(fill))).toEqual(fill)
  })

  it('is small where much is taken from the same distance', () => {
    const box = { x: 0, y: 0, width: 1000, height: 1000 }
    const same = new Int32Array(1e6).fill(40)
    expect(
      encodeFill({ long: 6000, by: 1, boxes: [{ ...box, right: same, down: same }] }).length,
    ).toBeLessThan(32)
  })

  it('is refused where it is damaged', () => {
    const bytes = encodeFill(someFill())
    for (let n = 0; n < bytes.length; n++)
      expect(() => decodeFill(bytes.subarray(0, n)), `${n} bytes`).toThrow(RangeError)
    // a path is no fill, a box of a thousand million cells is none, nor is a way out of any picture
    expect(() => decodeFill(Uint8Array.from([1, ...bytes.subarray(1)]))).toThrow(RangeError)
    const huge = { x: 0, y: 0, width: 1, height: 1, right: Int32Array.of(1 << 20), down: Int32Array.of(0) }
    expect(() => decodeFill(encodeFill({ long: 9, by: 1, boxes: [huge] }))).toThrow(RangeError)
  })
})

describe('the part of a fill in a rectangle', () => {
  const at = (
    f: { x: number; y: number; width: number; right: Int32Array; down: Int32Array },
    x: number,
    y: number,
  ) => {
    const i = (y - f.y) * f.width + x - f.x
    return [f.right[i], f.down[i]]
  }

  it('takes the first box where two overlap, and nothing beyond them', () => {
    const fill = someFill()
    const part = fillIn(fill, { x: -10, y: 0, width: 60, height: 50 }, 2000)
    expect(at(part, 12, 13)).toEqual(at(fill.boxes[0], 12, 13))
    expect(at(part, 20, 20)).toEqual(at(fill.boxes[1], 20, 20))
    expect(at(part, -4, 8)).toEqual([0, 0])
    expect(at(part, 39, 37)).toEqual([0, 0])
  })

  it('stretches cells to pixels, and a fill to a picture of another size', () => {
    const coarse = someFill(2)
    const [first] = coarse.boxes
    const part = fillIn(coarse, { x: 0, y: 14, width: 10, height: 10 }, 2000)
    expect(at(part, 5, 17)).toEqual(at(first, 2, 8).map((v) => 2 * v))
    const fill = someFill()
    const large = fillIn(fill, { x: 0, y: 14, width: 20, height: 10 }, 4000)
    expect(at(large, 9, 17)).toEqual(at(fill.boxes[0], 4, 8).map((v) => 2 * v))
  })
})
