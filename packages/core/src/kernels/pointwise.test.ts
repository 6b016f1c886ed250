import { beforeAll, describe, expect, it } from 'vitest'
import { floatsAt, random, testBench } from '../../test/bench'
import { oklabBlock, srgb, toOklab, working, between } from '../colour'
import { apply, identity, pow, type Matrix3, type Triple } from '../math'
import type { Scratch } from '../memory'
import {
  gainsOf,
  liftTable,
  renderGrey,
  renderingCurve,
  TABLE_TOP,
  whiteBlock,
} from '../steps/baseRendering/curve'
import { ditherMask, encode, prepareOutput } from '../output'
import type { Kernels } from './kernels'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))

const N = 4096
const put = (values: ArrayLike<number>) => scratch.floats(values)
const get = (at: number, n = N) => [...floatsAt(scratch, at, n)]

/** Scene colours from deep shadow to far above white, some out of gamut. */
function colours(seed: number): Triple[] {
  const next = random(seed)
  return Array.from({ length: N }, () => {
    const size = 2 ** (next() * 14 - 10)
    return [size * (next() * 1.1 - 0.05), size * next(), size * (next() * 1.1 - 0.05)] as Triple
  })
}
const split = (c: readonly Triple[]) =>
  [0, 1, 2].map((i) => put(c.map((v) => v[i]))) as [number, number, number]
const joined = (p: readonly number[]): Triple[] => {
  const [r, g, b] = p.map((at) => get(at))
  return r.map((v, i) => [v, g[i], b[i]])
}

/** IEEE 754 binary16 by the standard's definition: the nearest of the representable values, ties to even. */
function half(x: number): number {
  const a = Math.abs(x)
  const exponent = Math.max(Math.floor(Math.log2(a || 1e-30)), -14)
  const unit = 2 ** (exponent - 10)
  const q = a / unit
  const low = Math.floor(q)
  const rounded = q - low > 0.5 || (q - low === 0.5 && low % 2 === 1) ? low + 1 : low
  return Math.sign(x) * Math.min(rounded * unit, 65504)
}

describe('16-bit floats', () => {
  it('round to the nearest representable value and back exactly', () => {
    const next = random(1)
    const values = Array.from({ length: N }, (_, i) => Math.fround((next() - 0.5) * 2 ** ((i % 40) - 24)))
    values.splice(0, 4, 0, 1, -1, 1e6)
    const src = put(values)
    const packed = scratch.take(N * 2)
    const back = scratch.take(N * 4)
    kernels.f32_to_f16(src, packed, N)
    kernels.f16_to_f32(packed, back, N)
    expect(get(back)).toEqual(values.map((v) => half(v)).map((v) => (v === 0 ? expect.closeTo(0, 30) : v)))
  })
})

describe('display light', () => {
  it('is brought back to the scene light that the usual rendering makes it of', () => {
    const table = liftTable()
    const wanted = colours(7).map((c) => c.map((v) => Math.min(Math.max(v / 8, 0), 1)) as unknown as Triple)
    const p = split(wanted)
    kernels.lift_display(...p, N, put(table), table.length)
    const usual = renderingCurve(2)
    joined(p).forEach((lifted, i) => {
      const [r, g, b] = wanted[i]
      const squares = r * r + g * g + b * b
      if (squares < 1e-8) return
      // the colour's size as the rendering takes it; the gain is the same for all three channels
      const size = (r ** 3 + g ** 3 + b ** 3) / squares
      const gain = Math.max(...lifted) / Math.max(r, g, b)
      lifted.forEach((v, c) => expect(v).toBeCloseTo(wanted[i][c] * gain, 5))
      expect(renderGrey(usual, size * gain)).toBeCloseTo(size, 4)
    })
  })

  it('beyond white goes on in proportion', () => {
    const table = liftTable()
    const p = split(Array.from({ length: N }, (_, i) => [1 + i / 100, 1 + i / 100, 1 + i / 100]))
    kernels.lift_display(...p, N, put(table), table.length)
    joined(p).forEach(([r], i) => expect(r / (1 + i / 100)).toBeCloseTo(1.6, 4))
  })
})

describe('blend and scale', () => {
  it('let a result in by strength, also beyond one', () => {
    const after = put([2, 4, 6, 8])
    const before = put([1, 1, 1, 1])
    kernels.blend(after, before, 1.5, 4)
    expect(get(after, 4)).toEqual([2.5, 5.5, 8.5, 11.5])
    kernels.scale(after, 2, 4)
    expect(get(after, 4)).toEqual([5, 11, 17, 23])
  })
})

