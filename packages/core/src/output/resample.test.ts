import { beforeAll, describe, expect, it } from 'vitest'
import { floatsAt, random, testBench } from '../../test/bench'
import type { Kernels } from '../kernels/kernels'
import type { Scratch } from '../memory'
import { resampleTable } from './resample'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))

function resample(line: ArrayLike<number>, to: number): number[] {
  scratch.release()
  const table = resampleTable(line.length, to)
  const padded = new Float32Array(line.length + table.taps)
  padded.set(line)
  const out = scratch.take(to * 4)
  kernels.resample_line(
    scratch.floats(padded),
    out,
    to,
    scratch.ints(table.starts),
    scratch.floats(table.weights),
    table.taps,
  )
  return [...floatsAt(scratch, out, to)]
}

describe('resampling', () => {
  it('weighs every result to one and stays inside the line', () => {
    for (const [from, to] of [
      [6000, 1280],
      [2256, 788],
      [100, 99],
      [17, 3],
      [5, 1],
      [64, 64],
    ]) {
      const { starts, weights, taps } = resampleTable(from, to)
      for (let i = 0; i < to; i++) {
        const w = weights.subarray(i * taps, (i + 1) * taps)
        expect(w.reduce((s, v) => s + v, 0)).toBeCloseTo(1, 5)
        expect(starts[i]).toBeGreaterThanOrEqual(0)
        w.forEach((v, k) => starts[i] + k >= from && expect(v).toBe(0))
      }
    }
  })

  it('agrees with the kernel of Keys written out plainly', () => {
    const next = random(4)
    const line = Array.from({ length: 230 }, () => next())
    const keys = (x: number) => {
      const t = Math.abs(x)
      return t < 1 ? 1.5 * t ** 3 - 2.5 * t ** 2 + 1 : t < 2 ? -0.5 * t ** 3 + 2.5 * t ** 2 - 4 * t + 2 : 0
    }
    const out = resample(line, 61)
    const step = 230 / 61
    out.forEach((v, i) => {
      const centre = (i + 0.5) * step - 0.5
      let sum = 0
      let weight = 0
      for (let k = -20; k < 250; k++) {
        const w = keys((k - centre) / step)
        sum += w * line[Math.min(Math.max(k, 0), 229)]
        weight += w
      }
      expect(v).toBeCloseTo(sum / weight, 4)
    })
  })

  it('keeps flat lines flat, ramps straight, and takes away what is too fine', () => {
    resample(new Float32Array(300).fill(0.37), 71).forEach((v) => expect(v).toBeCloseTo(0.37, 5))
    const ramp = resample(
      Array.from({ length: 300 }, (_, i) => i),
      100,
    )
    for (let i = 5; i < 95; i++) expect(ramp[i]).toBeCloseTo(i * 3 + 1, 2)
    const stripes = resample(
      Array.from({ length: 400 }, (_, i) => i % 2),
      50,
    )
    for (let i = 3; i < 47; i++) expect(stripes[i]).toBeCloseTo(0.5, 2)
  })
})
