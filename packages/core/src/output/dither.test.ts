import { beforeAll, describe, expect, it } from 'vitest'
import { random, testBench } from '../../test/bench'
import type { Kernels } from '../kernels/kernels'
import type { Scratch } from '../memory'
import { decode, ditherMask, prepareOutput } from './target'
import { DITHER_SIDE } from './ditherMask'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))

const { levels, curve } = prepareOutput('srgb', [1, 1, 1])

/** Levels of greys (0 to 255, with what lies between), as files and as the screen have them, RGB interleaved. */
function packed(line: (x: number) => number, width: number, y: number, x0 = 0) {
  const mark = scratch.mark()
  const values = Float32Array.from({ length: (width + 3) & ~3 }, (_, x) =>
    x < width ? decode(curve, line(x0 + x) / 255) : 0,
  )
  const p = [0, 1, 2].map(() => scratch.floats(values)) as [number, number, number]
  const [table, mask] = [scratch.bytes(new Uint8Array(levels.buffer)), scratch.bytes(ditherMask())]
  const [file, screen, counts] = [width * 3, width * 4, 24].map((n) => scratch.take(n))
  kernels.pack_rgb8(...p, width, file, table, mask, x0, y)
  kernels.pack_screen(...p, width, screen, 0, 0, 255, 0, counts, table, mask, x0, y)
  const { buffer } = scratch.memory
  const rgb = new Uint8Array(buffer, file, width * 3).slice()
  const rgba = new Uint8Array(buffer, screen, width * 4)
  const seen = Uint8Array.from({ length: width * 3 }, (_, i) => rgba[Math.floor(i / 3) * 4 + (i % 3)])
  scratch.release(mark)
  return { rgb, seen }
}

describe('dithering', () => {
  it('gives a smooth ramp of two levels back in the mean of every window', () => {
    const [width, height] = [768, 192]
    for (const from of [2, 60, 128, 250]) {
      const level = (x: number) => from + (2 * x) / width
      const picture = Array.from({ length: height }, (_, y) => packed(level, width, y).rgb)
      let worst = 0
      for (let y = 0; y < height; y += 64)
        for (let x = 0; x < width; x += 32)
          for (let c = 0; c < 3; c++) {
            let [sum, truth] = [0, 0]
            const right = Math.min(x + 64, width)
            for (let j = y; j < y + 64; j++)
              for (let i = x; i < right; i++) {
                sum += picture[j][i * 3 + c]
                truth += level(i)
              }
            worst = Math.max(worst, Math.abs(sum - truth) / (64 * (right - x)))
          }
      expect(worst, `from ${from}`).toBeLessThan(0.02)
      // no two lines are alike, and no run of one level is long
      expect(Buffer.compare(picture[0], picture[1])).not.toBe(0)
      let longest = 0
      for (const line of picture)
        for (let x = 1, run = 1; x < width; x++) {
          const there = level(x) % 1 > 0.1 && level(x) % 1 < 0.9
          run = there && line[x * 3] === line[x * 3 - 3] ? run + 1 : 1
          longest = Math.max(longest, run)
        }
      expect(longest).toBeLessThan(40)
    }
  })

  it('is the same on the screen and in a file, whatever part is computed', () => {
    const level = (x: number) => 40 + x / 7
    for (const y of [0, 5, 1000]) {
      const { rgb, seen } = packed(level, 300, y)
      expect(Buffer.compare(rgb, seen)).toBe(0)
      const part = packed(level, 131, y, 77).rgb
      expect(Buffer.compare(part, rgb.subarray(77 * 3, (77 + 131) * 3))).toBe(0)
    }
  })

  it('leaves black, white and whole levels alone', () => {
    for (const level of [0, 1, 17, 128, 254, 255])
      for (let y = 0; y < 64; y++) {
        const off = packed(() => level, 64, y).rgb.filter((v) => v !== level).length
        // a rounding of the light may show in one of a hundred
        expect(off).toBeLessThanOrEqual(level % 255 === 0 ? 0 : 8)
      }
  })

  it('shows no pattern: neighbours differ, and nothing repeats within the mask', () => {
    const mask = ditherMask()
    const n = DITHER_SIDE
    const counts = new Uint16Array(256)
    mask.forEach((v) => counts[v]++)
    expect(new Set(counts)).toEqual(new Set([(n * n) / 256]))
    // coarse waves are what the eye sees: there is far less of them than in the same thresholds thrown about
    const coarse = (values: ArrayLike<number>) => {
      let power = 0
      for (let v = 0; v < 8; v++)
        for (let u = 0; u < 8; u++) {
          if (u + v === 0) continue
          let [re, im] = [0, 0]
          for (let i = 0; i < n * n; i++) {
            const angle = (2 * Math.PI * (u * (i % n) + v * Math.floor(i / n))) / n
            re += values[i] * Math.cos(angle)
            im += values[i] * Math.sin(angle)
          }
          power += re * re + im * im
        }
      return power
    }
    const next = random(3)
    const thrown = [...mask].map((v) => [next(), v]).sort((a, b) => a[0] - b[0])
    expect(coarse(mask)).toBeLessThan(coarse(thrown.map(([, v]) => v)) / 100)
  })
})
