import { beforeAll, describe, expect, it } from 'vitest'
import { random, testBench } from '../../test/bench'
import type { Kernels } from '../kernels/kernels'
import type { Scratch } from '../memory'
import { COUNT_PARTS, toToneScale, TONE_SCALE } from './histogram'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))

function count(values: Float32Array, width = values.length): Uint32Array {
  scratch.release()
  const at = scratch.floats(values)
  const bins = scratch.ints(new Int32Array(4 * COUNT_PARTS))
  kernels.histogram_line(at, at, at, width, bins, scratch.floats([0.2126, 0.7152, 0.0722]))
  return new Uint32Array(scratch.memory.buffer, bins, COUNT_PARTS).slice()
}
const sum = (a: Uint32Array) => a.reduce((s, v) => s + v, 0)
const binOf = (v: number) =>
  Math.floor(((Math.log2(v / 0.18) - TONE_SCALE.from) / (TONE_SCALE.to - TONE_SCALE.from)) * TONE_SCALE.bins)

describe('tone scale', () => {
  it('puts every value at its stop', () => {
    for (const v of [0.0007, 0.01, 0.18, 0.5, 0.93]) {
      const tones = toToneScale(count(new Float32Array(64).fill(v)))
      expect(sum(tones)).toBeGreaterThanOrEqual(63)
      const centre = tones.reduce((s, n, i) => s + n * i, 0) / sum(tones)
      expect(Math.abs(centre - binOf(v))).toBeLessThan(1)
    }
  })

  it('keeps what is black, negative or white at the ends', () => {
    const tones = toToneScale(count(Float32Array.of(0, -1, 1e-9, 0.9999, 1, 1, 2, 40)))
    expect(tones[0]).toBe(3)
    expect(tones[TONE_SCALE.bins - 1]).toBe(5)
  })

  it('shows an even spread of stops as even', () => {
    const next = random(2)
    const spread = new Float32Array(200000).map(() => 0.18 * 2 ** (-8 + 10 * next()))
    const tones = toToneScale(count(spread))
    const inside = [...tones.slice(binOf(0.18 * 2 ** -7), binOf(0.18 * 2 ** 1.5))]
    const mean = inside.reduce((s, v) => s + v, 0) / inside.length
    for (const n of inside) expect(Math.abs(n / mean - 1)).toBeLessThan(0.25)
  })

  it('counts only the width of the line', () => {
    expect(sum(count(new Float32Array(64).fill(0.5), 13))).toBe(13)
  })
})
