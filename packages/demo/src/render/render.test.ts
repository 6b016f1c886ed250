import { describe, expect, it } from 'vitest'
import { cross, meet, meetSphere, mirrored } from '../scenes/planes'
import { renderCrop, type DrawnScene } from './march'
import { dot, normalise, type Vec3 } from './vec'

/** A smooth world in which every direction has a colour of its own. */
const world = (part: Partial<DrawnScene> = {}): DrawnScene => ({
  id: 'world',
  title: 'World',
  eye: [0, 0, 0],
  pitch: 0.2,
  yaw: -0.3,
  fieldOfView: 0.9,
  radiance: (_, d) => [1 + d[0], 1 + d[1], 1 + d[2]],
  ...part,
})
const whole = (scene: DrawnScene, width: number, height: number) =>
  renderCrop(scene, width, height, { x: 0, y: 0, width, height })

describe('the camera', () => {
  it('held upright sees what a narrower one held level sees, on its side', () => {
    const [w, h] = [48, 32]
    const turned = whole(world({ upright: true }), w, h)
    const fieldOfView = 2 * Math.atan((Math.tan(0.45) * h) / w)
    const level = whole(world({ fieldOfView }), h, w)
    // its file says orientation 6: shown upright, the stored line is a column from the right
    for (let j = 0; j < h; j++)
      for (let i = 0; i < w; i++)
        for (let c = 0; c < 3; c++)
          expect(turned[(j * w + i) * 3 + c]).toBeCloseTo(level[(i * h + (h - 1 - j)) * 3 + c], 2)
  })

  it('turned to the right sees in the middle what lies there', () => {
    const yaw = 0.4
    const out = whole(world({ pitch: 0, yaw }), 33, 21)
    const middle = (10 * 33 + 16) * 3
    expect(out[middle] - 1).toBeCloseTo(Math.sin(yaw), 2)
    expect(out[middle + 2] - 1).toBeCloseTo(Math.cos(yaw), 2)
  })

  it('with a wide lens is sharp where it is focused and blurs what is nearer or farther', () => {
    // a wall with an edge, at a distance
    const wall =
      (z: number) =>
      (o: Vec3, d: Vec3): Vec3 => {
        const x = o[0] + (d[0] * (z - o[2])) / d[2]
        return x > 0 ? [1, 1, 1] : [0, 0, 0]
      }
    const width = (z: number, focus: number) => {
      const aperture = { radius: 0.02, focus, samples: 64 }
      const line = whole(world({ pitch: 0, yaw: 0, aperture, radiance: wall(z) }), 200, 1)
      return [...line].filter((v, i) => i % 3 === 0 && v > 0.02 && v < 0.98).length
    }
    expect(width(1, 1)).toBeLessThanOrEqual(2)
    // the circle of confusion: aperture x |1 - z / focus| / z, here in pixels of the frame
    const pixels = (z: number, focus: number) =>
      ((2 * 0.02 * Math.abs(1 - z / focus)) / z / (2 * Math.tan(0.45))) * 200
    for (const [z, focus] of [
      [2, 1],
      [1, 2],
      [4, 1],
    ]) {
      const seen = width(z, focus)
      expect(seen).toBeGreaterThan(pixels(z, focus) * 0.6)
      expect(seen).toBeLessThan(pixels(z, focus) * 1.2 + 2)
    }
  })
})

describe('planes and spheres', () => {
  const board = {
    centre: [0, 1, 5] as Vec3,
    across: [1, 0, 0] as Vec3,
    up: [0, 1, 0] as Vec3,
    half: [2, 1] as const,
  }
  it('are met where geometry says, and only inside their edges', () => {
    const hit = meet(board, [0, 1, 0], normalise([0.2, 0.1, 1]))!
    expect(hit.u).toBeCloseTo(1, 9)
    expect(hit.v).toBeCloseTo(0.5, 9)
    expect(meet(board, [0, 1, 0], normalise([0.5, 0, 1]))).toBeUndefined()
    expect(meet(board, [0, 1, 0], [0, 0, -1])).toBeUndefined()
    expect(meetSphere([0, 0, 5], 1, [0, 0, 0], [0, 0, 1])).toBeCloseTo(4, 9)
    expect(meetSphere([0, 1.01, 5], 1, [0, 0, 0], [0, 0, 1])).toBeUndefined()
    expect(meetSphere([0, 0, -5], 1, [0, 0, 0], [0, 0, 1])).toBeUndefined()
  })

  it('mirror at equal angles', () => {
    const n = normalise([0.3, 1, -0.2])
    const d = normalise([0.5, -1, 0.4])
    const r = mirrored(d, n)
    expect(dot(r, n)).toBeCloseTo(-dot(d, n), 9)
    expect(dot(cross(d, r), n)).toBeCloseTo(0, 9)
  })
})
