import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { random, testBench } from '../../test/bench'
import type { Kernels } from '../kernels/kernels'
import type { Scratch } from '../memory'
import { continueLargely, continueValues, type Three } from './membrane'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))
beforeEach(() => scratch.release())

/** One plane continued. */
const continued = (values: Float32Array, weights: Float32Array, width: number, height: number) =>
  continueValues(kernels, scratch, [values, values, values], weights, width, height)[1]

/** A disc in a square of known values; how far the continued ones are off within, at most. */
function worst(size: number, radius: number, of: (x: number, y: number) => number): number {
  const values = new Float32Array(size * size)
  const weights = new Float32Array(size * size)
  const middle = (size - 1) / 2
  const far = (x: number, y: number) => Math.hypot(x - middle, y - middle)
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) {
      const r = far(x, y)
      if (r > radius && r <= radius + 3) weights[y * size + x] = 1
      values[y * size + x] = weights[y * size + x] ? of(x, y) : NaN
    }
  const found = continued(values, weights, size, size)
  let most = 0
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++)
      if (far(x, y) <= radius) most = Math.max(most, Math.abs(found[y * size + x] - of(x, y)))
  return most
}

describe('values continued over a gap', () => {
  it.each([9, 30, 77, 200])('of %i pixels are the same where the border is the same', (size) => {
    expect(worst(size, size / 2 - 4, () => 0.7)).toBeLessThan(1e-6)
  })

  it('follow a slope from one side to the other', () => {
    // from 0 to 1 over the square
    expect(worst(64, 26, (x) => x / 63)).toBeLessThan(0.13)
  })

  it('stay between the least and the largest, and are 0 where nothing is known', () => {
    const size = 40
    const weights = new Float32Array(size * size)
    const values = new Float32Array(size * size)
    weights[0] = weights[size * size - 1] = 1
    values[0] = -2
    values[size * size - 1] = 5
    const found = continued(values, weights, size, size)
    expect(Math.min(...found)).toBeGreaterThanOrEqual(-2 - 1e-6)
    expect(Math.max(...found)).toBeLessThanOrEqual(5 + 1e-6)
    const nothing = continued(values, new Float32Array(size * size), size, size)
    expect(nothing.every((v) => v === 0)).toBe(true)
  })

  it('are those of the convolution, written out', () => {
    // [w, h] of every kind of half: even and odd, and one that is too small for a pyramid
    for (const [w, h] of [
      [5, 9],
      [8, 7],
      [13, 30],
      [41, 26],
    ]) {
      const next = random(w)
      const weights = Float32Array.from({ length: w * h }, () => (next() < 0.2 ? next() : 0))
      const planes = [0, 1, 2].map(() => Float32Array.from({ length: w * h }, next)) as never as Three
      const found = continueValues(kernels, scratch, planes, weights, w, h)
      const shares = plain(Float64Array.from(weights), w, h)
      planes.forEach((plane, c) => {
        const sums = plain(
          Float64Array.from(plane, (v, i) => v * weights[i]),
          w,
          h,
        )
        found[c].forEach((v, i) => expect(v).toBeCloseTo(shares[i] > 0 ? sums[i] / shares[i] : 0, 4))
      })
    }
  })

  it('are nearly the same where means of small squares are continued', () => {
    const [w, h] = [90, 70]
    const weights = Float32Array.from({ length: w * h }, (_, i) => (Math.abs((i % w) - 45) > 30 ? 1 : 0))
    const plane = Float32Array.from({ length: w * h }, (_, i) => (i % w) / w + i / w / h / 2)
    const planes = [plane, plane, plane] as const
    const whole = continueValues(kernels, scratch, planes, weights, w, h)[0]
    const fewer = continueLargely(kernels, scratch, planes, weights, w, h, 1000)[0]
    const inGap = [...fewer.keys()].filter((i) => weights[i] === 0)
    // they may lie a square off
    expect(Math.max(...inGap.map((i) => Math.abs(fewer[i] - whole[i])))).toBeLessThan(0.05)
  })
})

const DOWN = [0.1507, 0.6836, 1.0334, 0.6836, 0.1507]
const SAME = [0.0312, 0.7753, 0.0312]

/** The pyramid as the paper has it: each picture padded, filtered and halved, then spread out with zeros and filtered. */
function plain(values: Float64Array, w: number, h: number): Float64Array {
  const filtered = (of: Float64Array, w: number, h: number, kernel: number[]) => {
    const r = kernel.length >> 1
    const out = new Float64Array(w * h)
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++)
        for (let v = -r; v <= r; v++)
          for (let u = -r; u <= r; u++)
            if (x + u >= 0 && x + u < w && y + v >= 0 && y + v < h)
              out[y * w + x] += kernel[u + r] * kernel[v + r] * of[(y + v) * w + x + u]
    return out
  }
  const out = filtered(values, w, h, SAME)
  if (w <= 6 || h <= 6) return out
  const [W, H] = [w + 4, h + 4]
  const padded = new Float64Array(W * H)
  values.forEach((v, i) => (padded[(Math.floor(i / w) + 2) * W + (i % w) + 2] = v))
  const wide = filtered(padded, W, H, DOWN)
  const [hw, hh] = [Math.ceil(W / 2), Math.ceil(H / 2)]
  const below = plain(
    Float64Array.from({ length: hw * hh }, (_, i) => wide[2 * Math.floor(i / hw) * W + 2 * (i % hw)]),
    hw,
    hh,
  )
  const risen = new Float64Array(W * H)
  below.forEach((v, i) => (risen[2 * Math.floor(i / hw) * W + 2 * (i % hw)] = v))
  const up = filtered(risen, W, H, DOWN)
  return out.map((v, i) => v + 0.027 * up[(Math.floor(i / w) + 2) * W + (i % w) + 2])
}
