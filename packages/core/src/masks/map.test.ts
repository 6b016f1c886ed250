import { describe, expect, it } from 'vitest'
import { drawRefined } from './draw'
import { onMap, sampleMap, type MaskMap } from './map'
import { MaskRefinementSchema } from './schema'

const [WIDTH, HEIGHT, STRIDE] = [10, 6, 12]

/** A map of planes, each by place; 20 samples to a long edge, its first one at 4, 2 of all. */
function mapOf(planes: readonly ((x: number, y: number) => number)[]): { map: MaskMap; memory: ArrayBuffer } {
  const memory = new ArrayBuffer(STRIDE * HEIGHT * planes.length * 4)
  const values = new Float32Array(memory)
  planes.forEach((of, p) => {
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) values[(p * HEIGHT + y) * STRIDE + x] = of(x, y)
  })
  const raster = {
    ...{ width: WIDTH, height: HEIGHT, stride: STRIDE, planes: planes.length },
    ...{ offset: 0, format: 'f32' as const },
  }
  return { map: { raster, x: 4, y: 2, perX: 20, perY: 20 }, memory }
}
const at = (x: number, y: number) =>
  [Float32Array.of((x + 4.5) / 20), Float32Array.of((y + 2.5) / 20)] as const

describe('maps of masks', () => {
  it('are sampled where they lie, between their samples and beyond their border', () => {
    const { map, memory } = mapOf([(x, y) => x + 100 * y, () => -1])
    const out = new Float32Array(1)
    for (const [x, y, is] of [
      [3, 2, 203],
      [3.25, 2, 203.25],
      [3, 2.5, 253],
      [9, 5, 509],
      [-4, 1, 100],
      [12, 9, 509],
    ]) {
      sampleMap(memory, map, 0, ...at(x, y), out)
      expect([x, y, out[0]]).toEqual([x, y, expect.closeTo(is, 3)])
    }
    sampleMap(memory, map, 1, ...at(3, 2), out)
    expect(out[0]).toBe(-1)
  })

  it('know what lies on them', () => {
    const { map } = mapOf([() => 0])
    const on = (x: number, y: number) => onMap(map, (x + 4) / 20, (y + 2) / 20)
    expect([on(0.1, 0.1), on(9.9, 5.9), on(-0.1, 3), on(10.1, 3), on(3, -0.1), on(3, 6.1)]).toEqual([
      ...[true, true, false, false, false, false],
    ])
  })

  it('follow the picture by the factors that they hold, then have their contrast', () => {
    const { map, memory } = mapOf([() => 0.5, () => 2, () => 1, () => -1, () => 0.1])
    const [us, vs] = at(3, 2)
    const guide = { L: Float32Array.of(0.3), a: Float32Array.of(0.1), b: Float32Array.of(0.05) }
    const window = { width: 1, height: 1, us, vs, pixel: 0.05, memory, guide: () => guide }
    const value = (contrast: number) =>
      drawRefined(map, MaskRefinementSchema.parse({ edges: 0.01, contrast }), window)![0]
    // 2 * 0.3 + 0.1 - 0.05 + 0.1 = 0.75, of which four fifths
    expect(value(0)).toBeCloseTo(0.5 + 0.8 * 0.25, 5)
    expect(value(0.5)).toBeCloseTo(0.5 + 2 * 0.8 * 0.25, 5)
  })
})