describe('matrix3', () => {
  it('multiplies what the ceilings leave', () => {
    const m: Matrix3 = [0.8, 0.1, 0.1, -0.2, 1.3, -0.1, 0, 0.2, 0.8]
    const c = colours(2)
    const planes = split(c)
    kernels.matrix3(...planes, N, put([...m, 1, 0.9, 0.8]))
    joined(planes).forEach((rgb, i) => {
      const held: Triple = [Math.min(c[i][0], 1), Math.min(c[i][1], 0.9), Math.min(c[i][2], 0.8)]
      apply(m, held).forEach((v, k) => expect(rgb[k]).toBeCloseTo(v, 5))
    })
  })
})

/** The kernel's table and its way to white. */
const base = (grade: number): [number, number, number, number] => {
  const gains = gainsOf(renderingCurve(grade))
  return [put(gains), gains.length, TABLE_TOP, put(whiteBlock())]
}

describe('base rendering', () => {
  const run = (c: readonly Triple[], grade: number) => {
    const planes = split(c)
    kernels.render_base(...planes, c.length, ...base(grade), put(oklabBlock(working, working, identity)))
    return planes
  }

  it('maps greys by its curve and keeps them grey', () => {
    for (const grade of [0, 2, 5]) {
      const greys = Array.from({ length: N }, (_, i) => Math.fround(2 ** (i / 300 - 10)))
      const out = joined(
        run(
          greys.map((g) => [g, g, g] as Triple),
          grade,
        ),
      )
      out.forEach(([r, g, b], i) => {
        const truth = renderGrey(renderingCurve(grade), greys[i])
        expect(Math.abs(g - truth)).toBeLessThan(2e-6 + truth * 2e-6)
        expect(Math.max(Math.abs(r - g), Math.abs(b - g))).toBeLessThan(1e-6)
      })
    }
  })

  it('keeps the Oklab hue of every colour at every exposure', () => {
    const hue = ([, a, b]: Triple) => Math.atan2(b, a)
    const start = colours(3).filter((c) => Math.min(...c) > 0.001)
    const c = start.slice(0, start.length & ~3)
    const out = split(c)
    kernels.render_base(...out, c.length, ...base(2), put(oklabBlock(working, working, identity)))
    const [r, g, b] = out.map((at) => get(at, c.length))
    c.forEach((rgb, i) => {
      const after = toOklab(working, [r[i], g[i], b[i]])
      const chroma = Math.hypot(after[1], after[2])
      if (chroma < 0.02) return
      const turn = Math.abs(hue(after) - hue(toOklab(working, rgb)))
      expect((Math.min(turn, 2 * Math.PI - turn) * 180) / Math.PI).toBeLessThan(0.5)
    })
  })

  it('takes a saturated lamp to white, ever lighter and in the end without colour', () => {
    const lamp: Triple = [0.05, 0.08, 1]
    const c = Array.from({ length: 64 }, (_, i) => lamp.map((v) => v * 2 ** (i / 6 - 4)) as unknown as Triple)
    const planes = split(c)
    kernels.render_base(...planes, 64, ...base(2), put(oklabBlock(working, working, identity)))
    const [r, g, b] = planes.map((at) => get(at, 64))
    const light = r.map((_, i) => toOklab(working, [r[i], g[i], b[i]])[0])
    for (let i = 1; i < 64; i++) expect(light[i]).toBeGreaterThanOrEqual(light[i - 1] - 1e-5)
    expect(Math.min(r[63], g[63], b[63])).toBeGreaterThan(0.999)
  })
})

