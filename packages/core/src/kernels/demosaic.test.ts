import { beforeAll, describe, expect, it } from 'vitest'
import { fillRaster, psnr, random, sampleAt, testBench } from '../../test/bench'
import type { Scratch } from '../memory'
import { demosaic } from '../steps'
import type { PictureContext, Tile } from '../steps'
import type { Kernels } from './kernels'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))

const SIZE = 96
const REACH = 20
type Four = readonly [number, number, number, number]
const PATTERNS: Four[] = [
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

function develop(pattern: Four, value: (c: number, x: number, y: number) => number, falseColour = 0): Tile {
  const colour = (x: number, y: number) => pattern[(y & 1) * 2 + (x & 1)]
  const raster = fillRaster(scratch, SIZE, SIZE, 1, (_p, x, y) => value(colour(x, y), x, y))
  const tile: Tile = {
    ...{ x: 0, y: 0, scale: 1, raster, colours: 'rgb', whole: raster },
    ...{ kernels, scratch },
  }
  const context = { pattern: { size: 2, colours: pattern } } as unknown as PictureContext
  demosaic.run(tile, demosaic.prepare({ falseColour }, context))
  return tile
}

/** Bilinear interpolation, the usual yardstick. */
function bilinear(pattern: Four, value: (c: number, x: number, y: number) => number) {
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

const KNEE = 0.005
const log = (v: number) => Math.log2(Math.max(v, -KNEE / 2) + KNEE)

/** The estimate of Zhang and Wu 2005 at one place, on logarithms, in double precision, with windows of five. */
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
    const taps = [1, 4, 6, 4, 1].map((v) => v / 16)
    const smooth = (i: number) => taps.reduce((s, w, k) => s + w * raw(i + k - 2), 0)
    const window = [-2, -1, 0, 1, 2]
    const mean = window.reduce((s, k) => s + smooth(k), 0) / 5
    const signal = Math.max(window.reduce((s, k) => s + smooth(k) ** 2, 0) / 5 - mean ** 2, 1e-12)
    const noise = window.reduce((s, k) => s + (smooth(k) - raw(k)) ** 2, 0) / 5 + 1e-10
    const share = signal / (signal + noise)
    return { value: mean + share * (raw(0) - mean), error: share * noise }
  }
  const h = direction((i) => log(mosaic(x + i, y)))
  const v = direction((i) => log(mosaic(x, y + i)))
  const estimate = log(mosaic(x, y)) + (v.error * h.value + h.error * v.value) / (h.error + v.error)
  return 2 ** estimate - KNEE
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

  it('takes colour that only fine detail feigns away, and leaves the colour of small things', () => {
    const chroma = (falseColour: number, value: (c: number, x: number, y: number) => number) => {
      scratch.release()
      const tile = develop(PATTERNS[0], value, falseColour)
      let error = 0
      for (let y = REACH; y < SIZE - REACH; y++)
        for (let x = REACH; x < SIZE - REACH; x++)
          for (const c of [0, 2]) {
            const ours = sampleAt(scratch, tile.raster, c, x, y) - sampleAt(scratch, tile.raster, 1, x, y)
            error += Math.abs(ours - value(c, x, y) + value(1, x, y))
          }
      return error
    }
    const line = (t: number) => Math.abs(t - Math.floor(t) - 0.5) < 0.1
    const lattice = (_c: number, x: number, y: number) =>
      line((x * 0.9 - y * 0.43 + 400) / 7) || line((x * 0.4 + y * 0.91) / 9) ? 0.06 : 0.8
    expect(chroma(0.5, lattice)).toBeLessThan(0.82 * chroma(0, lattice))
    expect(chroma(0.9, lattice)).toBeLessThan(chroma(0.5, lattice))
    // red berries of six pixels, spread as by a lens
    const berry = (c: number, x: number, y: number) => {
      const r = Math.hypot((x % 24) - 12, (y % 24) - 12)
      return (
        [0.3, 0.35, 0.25][c] + ([0.6, 0.06, 0.05][c] - [0.3, 0.35, 0.25][c]) / (1 + Math.exp((r - 3) * 2.5))
      )
    }
    expect(chroma(0.5, berry)).toBeLessThan(1.5 * chroma(0, berry))
  })

  it('keeps every measured sample of green and leaves a flat field flat', () => {
    scratch.release()
    const next = random(7)
    const noisy = new Float32Array(SIZE * SIZE).map(() => next())
    const tile = develop(PATTERNS[0], (_c, x, y) => noisy[y * SIZE + x] ?? 0)
    for (let y = REACH; y < SIZE - REACH; y++)
      for (let x = REACH + (y & 1 ? 0 : 1); x < SIZE - REACH; x += 2)
        expect(sampleAt(scratch, tile.raster, 1, x, y)).toBeCloseTo(noisy[y * SIZE + x], 5)
    scratch.release()
    const flat = develop(PATTERNS[0], (c) => [0.3, 0.5, 0.2][c])
    for (const [c, v] of [0.3, 0.5, 0.2].entries())
      expect(sampleAt(scratch, flat.raster, c, 40, 41)).toBeCloseTo(v, 6)
  })
})
