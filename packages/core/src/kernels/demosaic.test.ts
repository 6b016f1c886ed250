import { beforeAll, describe, expect, it } from 'vitest'
import { fillRaster, psnr, random, sampleAt, testBench } from '../../test/bench'
import type { Scratch } from '../memory'
import { demosaic } from '../steps'
import type { BayerPattern } from '../raw'
import type { PictureContext, Tile } from '../steps'
import type { Kernels } from './kernels'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))

const SIZE = 96
const REACH = 20
const PATTERNS: BayerPattern[] = [
  [0, 1, 1, 2],
  [1, 0, 2, 1],
  [1, 2, 0, 1],
  [2, 1, 1, 0],
]

/** A scene of edges, lines and gradients whose colours go together as those of things do. */
function scene(c: number, x: number, y: number): number {
  const ring = 0.5 + 0.4 * Math.sin(Math.hypot(x - 48, y - 40) * 0.9)
  const edge = x * 0.7 + y > 80 ? 0.55 : 0
  const tint = [0.95, 0.8, 0.6][c]
  return 0.05 + tint * (0.35 * ring + edge * [0.7, 0.9, 1][c])
}

function develop(pattern: BayerPattern, value: (c: number, x: number, y: number) => number): Tile {
  const colour = (x: number, y: number) => pattern[(y & 1) * 2 + (x & 1)]
  const raster = fillRaster(scratch, SIZE, SIZE, 1, (_p, x, y) => value(colour(x, y), x, y))
  const tile: Tile = { x: 0, y: 0, scale: 1, raster, kernels, scratch }
  demosaic.run(tile, demosaic.prepare({}, { pattern } as PictureContext))
  return tile
}

/** Bilinear interpolation, the usual yardstick. */
function bilinear(pattern: BayerPattern, value: (c: number, x: number, y: number) => number) {
  return (c: number, x: number, y: number) => {
    let sum = 0
    let weight = 0
    for (let j = -1; j <= 1; j++)
      for (let i = -1; i <= 1; i++) {
        if (pattern[((y + j) & 1) * 2 + ((x + i) & 1)] !== c) continue
        const w = (2 - Math.abs(i)) * (2 - Math.abs(j))
        sum += w * value(c, x + i, y + j)
        weight += w
      }
    return sum / weight
  }
}

/** The estimate of Zhang and Wu 2005 at one place, in double precision, written from the paper. */
function referenceGreen(
  mosaic: (x: number, y: number) => number,
  green: boolean,
  x: number,
  y: number,
): number {
  if (green) return mosaic(x, y)
  const sign = (i: number) => (i % 2 === 0 ? -1 : 1)
  const direction = (at: (i: number) => number) => {
    const raw = (i: number) =>
      sign(i) * (at(i) - (at(i - 1) + at(i + 1)) / 2 - (2 * at(i) - at(i - 2) - at(i + 2)) / 4)
    const taps = [4, 9, 15, 23, 26, 23, 15, 9, 4].map((v) => v / 128)
    const smooth = (i: number) => taps.reduce((s, w, k) => s + w * raw(i + k - 4), 0)
    const window = Array.from({ length: 9 }, (_, k) => k - 4)
    const mean = window.reduce((s, k) => s + smooth(k), 0) / 9
    const signal = Math.max(window.reduce((s, k) => s + smooth(k) ** 2, 0) / 9 - mean ** 2, 1e-12)
    const noise = window.reduce((s, k) => s + (smooth(k) - raw(k)) ** 2, 0) / 9 + 1e-10
    const share = signal / (signal + noise)
    return { value: mean + share * (raw(0) - mean), error: share * noise }
  }
  const h = direction((i) => mosaic(x + i, y))
  const v = direction((i) => mosaic(x, y + i))
  return mosaic(x, y) + (v.error * h.value + h.error * v.value) / (h.error + v.error)
}

describe('demosaic', () => {
  it.each(PATTERNS)('agrees with the paper written out plainly, pattern %i %i %i %i', (...pattern) => {
    scratch.release()
    const tile = develop(pattern, scene)
    const mosaic = (x: number, y: number) => scene(pattern[(y & 1) * 2 + (x & 1)], x, y)
    for (let y = 30; y < 50; y++)
      for (let x = 30; x < 50; x++) {
        const green = pattern[(y & 1) * 2 + (x & 1)] === 1
        expect(sampleAt(scratch, tile.raster, 1, x, y)).toBeCloseTo(referenceGreen(mosaic, green, x, y), 4)
      }
  })

  it.each(PATTERNS)('is far closer to the scene than bilinear, pattern %i %i %i %i', (...pattern) => {
    scratch.release()
    const tile = develop(pattern, scene)
    const plain = bilinear(pattern, scene)
    const truth: number[] = []
    const ours: number[] = []
    const theirs: number[] = []
    for (let c = 0; c < 3; c++)
      for (let y = REACH; y < SIZE - REACH; y++)
        for (let x = REACH; x < SIZE - REACH; x++) {
          truth.push(scene(c, x, y))
          ours.push(sampleAt(scratch, tile.raster, c, x, y))
          theirs.push(plain(c, x, y))
        }
    expect(psnr(ours, truth)).toBeGreaterThan(psnr(theirs, truth) + 5)
  })

  it('keeps every measured sample of green and leaves a flat field flat', () => {
    scratch.release()
    const next = random(7)
    const noisy = new Float32Array(SIZE * SIZE).map(() => next())
    const tile = develop(PATTERNS[0], (_c, x, y) => noisy[y * SIZE + x] ?? 0)
    for (let y = REACH; y < SIZE - REACH; y++)
      for (let x = REACH + (y & 1 ? 0 : 1); x < SIZE - REACH; x += 2)
        expect(sampleAt(scratch, tile.raster, 1, x, y)).toBe(noisy[y * SIZE + x])
    scratch.release()
    const flat = develop(PATTERNS[0], (c) => [0.3, 0.5, 0.2][c])
    for (const [c, v] of [0.3, 0.5, 0.2].entries())
      expect(sampleAt(scratch, flat.raster, c, 40, 41)).toBeCloseTo(v, 6)
  })
})
