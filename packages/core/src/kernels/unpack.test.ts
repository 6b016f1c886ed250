import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { floatsAt, random, testBench } from '../../test/bench'
import { address, strideFor, type Raster, type Scratch } from '../memory'
import { fetchWindow, inside } from '../pipeline/fetch'
import type { OpenPicture } from '../pipeline'
import type { Kernels } from './kernels'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))
beforeEach(() => scratch.release())

const W = 30
const H = 22
const ACTIVE = { x: 3, y: 1, width: 24, height: 18 }

function picture(planes: 1 | 3, format: 'u16' | 'f32', size: 2 | 6): OpenPicture {
  const shape = { width: W, height: H, stride: strideFor(W), planes, format }
  const sensor: Raster = { ...shape, offset: scratch.take(shape.stride * H * planes * 4 + 64) }
  const next = random(4)
  for (let p = 0; p < planes; p++)
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const v = Math.floor(next() * 60000)
        if (format === 'u16') new Uint16Array(scratch.memory.buffer, address(sensor, p, x, y), 1)[0] = v
        else new Float32Array(scratch.memory.buffer, address(sensor, p, x, y), 1)[0] = v
      }
  const colours = Array.from({ length: size * size }, (_, i) => (size === 2 ? [0, 1, 1, 2][i] : (i * 7) % 3))
  return {
    sensor,
    active: ACTIVE,
    levels: {
      black: { rows: 2, columns: 3, values: Array.from({ length: 6 * planes }, (_, i) => 100 + i) },
      deltaH: Array.from({ length: ACTIVE.width }, (_, i) => i / 2),
      deltaV: Array.from({ length: ACTIVE.height }, (_, i) => -i),
      white: [60000, 61000, 62000].slice(0, planes),
      // of the last place of the pattern, in the last column and the first row
      highestBlack: Array.from({ length: planes }, (_, p) => 100 + 5 * planes + p + (ACTIVE.width - 1) / 2),
      balance: [1.5, 1, 2],
    },
    context: { pattern: { size, colours } },
  } as unknown as OpenPicture
}

const stored = (s: Raster, p: number, x: number, y: number) =>
  s.format === 'u16'
    ? new Uint16Array(scratch.memory.buffer, address(s, p, x, y), 1)[0]
    : new Float32Array(scratch.memory.buffer, address(s, p, x, y), 1)[0]

describe('reading the sensor', () => {
  it.each([
    [1, 'u16', 2],
    [1, 'f32', 2],
    [1, 'u16', 6],
    [3, 'u16', 2],
    [3, 'f32', 2],
  ] as const)('takes black off and scales, %i planes of %s, pattern of %i', (planes, format, size) => {
    const p = picture(planes, format, size)
    const period = planes === 1 ? size : 2
    for (const [x0, y0, w, h] of [
      [-5, -4, 44, 32],
      [6, 4, 12, 9],
      [8, -3, 16, 30],
    ]) {
      const out = fetchWindow(kernels, scratch, p, x0, y0, w, h)
      for (let c = 0; c < planes; c++)
        for (let j = 0; j < h; j++)
          for (let i = 0; i < w; i++) {
            const column = inside(x0 + i - ACTIVE.x, ACTIVE.width, period)
            const row = inside(y0 + j - ACTIVE.y, ACTIVE.height, period)
            const [x, y] = [column + ACTIVE.x, row + ACTIVE.y]
            const black = p.levels.black.values[((row % 2) * 3 + (column % 3)) * planes + c]
            const colour = planes === 1 ? p.context.pattern.colours[(y % size) * size + (x % size)] : c
            const truth =
              ((stored(p.sensor, c, x, y) - black - column / 2 + row) * p.levels.balance[colour]) /
              (p.levels.white[c] - p.levels.highestBlack[c])
            expect(floatsAt(scratch, address(out, c, i, j), 1)[0]).toBeCloseTo(truth, 4)
          }
    }
  })

  it('applies a linearisation table, its last entry for all beyond', () => {
    const at = scratch.take(8)
    new Uint16Array(scratch.memory.buffer, at, 4).set([0, 1, 2, 900])
    const table = scratch.take(6)
    new Uint16Array(scratch.memory.buffer, table, 3).set([10, 25, 90])
    kernels.apply_table(at, 4, table, 3)
    expect([...new Uint16Array(scratch.memory.buffer, at, 4)]).toEqual([10, 25, 90, 90])
  })
})
