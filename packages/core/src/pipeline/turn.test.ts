import { beforeAll, describe, expect, it } from 'vitest'
import { fillRaster, floatsAt, testBench } from '../../test/bench'
import type { Kernels } from '../kernels/kernels'
import { address, rasterBytes, strideFor, type Raster, type Scratch } from '../memory'
import { inside } from './fetch'
import { turned, uprightSize } from '../geometry/upright'
import { storeTurned } from './turn'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))

/** Exif 3, table 10: which side of the stored picture is on top, and which on the left. */
const SIDES: Record<number, [top: string, left: string]> = {
  1: ['top', 'left'],
  2: ['top', 'right'],
  3: ['bottom', 'right'],
  4: ['bottom', 'left'],
  5: ['left', 'top'],
  6: ['right', 'top'],
  7: ['right', 'bottom'],
  8: ['left', 'bottom'],
}

describe('orientation', () => {
  const size = { width: 7, height: 5 }
  const side = (name: string, i: number): [number, number] =>
    name === 'top' ? [i, 0] : name === 'bottom' ? [i, 4] : name === 'left' ? [0, i] : [6, i]

  it.each([1, 2, 3, 4, 5, 6, 7, 8])('%i brings the sides where Exif says they belong', (orientation) => {
    // row 0 of the stored picture is the visual side named first, column 0 the one named second
    const [row, column] = SIDES[orientation]
    const upright = uprightSize(size, orientation)
    const edge = (name: string, [x, y]: [number, number]) =>
      name === 'top'
        ? y === 0
        : name === 'bottom'
          ? y === upright.height - 1
          : name === 'left'
            ? x === 0
            : x === upright.width - 1
    for (let i = 0; i < 5; i++) {
      expect(edge(row, turned(...side('top', i), size, orientation))).toBe(true)
      expect(edge(column, turned(...side('left', i), size, orientation))).toBe(true)
    }
    const places = new Set<string>()
    for (let y = 0; y < 5; y++) for (let x = 0; x < 7; x++) places.add(turned(x, y, size, orientation).join())
    expect(places.size).toBe(35)
  })

  it.each([1, 2, 3, 4, 5, 6, 7, 8])(
    '%i stores tiles so that they make one upright picture',
    (orientation) => {
      scratch.release()
      const whole = { width: 22, height: 13 }
      const upright = uprightSize(whole, orientation)
      const shape = { ...upright, stride: strideFor(upright.width), planes: 3, format: 'f16' as const }
      const target: Raster = { ...shape, offset: scratch.take(rasterBytes(shape) + 64) }
      const value = (p: number, x: number, y: number) => p * 500 + y * 30 + x
      for (const [x0, w] of [
        [0, 12],
        [12, 10],
      ])
        for (const [y0, h] of [
          [0, 8],
          [8, 5],
        ]) {
          const tile = fillRaster(scratch, w + 6, h + 6, 3, (p, x, y) => value(p, x0 + x - 3, y0 + y - 3))
          storeTurned(
            kernels,
            scratch,
            tile,
            3,
            { x: x0, y: y0, width: w, height: h },
            whole,
            orientation,
            target,
          )
        }
      const line = scratch.take(256)
      for (let p = 0; p < 3; p++)
        for (let y = 0; y < 13; y++)
          for (let x = 0; x < 22; x++) {
            const [u, v] = turned(x, y, whole, orientation)
            kernels.f16_to_f32(address(target, p, 0, v), line, target.stride)
            expect(floatsAt(scratch, line, 64)[u]).toBe(Math.fround(value(p, x, y)))
          }
    },
  )
})

describe('places outside the readable area', () => {
  it.each([2, 6])('stand for places of the same colour inside, pattern of %i', (period) => {
    for (const size of [24, 25, 31])
      for (let i = -24; i < size + 24; i++) {
        const at = inside(i, size, period)
        expect(at).toBeGreaterThanOrEqual(0)
        expect(at).toBeLessThan(size)
        expect((((at - i) % period) + period) % period).toBe(0)
        if (i >= 0 && i < size) expect(at).toBe(i)
      }
  })
})