describe('gamut mapping', () => {
  it('leaves what fits, and gives up chroma and hardly anything else where it does not', () => {
    const lost = { light: [] as number[], hue: [] as number[] }
    const matrix = between(working, srgb)
    const c = colours(4).map((v) => v.map((x) => Math.min(x, 0.9)) as unknown as Triple)
    const planes = split(c)
    kernels.to_gamut(...planes, N, put(matrix), put(oklabBlock(working, srgb, matrix)))
    joined(planes).forEach((rgb, i) => {
      expect(Math.min(...rgb)).toBeGreaterThanOrEqual(0)
      expect(Math.max(...rgb)).toBeLessThanOrEqual(1)
      const plain = apply(matrix, c[i])
      if (plain.every((v) => v >= 0 && v <= 1)) {
        plain.forEach((v, k) => expect(rgb[k]).toBeCloseTo(v, 5))
        return
      }
      const [l0, a0, b0] = toOklab(working, c[i])
      const [l1, a1, b1] = toOklab(srgb, rgb)
      const chroma = Math.hypot(a1, b1)
      expect(chroma).toBeLessThan(Math.hypot(a0, b0) + 1e-3)
      // near black there is hardly a hue; beyond the working space there is no colour that anybody has seen
      if (l0 < 0.1 || chroma < 0.02 || Math.min(...c[i]) < 0) return
      lost.light.push(Math.abs(l1 - Math.min(l0, 1)))
      const turn = Math.abs(Math.atan2(b1, a1) - Math.atan2(b0, a0))
      lost.hue.push((Math.min(turn, 2 * Math.PI - turn) * 180) / Math.PI)
    })
    const mean = (v: readonly number[]) => v.reduce((sum, x) => sum + x, 0) / v.length
    expect(lost.light.length).toBeGreaterThan(200)
    expect(mean(lost.light)).toBeLessThan(0.003)
    expect(Math.max(...lost.light)).toBeLessThan(0.07)
    expect(mean(lost.hue)).toBeLessThan(1.5)
    expect(Math.max(...lost.hue)).toBeLessThan(15)
  })
})

describe('transfer', () => {
  it('follows the curve of IEC 61966-2-1', () => {
    const values = Array.from({ length: N }, (_, i) => Math.fround(i / (N - 1)))
    const at = put(values)
    const { cut, slope, a, p, b } = srgb.curve
    kernels.transfer(at, N, cut, slope, a, p, b)
    get(at).forEach((v, i) => {
      const truth = values[i] < cut ? slope * values[i] : a * pow(values[i], p) - b
      expect(Math.abs(v - truth)).toBeLessThan(1e-6)
    })
  })
})

describe('a line for the screen', () => {
  const HI = 254
  const LO = 1
  /** Levels that a line of colours is shown in, which clip in which layer, and how many of each. */
  function packed(colours: readonly Triple[]) {
    const n = colours.length
    const p = split(colours)
    const { levels } = prepareOutput('srgb', [1, 1, 1])
    const [dst, highs, lows, counts] = [n * 4, n * 4, n * 4, 24].map((bytes) => scratch.take(bytes))
    floatsAt(scratch, counts, 6).fill(0)
    const table = scratch.bytes(new Uint8Array(levels.buffer))
    kernels.pack_screen(
      ...[...p, n, dst, highs, lows, HI, LO, counts, table, scratch.bytes(ditherMask()), 0, 0],
    )
    const bytes = (at: number) => new Uint8Array(scratch.memory.buffer, at, n * 4).slice()
    return {
      shown: bytes(dst),
      highs: bytes(highs),
      lows: bytes(lows),
      counts: [...new Uint32Array(scratch.memory.buffer, counts, 6)],
    }
  }

  it('says of every channel where it clips, and shows the channels that do', () => {
    const steps = [0, 0.00002, 0.2, 0.99, 1]
    const colours: Triple[] = steps.flatMap((r) => steps.flatMap((g) => steps.map((b): Triple => [r, g, b])))
    while (colours.length % 4) colours.push([0.2, 0.2, 0.2])
    const { curve } = prepareOutput('srgb', [1, 1, 1])
    const { shown, highs, lows, counts } = packed(colours)
    const truth = [0, 0, 0, 0, 0, 0]
    colours.forEach((colour, i) => {
      const levels = colour.map((v) => Math.round(255 * encode(curve, v)))
      levels.forEach((v, c) => expect(Math.abs(shown[i * 4 + c] - v)).toBeLessThanOrEqual(1))
      const high = levels.map((v) => v >= HI)
      const low = levels.map((v) => v <= LO)
      high.forEach((is, c) => (truth[c] += Number(is)))
      low.forEach((is, c) => (truth[3 + c] += Number(is)))
      const layer = (clips: boolean[]) =>
        clips.some(Boolean) ? [...clips.map((is) => (is ? 255 : 0)), 255] : [0, 0, 0, 0]
      // white on white would not be seen: there the layer is a dark grey
      const wanted = high.every(Boolean) ? [0x20, 0x20, 0x20, 255] : layer(high)
      expect([...highs.subarray(i * 4, i * 4 + 4)]).toEqual(wanted)
      expect([...lows.subarray(i * 4, i * 4 + 4)]).toEqual(layer(low))
    })
    expect(counts).toEqual(truth)
    expect(truth.every((n) => n > 0)).toBe(true)
  })
})
