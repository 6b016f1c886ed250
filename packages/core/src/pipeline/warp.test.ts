import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { fillRaster, floatsAt, psnr, random, sampleAt, testBench } from '../../test/bench'
import { Square, type LensFaults } from '../geometry'
import type { Kernels } from '../kernels/kernels'
import { address, type Raster, type Scratch } from '../memory'
import { readDevelopment } from '../settings'
import { squareSettings } from './plan'
import { kernelWeights } from '../math'
import { warpWindow, type Warp } from './warp'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench(96)))
beforeEach(() => scratch.release())

const SIZE = { width: 300, height: 200 }

/** Smooth enough for a sampled picture to hold all of it: waves of at least five pixels. */
function scene(seed: number) {
  const next = random(seed)
  const waves = Array.from({ length: 24 }, () => {
    const length = 5 + 40 * next()
    const way = 2 * Math.PI * next()
    return { fx: Math.cos(way) / length, fy: Math.sin(way) / length, at: next(), size: 0.5 + next() }
  })
  const all = waves.reduce((a, w) => a + w.size, 0)
  return (p: number, x: number, y: number) =>
    0.5 +
    waves.reduce((s, w) => s + w.size * Math.sin(2 * Math.PI * (w.fx * x + w.fy * y + w.at + p / 3)), 0) / all
}

const squareOf = (steps: object, lens?: LensFaults, size = SIZE) =>
  new Square(size, squareSettings(readDevelopment({ steps })), lens, 28)

function warpOf(square: Square, part: Partial<Warp> = {}): Warp {
  return {
    numbers: square.numbers(1, square.size),
    tables: scratch.floats(square.tables()),
    channels: square.fringed ? 3 : 1,
    shading: [],
    ratio: 1,
    quick: false,
    frame: square,
    ...part,
  }
}
const fill = (size: { width: number; height: number }, f: (p: number, x: number, y: number) => number) =>
  fillRaster(scratch, size.width, size.height, 3, (p, x, y) => f(p, x + 0.5, y + 0.5))
const all = (source: Raster, warp: Warp) =>
  warpWindow(kernels, scratch, source, warp, 0, 0, warp.frame.width, warp.frame.height)

