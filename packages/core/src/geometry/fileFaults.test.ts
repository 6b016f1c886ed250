import { describe, expect, it } from 'vitest'
import type { Opcode } from '../raw/dng/opcodes'
import type { SensorFrame } from '../raw'
import { turned } from './upright'
import { fileFaults } from './fileFaults'

/** A frame with nothing in it but what corrections are read from: a sensor with a border around the picture. */
const frameWith = (opcodes: Partial<SensorFrame['opcodes']>, orientation = 1): SensorFrame =>
  ({
    active: { x: 8, y: 4, width: 620, height: 420 },
    picture: { x: 18, y: 14, width: 600, height: 400 },
    pattern: { size: 2, colours: [0, 1, 1, 2] },
    layout: 'mosaic',
    opcodes: { stored: [], linear: [], demosaiced: [], ...opcodes },
    metadata: { orientation },
  }) as unknown as SensorFrame

const HALF = Math.hypot(600, 400) / 2
const FAR = Math.hypot(620, 420) / 2
const rectilinear: Opcode = {
  kind: 'warp-rectilinear',
  planes: [
    [1.001, -0.05, 0.01, 0.002, 0, 0],
    [1, -0.05, 0.01, 0.002, 0.001, -0.002],
    [0.999, -0.05, 0.01, 0.002, 0, 0],
  ],
  centre: [0.5, 0.5],
}

describe('corrections that a file lists', () => {
  it('are none where it lists none, or only what is mended in the mosaic', () => {
    expect(fileFaults(frameWith({}))).toBeUndefined()
    expect(
      fileFaults(frameWith({ stored: [{ kind: 'fix-bad-pixels-constant', value: 0, phase: 0 }] })),
    ).toBeUndefined()
  })

  it('warp by their polynomials, over the distance to the farthest corner of the readable area', () => {
    const faults = fileFaults(frameWith({ demosaiced: [rectilinear] }))!
    for (const r of [0.2, 0.7, 1]) {
      const q = (r * HALF) / FAR
      const poly = (a: number) => a - 0.05 * q ** 2 + 0.01 * q ** 4 + 0.002 * q ** 6
      expect(faults.factors[0](r)).toBeCloseTo(poly(1.001), 9)
      expect(faults.factors[1](r)).toBeCloseTo(poly(1), 9)
      expect(faults.factors[2](r)).toBeCloseTo(poly(0.999), 9)
    }
    // a displacement of k times the square of a distance, both over another length
    expect(faults.tangential![1][0]).toBeCloseTo((0.001 * HALF) / FAR, 9)
    expect(faults.tangential![1][1]).toBeCloseTo((-0.002 * HALF) / FAR, 9)
    expect(faults.centre[0]).toBeCloseTo(0, 9)
  })

  it('warp fisheyes by the angle', () => {
    const fisheye: Opcode = { kind: 'warp-fisheye', planes: [[1, 0.02, -0.01, 0]], centre: [0.5, 0.5] }
    const faults = fileFaults(frameWith({ demosaiced: [fisheye] }))!
    const q = (0.8 * HALF) / FAR
    const t = Math.atan(q)
    expect(faults.factors[1](0.8)).toBeCloseTo((t + 0.02 * t ** 3 - 0.01 * t ** 5) / q, 9)
    expect(faults.factors[0](0.8)).toBe(faults.factors[2](0.8))
  })

  it('turn with the picture: a centre off the middle, and terms that have a direction', () => {
    const aside: Opcode = { ...rectilinear, centre: [0.6, 0.45] }
    const lying = fileFaults(frameWith({ demosaiced: [aside] }))!
    expect(lying.centre[0]).toBeCloseTo((8 + 0.6 * 620 - 18 - 300) / HALF, 9)
    const upright = fileFaults(frameWith({ demosaiced: [aside] }, 6))!
    // turned clockwise: what lay to the right lies below, what lay below to the left
    expect(upright.centre[0]).toBeCloseTo(-lying.centre[1], 9)
    expect(upright.centre[1]).toBeCloseTo(lying.centre[0], 9)
    const [k0, k1] = upright.tangential![1]
    const [l0, l1] = lying.tangential![1]
    // the vector (k1, k0) is what turns
    expect(k1).toBeCloseTo(-l0, 9)
    expect(k0).toBeCloseTo(l1, 9)
  })

  it('give light back by the radial polynomial', () => {
    const vignette: Opcode = {
      kind: 'fix-vignette-radial',
      terms: [0.4, 0.1, 0, 0.05, 0],
      centre: [0.5, 0.5],
    }
    const { fallOff, factors } = fileFaults(frameWith({ demosaiced: [vignette] }))!
    const q = ((0.9 * HALF) / FAR) ** 2
    expect(1 / fallOff!(0.9)).toBeCloseTo(1 + 0.4 * q + 0.1 * q ** 2 + 0.05 * q ** 4, 9)
    expect(factors[1](0.9)).toBe(1)
  })

  it.each([1, 3, 6, 8])(
    'gain maps of a mosaic belong to the colours at their places, orientation %i',
    (orientation) => {
      // one map for each of the four places of the filter; three columns, two rows
      const map = (x: number, y: number, gains: number[]): Opcode => ({
        kind: 'gain-map',
        area: { x, y, width: 620, height: 420, plane: 0, planes: 1, rowPitch: 2, columnPitch: 2 },
        ...{ rows: 2, columns: 3, spacing: [1, 0.5], origin: [0, 0], mapPlanes: 1, gains, optional: true },
      })
      const red = [1, 1.1, 1.2, 1.3, 1.4, 1.5]
      const blue = [2, 2, 2, 2, 2, 2.6]
      const { shading } = fileFaults(
        frameWith(
          {
            linear: [
              map(0, 0, red),
              map(1, 0, [1, 1, 1, 1, 1, 1.2]),
              map(0, 1, [1, 1, 1, 1, 1, 1.4]),
              map(1, 1, blue),
            ],
          },
          orientation,
        ),
      )!
      const { across, down, gains } = shading!
      expect([across, down]).toEqual(orientation >= 5 ? [2, 3] : [3, 2])
      for (let y = 0; y < 2; y++)
        for (let x = 0; x < 3; x++) {
          const [u, v] = turned(x, y, { width: 3, height: 2 }, orientation)
          expect(gains[0][v * across + u]).toBeCloseTo(red[y * 3 + x], 6)
          expect(gains[2][v * across + u]).toBeCloseTo(blue[y * 3 + x], 6)
          // both greens count alike
          expect(gains[1][v * across + u]).toBeCloseTo(x === 2 && y === 1 ? 1.3 : 1, 6)
        }
      // it reaches a little beyond the picture, as the readable area does
      expect(shading!.left).toBeLessThan(0)
      expect(shading!.right).toBeGreaterThan(1)
      expect(shading!.bottom).toBeGreaterThan(1)
    },
  )
})
