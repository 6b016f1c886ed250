import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { floatsAt, testBench } from '../../test/bench'
import { address, type Raster, type Scratch } from '../memory'
import { mendListed, type ListedFrame } from './badPixels'

let scratch: Scratch
beforeAll(async () => ({ scratch } = await testBench(8)))
beforeEach(() => scratch.release())

const SIZE = 16
const frame = (points: readonly [number, number][]): ListedFrame =>
  ({
    active: { x: 0, y: 0, width: SIZE, height: SIZE },
    width: SIZE,
    pattern: { size: 2, colours: [0, 1, 1, 2] },
    opcodes: { stored: [{ kind: 'fix-bad-pixels-list', points, areas: [] }], linear: [], demosaiced: [] },
  }) as unknown as ListedFrame

/** A mosaic of floats, mended at the listed places. */
function mended(points: readonly [number, number][], value: (x: number, y: number) => number) {
  const raster: Raster = { ...scratch.raster(SIZE, SIZE, 1), format: 'f32' }
  for (let y = 0; y < SIZE; y++) {
    const line = floatsAt(scratch, address(raster, 0, 0, y), SIZE)
    for (let x = 0; x < SIZE; x++) line[x] = value(x, y)
  }
  mendListed(scratch.memory.buffer, raster, frame(points))
  return (x: number, y: number) => floatsAt(scratch, address(raster, 0, x, y), 1)[0]
}

describe('a listed photosite', () => {
  it('becomes the mean of its own colour around it, nearer ones for more', () => {
    // red at even places: four at distance 2, four at 2 by 2, with weights 1/4 and 1/8
    const at = mended([[8, 8]], (x, y) => {
      if (x === 8 && y === 8) return 99
      if ((x & 1) + (y & 1) > 0) return 50
      return x === 8 || y === 8 ? 2 : 5
    })
    expect(at(8, 8)).toBeCloseTo((4 * 2 * (1 / 4) + 4 * 5 * (1 / 8)) / (4 / 4 + 4 / 8), 5)
  })

  it('takes nothing from other listed ones, and looks further where all around are listed', () => {
    const pair = mended(
      [
        [8, 8],
        [10, 8],
      ],
      (x, y) => (y === 8 && (x === 8 || x === 10) ? 99 : 3),
    )
    expect([pair(8, 8), pair(10, 8)]).toEqual([3, 3])
    const block: [number, number][] = []
    for (let y = 6; y <= 10; y++) for (let x = 6; x <= 10; x++) block.push([x, y])
    const far = mended(block, (x, y) => (x >= 6 && x <= 10 && y >= 6 && y <= 10 ? 99 : 7))
    for (const [x, y] of block) expect(far(x, y)).toBe(7)
  })

  it('at the corner takes what there is', () => {
    const at = mended([[0, 0]], (x, y) => (x + y === 0 ? 99 : x + y))
    // two at distance 2 in value 2, one at 2 by 2 of value 4
    expect(at(0, 0)).toBeCloseTo((2 / 4 + 2 / 4 + 4 / 8) / (1 / 4 + 1 / 4 + 1 / 8), 5)
  })
})
