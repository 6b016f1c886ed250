import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { fillRaster, sampleAt, testBench } from '../../../test/bench'
import type { Kernels } from '../../kernels/kernels'
import type { Scratch } from '../../memory'
import type { Tile } from '../step'
import { EdgeColourSchema } from './schema'
import { edgeColour } from './step'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench(16)))
beforeEach(() => scratch.release())

const [W, H] = [64, 40]
const HUE = (310 * Math.PI) / 180
/** Purple of a chroma. */
const purple = (chroma: number) => [chroma * Math.cos(HUE), chroma * Math.sin(HUE)] as const

function run(value: (x: number, y: number) => readonly [number, number, number], part: object = {}) {
  const settings = EdgeColourSchema.parse({ amount: 1, ...part })
  const raster = fillRaster(scratch, W, H, 3, (p, x, y) => value(x, y)[p])
  const whole = { width: W, height: H }
  const tile: Tile = { x: 0, y: 0, scale: 1, raster, colours: 'oklab', whole, kernels, scratch }
  edgeColour.run(tile, edgeColour.prepare(settings, undefined as never))
  const chroma = (x: number, y: number) =>
    Math.hypot(sampleAt(scratch, tile.raster, 1, x, y), sampleAt(scratch, tile.raster, 2, x, y))
  return { tile, chroma }
}

/** Bright on the left, dark on the right, with two purple pixels between. */
const fringe = (x: number): readonly [number, number, number] => {
  const [a, b] = x === 32 || x === 33 ? purple(0.12) : [0, 0]
  return [x < 33 ? 0.85 : 0.25, a, b]
}

describe('coloured edges', () => {
  it('lose the colour that only the edge has, and nothing else', () => {
    const { tile, chroma } = run(fringe)
    for (const x of [32, 33]) expect(chroma(x, 20)).toBeLessThan(0.031)
    // lightness stays as it is
    for (const x of [10, 32, 33, 50])
      expect(sampleAt(scratch, tile.raster, 0, x, 20)).toBeCloseTo(fringe(x)[0], 6)
    expect(run(fringe, { amount: 0.5 }).chroma(32, 20)).toBeCloseTo(0.12 - 0.5 * (0.12 - chroma(32, 20)), 2)
  })

  it('of other hues stay', () => {
    const { chroma } = run(fringe, { hue: 140 })
    for (const x of [32, 33]) expect(chroma(x, 20)).toBeCloseTo(0.12, 6)
  })

  it('leave a purple thing purple, up to its rim', () => {
    const thing = (x: number): readonly [number, number, number] =>
      x < 33 ? [0.85, ...purple(0.12)] : [0.25, 0, 0]
    const { chroma } = run(thing)
    expect(chroma(20, 20)).toBeCloseTo(0.12, 6)
    expect(chroma(27, 20)).toBeCloseTo(0.12, 6)
    expect(chroma(32, 20)).toBeGreaterThan(0.06)
  })

  it('are no edges where nothing jumps: purple lines on an even ground stay', () => {
    const line = (x: number): readonly [number, number, number] => [
      0.6,
      ...(x === 32 ? purple(0.12) : ([0, 0] as const)),
    ]
    expect(run(line).chroma(32, 20)).toBeCloseTo(0.12, 6)
  })

  it('reach as far as the tile was given surroundings', () => {
    expect(edgeColour.reach(EdgeColourSchema.parse({ radius: 4 }), 1, undefined as never)).toBe(4)
    expect(edgeColour.reach(EdgeColourSchema.parse({ radius: 4 }), 0.1, undefined as never)).toBe(1)
  })
})