describe('one resampling', () => {
  it('has weights that sum to one and leave whole pixels as they are', () => {
    for (const quick of [false, true])
      for (const ratio of [1, 1.15]) {
        const weights = kernelWeights(quick, ratio)
        const places = quick ? 4 : 8
        for (let phase = 0; phase < 512; phase++) {
          const sum = weights.subarray(phase * places, (phase + 1) * places).reduce((a, b) => a + b, 0)
          expect(sum).toBeCloseTo(1, 6)
        }
        if (ratio === 1) expect([...weights.subarray(0, places)].filter((w) => w !== 0)).toEqual([1])
      }
  })

  it('turned by quarters, mirrored and cropped is the same samples in other places', () => {
    const source = fill(SIZE, scene(1))
    const turned = squareOf({
      level: { turns: 1, mirror: true },
      crop: { rect: { centre: [0.5, 1 / 3], width: 0.4, height: 0.6 } },
    })
    const out = all(source, warpOf(turned))
    for (const [x, y] of [
      [0, 0],
      [17, 60],
      [turned.width - 1, turned.height - 1],
    ]) {
      const [u, v] = turned.toSource(x + 0.5, y + 0.5)!
      for (let p = 0; p < 3; p++)
        expect(sampleAt(scratch, out, p, x, y)).toBe(
          sampleAt(scratch, source, p, Math.round(u - 0.5), Math.round(v - 0.5)),
        )
    }
  })

  it('shows each place of the scene where the map says, channel by channel', () => {
    const lens: LensFaults = {
      factors: [(r) => 1.003 - 0.04 * r * r, (r) => 1 - 0.04 * r * r, (r) => 0.996 - 0.04 * r * r],
      centre: [0.02, 0],
      tangential: [
        [0.001, 0],
        [0, 0.002],
        [0, 0],
      ],
      fallOff: (r) => 1 - 0.3 * r * r,
    }
    const light = scene(2)
    const source = fill(SIZE, light)
    const square = squareOf(
      {
        lens: { choice: 'automatic' },
        level: { angle: 2.5 },
        perspective: { tilt: -4, swing: 3, soften: 0.3 },
      },
      lens,
    )
    const out = all(source, warpOf(square))
    const got: number[] = []
    const want: number[] = []
    for (let y = 2; y < square.height - 2; y += 3)
      for (let x = 2; x < square.width - 2; x += 3)
        for (const p of [0, 1, 2] as const) {
          const [u, v] = square.toSource(x + 0.5, y + 0.5, p)!
          if (u < 4 || v < 4 || u > 296 || v > 196) continue
          const [gu, gv] = square.toSource(x + 0.5, y + 0.5)!
          const r =
            Math.hypot(gu - 150 - (0.02 * Math.hypot(300, 200)) / 2, gv - 100) / (Math.hypot(300, 200) / 2)
          want.push(light(p, u, v))
          got.push(sampleAt(scratch, out, p, x, y) * (1 - 0.3 * r * r))
        }
    expect(want.length).toBeGreaterThan(10000)
    expect(psnr(got, want)).toBeGreaterThan(48)
  })

  it('rotated by 10 degrees and back keeps at least 40 dB inside', () => {
    const size = { width: 480, height: 360 }
    const light = scene(3)
    const source = fill(size, light)
    const there = squareOf({ level: { angle: 10 }, crop: { inside: false } }, undefined, size)
    const turned = all(source, warpOf(there))
    const back = squareOf(
      {
        level: { angle: -10 },
        crop: {
          rect: {
            centre: [0.5, there.height / there.width / 2],
            width: 240 / there.width,
            height: 180 / there.width,
          },
        },
      },
      undefined,
      { width: there.width, height: there.height },
    )
    const again = all(turned, warpOf(back))
    const got: number[] = []
    const want: number[] = []
    // the frames' middles may lie between pixels: where a place comes from is followed through both maps
    for (let y = 10; y < 170; y++)
      for (let x = 10; x < 230; x++) {
        const [u, v] = back.toSource(x + 0.5, y + 0.5)!
        const [s, t] = there.toSource(u, v)!
        got.push(sampleAt(scratch, again, 1, x, y))
        want.push(light(1, s, t))
      }
    expect(psnr(got, want)).toBeGreaterThan(40)
  })

  it('gives the same bits however the frame is cut', () => {
    const source = fill(SIZE, scene(5))
    const square = squareOf({ level: { angle: -6 }, perspective: { tilt: 5 }, fallOff: { ev: 0.5 } })
    const warp = warpOf(square)
    const whole = all(source, warp)
    const part = warpWindow(kernels, scratch, source, warp, 41, 33, 90, 21)
    for (let p = 0; p < 3; p++)
      for (let j = 0; j < 21; j++)
        expect([...floatsAt(scratch, address(part, p, 0, j), 90)]).toEqual([
          ...floatsAt(scratch, address(whole, p, 41, 33 + j), 90),
        ])
  })

  it('repeats the frame beyond its edge, and has no light beyond the picture', () => {
    const source = fill(SIZE, () => 0.7)
    const square = squareOf({ level: { angle: 20 }, crop: { inside: false } })
    const warp = warpOf(square)
    const around = warpWindow(kernels, scratch, source, warp, -8, -8, square.width + 16, square.height + 16)
    expect(sampleAt(scratch, around, 0, 8, 8)).toBe(0)
    const whole = all(source, warp)
    for (const y of [0, 50, square.height - 1])
      expect(sampleAt(scratch, around, 1, 0, y + 8)).toBe(sampleAt(scratch, whole, 1, 0, y))
    expect(sampleAt(scratch, whole, 1, square.width >> 1, square.height >> 1)).toBeCloseTo(0.7, 5)
  })

  it('multiplies by the gain maps of a file, straight between their values', () => {
    const source = fill(SIZE, () => 0.25)
    const map = scratch.floats([1, 2, 1, 2, 1, 1, 1, 1, 3, 3, 1, 1])
    const square = squareOf({ fallOff: { ev: 1, shape: 2 } })
    const shading = { map, across: 2, down: 2, ax: 1 / 300, bx: 0, ay: 1 / 200, by: 0 }
    const out = all(source, warpOf(square, { shading: [shading] }))
    const at = (p: number) => sampleAt(scratch, out, p, 150, 100) / 0.25
    expect(at(0)).toBeCloseTo(1.5, 2)
    expect(at(1)).toBeCloseTo(1, 2)
    expect(at(2)).toBeCloseTo(2, 2)
    // and by the hand's fall-off: a stop at the corner
    expect(sampleAt(scratch, out, 1, 0, 0) / 0.25).toBeCloseTo(2, 1)
  })
})

describe('the border of a picture whose channels are of different size', () => {
  it('ends where the first of them does, without a coloured rim', () => {
    const source = fill(SIZE, () => 0.7)
    // red is read from further out than the others, so it ends first
    const square = squareOf({
      fringes: { source: 'own', redEdge: 0.01, blueEdge: -0.01 },
      level: { angle: 12 },
      crop: { inside: false },
    })
    const out = all(source, warpOf(square))
    let borders = 0
    for (let y = 0; y < square.height; y++)
      for (let x = 0; x < square.width; x++) {
        const light = [0, 1, 2].map((p) => sampleAt(scratch, out, p, x, y))
        const inside = ([0, 1, 2] as const).every((c) => {
          const [sx, sy] = square.toSource(x + 0.5, y + 0.5, c) ?? [-1, -1]
          return sx >= 0 && sy >= 0 && sx <= SIZE.width && sy <= SIZE.height
        })
        const some = ([0, 1, 2] as const).some((c) => {
          const [sx, sy] = square.toSource(x + 0.5, y + 0.5, c) ?? [-1, -1]
          return sx >= 1 && sy >= 1 && sx <= SIZE.width - 1 && sy <= SIZE.height - 1
        })
        const dark = light.every((v) => v === 0)
        expect(dark || light.every((v) => v > 0)).toBe(true)
        if (some && !inside && dark) borders++
      }
    expect(borders).toBeGreaterThan(20)
  })
})
