import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { fillRaster, floatsAt, random, testBench } from '../../test/bench'
import { address, type Scratch } from '../memory'
import { defects, type PictureContext, type Tile } from '../steps'
import type { Kernels } from './kernels'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))
beforeEach(() => scratch.release())

const SIZE = 64

describe('hot and dead pixels', () => {
  const context = {
    noise: [0, 0, 0].map(() => ({ a: 3e-5, b: 1e-8 })),
    balance: [1, 1, 1],
    pattern: { size: 2, colours: [0, 1, 1, 2] },
  } as unknown as PictureContext

  function mend(value: (x: number, y: number) => number) {
    const raster = fillRaster(scratch, SIZE, SIZE, 1, (_p, x, y) => value(x, y))
    const before = Float32Array.from(floatsAt(scratch, raster.offset, raster.stride * SIZE))
    const tile: Tile = {
      ...{ x: 0, y: 0, scale: 1, raster, colours: 'rgb', whole: raster },
      ...{ kernels, scratch },
    }
    defects.run(tile, defects.prepare({ mend: true, threshold: 5, specks: 0 }, context))
    return { before, after: (x: number, y: number) => floatsAt(scratch, address(tile.raster, 0, x, y), 1)[0] }
  }
  const next = random(5)
  const grain = new Float32Array(SIZE * SIZE).map(() => (next() - 0.5) * 0.004)
  // each colour of the pattern has its own level
  const field = (x: number, y: number) => [0.2, 0.35, 0.35, 0.12][(y & 1) * 2 + (x & 1)] + grain[y * SIZE + x]

  it('mends defects that stand alone, on dark and on bright ground', () => {
    const hot = [
      [20, 21, 0.9],
      [33, 30, 0.55],
      [40, 44, 0],
    ]
    const { after } = mend((x, y) => hot.find(([hx, hy]) => hx === x && hy === y)?.[2] ?? field(x, y))
    for (const [x, y] of hot) expect(Math.abs(after(x, y) - field(x, y))).toBeLessThan(0.01)
  })

  it('leaves noise, an edge, and a point of light that a lens has spread', () => {
    const spread = (x: number, y: number) =>
      0.9 * Math.exp(-((x - 30) ** 2 + (y - 30) ** 2) / (2 * 0.66 ** 2))
    const light = mend((x, y) => field(x, y) + spread(x, y))
    for (let y = 24; y < 37; y++)
      for (let x = 24; x < 37; x++) expect(light.after(x, y)).toBe(light.before[y * SIZE + x])
    scratch.release()
    const edge = mend((x, y) => field(x, y) * (x + y > 60 ? 4 : 1))
    for (let y = 4; y < SIZE - 4; y++)
      for (let x = 8; x < SIZE - 8; x++) expect(edge.after(x, y)).toBe(edge.before[y * SIZE + x])
  })

  it('mends defects of a 6 x 6 pattern, and leaves its colours, noise and points of light', () => {
    const colours = [
      ...[1, 1, 0, 1, 1, 2, 1, 1, 2, 1, 1, 0, 2, 0, 1, 0, 2, 1],
      ...[1, 1, 2, 1, 1, 0, 1, 1, 0, 1, 1, 2, 0, 2, 1, 2, 0, 1],
    ]
    const large = { ...context, pattern: { size: 6 as const, colours } }
    const [x0, y0] = [4, 9]
    const level = (x: number, y: number) =>
      [0.5, 0.2, 0.12][colours[((y + y0) % 6) * 6 + ((x + x0) % 6)]] + grain[y * SIZE + x]
    const hot = [
      [20, 21, 0.9],
      [41, 30, 0.95],
      [33, 44, 0],
    ]
    const spread = (x: number, y: number) =>
      0.9 * Math.exp(-((x - 50) ** 2 + (y - 50) ** 2) / (2 * 0.66 ** 2))
    const light = (x: number, y: number) => level(x, y) + spread(x, y)
    const raster = fillRaster(scratch, SIZE, SIZE, 1, (_p, x, y) =>
      x < SIZE ? (hot.find(([hx, hy]) => hx === x && hy === y)?.[2] ?? light(x, y)) : 0,
    )
    const tile: Tile = {
      ...{ x: x0, y: y0, scale: 1, raster, colours: 'rgb', whole: raster },
      ...{ kernels, scratch },
    }
    defects.run(tile, defects.prepare({ mend: true, threshold: 5, specks: 0 }, large))
    for (let y = 4; y < SIZE - 4; y++)
      for (let x = 4; x < SIZE - 4; x++) {
        const after = floatsAt(scratch, address(tile.raster, 0, x, y), 1)[0]
        const bad = hot.some(([hx, hy]) => hx === x && hy === y)
        expect(Math.abs(after - light(x, y))).toBeLessThan(bad ? 0.01 : 1e-6)
      }
  })
})

describe('a defect on an edge', () => {
  const context = {
    noise: [0, 0, 0].map(() => ({ a: 3e-5, b: 1e-8 })),
    balance: [1, 1, 1],
    pattern: { size: 2, colours: [0, 1, 1, 2] },
  } as unknown as PictureContext
  it.each([
    ['upright', (x: number, _y: number) => x],
    ['level', (_x: number, y: number) => y],
    ['falling', (x: number, y: number) => x - y + 32],
    ['rising', (x: number, y: number) => x + y - 32],
  ] as const)('that is %s is mended along it', (_, across) => {
    // a soft ridge beside the defect: only along it are neighbours alike
    const value = (x: number, y: number) => 0.1 + 0.25 * Math.exp(-((across(x, y) - 33.5) ** 2) / 18)
    scratch.release()
    const raster = fillRaster(scratch, SIZE, SIZE, 1, (_p, x, y) =>
      x === 32 && y === 32 ? 0.99 : value(x, y),
    )
    const tile: Tile = {
      ...{ x: 0, y: 0, scale: 1, raster, colours: 'rgb', whole: raster },
      ...{ kernels, scratch },
    }
    defects.run(tile, defects.prepare({ mend: true, threshold: 5, specks: 0 }, context))
    const after = floatsAt(scratch, address(tile.raster, 0, 32, 32), 1)[0]
    expect(Math.abs(after - value(32, 32))).toBeLessThan(0.002)
  })
})

describe('which sensor faults are sought', () => {
  const base = { mend: false, threshold: 5, specks: 0 }
  it('is decided for each kind on its own', () => {
    expect(defects.idle!(base)).toBe(true)
    expect(defects.idle!({ ...base, mend: true })).toBe(false)
    expect(defects.idle!({ ...base, specks: 0.5 })).toBe(false)
  })

  it('says how far around a place is looked at', () => {
    const at = (specks: number, size: number) =>
      defects.reach({ ...base, mend: true, specks }, 1, { pattern: { size } } as never)
    expect([at(0, 2), at(0.5, 2), at(0.5, 6)]).toEqual([2, 4, 3])
  })
})
