import { beforeAll, describe, expect, it } from 'vitest'
import { floatsAt, random, testBench } from '../../test/bench'
import { oklabBlock, toOklab, working } from '../colour'
import { exp2, identity, log2, type Triple } from '../math'
import type { Scratch } from '../memory'
import type { Kernels } from './kernels'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))

const N = 1024
const put = (values: ArrayLike<number>) => scratch.floats(values)
const get = (at: number, n = N) => [...floatsAt(scratch, at, n)]
const colours = (seed: number): Triple[] => {
  const next = random(seed)
  return Array.from({ length: N }, () => {
    const size = 2 ** (next() * 10 - 8)
    return [size * next(), size * next(), size * (next() * 1.2 - 0.1)] as Triple
  })
}
const split = (c: readonly Triple[]) =>
  [0, 1, 2].map((i) => put(c.map((v) => v[i]))) as [number, number, number]
const joined = (p: readonly number[]): Triple[] => {
  const [r, g, b] = p.map((at) => get(at))
  return r.map((v, i) => [v, g[i], b[i]])
}
/** A table between its entries, place held to it. */
const between = (table: ArrayLike<number>, at: number) => {
  const held = Math.min(Math.max(at, 0), table.length - 1.001)
  const k = Math.floor(held)
  return table[k] + (held - k) * (table[k + 1] - table[k])
}
const sizeOf = (c: Triple) => {
  const [x, y, z] = c.map((v) => Math.max(v, 0))
  return (x ** 3 + y ** 3 + z ** 3) / Math.max(x * x + y * y + z * z, 1e-20)
}
const close = (a: number, b: number, error = 1e-5) =>
  expect(Math.abs(a - b)).toBeLessThan(error * (1 + Math.abs(b)))

describe('gains by size', () => {
  it('are looked up over the square root, all channels alike, held beyond the end', () => {
    const c = colours(1)
    const table = Float32Array.from({ length: 257 }, (_, i) => 2 - i / 200)
    const planes = split(c)
    kernels.size_gain(...planes, N, put(table), table.length, 1.2)
    joined(planes).forEach((rgb, i) => {
      const gain = between(table, (Math.sqrt(sizeOf(c[i])) / 1.2) * 256)
      rgb.forEach((v, k) => close(v, c[i][k] * gain))
    })
  })
})

describe('a curve for one channel', () => {
  it.each([0, 1])(
    'goes through its table, beside itself below 0, in proportion above 1 (root %i)',
    (root) => {
      const next = random(2)
      const values = Array.from({ length: N }, () => next() * 1.6 - 0.2)
      const table = Float32Array.from({ length: 129 }, (_, i) => 0.1 + 0.8 * (i / 128) ** 1.7)
      const at = put(values)
      kernels.channel_curve(at, N, put(table), table.length, root)
      get(at).forEach((v, i) => {
        const x = Math.min(Math.max(values[i], 0), 1)
        const y = between(table, (root ? Math.sqrt(x) : x) * 128)
        close(v, (y + Math.min(values[i], 0)) * Math.max(values[i], 1))
      })
    },
  )
})

describe('gains by local brightness', () => {
  it('read the maps at the place in the picture, wherever the line begins, and the light it was lifted by', () => {
    const c = colours(3)
    const mapA = Float32Array.from({ length: 40 }, (_, i) => 0.2 + i / 60)
    const mapB = Float32Array.from({ length: 40 }, (_, i) => -2 + i / 20)
    const table = Float32Array.from({ length: 200 }, (_, i) => exp2((i - 100) / 60))
    const weights = working.toXyz.slice(3, 6)
    const step = 0.05
    for (const [x0, lift] of [
      [0, 0],
      [123, 0],
      [123, 1.5],
    ]) {
      const planes = split(c)
      kernels.local_gain_line(
        ...planes,
        ...([N, put(mapA), put(mapB), 40, x0, step, put(table), 200, -10, 16, put(weights), lift] as const),
      )
      joined(planes).forEach((rgb, i) => {
        const place = Math.min(Math.max((x0 + i + 0.5) * step - 0.5, 0), 38.999)
        const y = Math.max(weights[0] * c[i][0] + weights[1] * c[i][1] + weights[2] * c[i][2], 6.1e-5)
        const base = between(mapA, place) * (log2(y) - lift) + between(mapB, place) + lift
        const gain = between(table, (base + 10) * 16)
        rgb.forEach((v, k) => close(v, c[i][k] * gain, 1e-4))
      })
    }
  })

  it('and box means are means, at the edges of what is there', () => {
    const [w, h, r] = [23, 17, 4]
    const next = random(4)
    const values = Array.from({ length: w * h }, () => next())
    const out = scratch.take((w * h + 4) * 4)
    kernels.box_mean(put(values), out, w, h, r, scratch.take((w * h + w) * 4))
    get(out, w * h).forEach((v, i) => {
      const [x, y] = [i % w, Math.floor(i / w)]
      let sum = 0
      let n = 0
      for (let q = Math.max(y - r, 0); q <= Math.min(y + r, h - 1); q++)
        for (let p = Math.max(x - r, 0); p <= Math.min(x + r, w - 1); p++) {
          sum += values[q * w + p]
          n++
        }
      close(v, sum / n, 2e-6)
    })
  })
})

describe('a table of colours', () => {
  it('gives back what lies on its entries, and straight ways between them', () => {
    const size = 5
    const entry = (r: number, g: number, b: number) => [0.1 + r * 0.7, g * g, 1 - b * 0.5 + 0.2 * r, 0]
    const table: number[] = []
    for (let b = 0; b < size; b++)
      for (let g = 0; g < size; g++) for (let r = 0; r < size; r++) table.push(...entry(r / 4, g / 4, b / 4))
    const next = random(5)
    const c = Array.from({ length: N }, (_, i): Triple =>
      i < 125
        ? [(i % 5) / 4, (Math.floor(i / 5) % 5) / 4, Math.floor(i / 25) / 4]
        : [next() * 1.2 - 0.1, next(), next() * 1.2 - 0.1],
    )
    const planes = split(c)
    kernels.colour_table(...planes, N, put(table), size, 0)
    joined(planes).forEach((rgb, i) => {
      const [r, g, b] = c[i].map((v) => Math.min(Math.max(v, 0), 1))
      // red and blue are linear here, so that tetrahedra are exact; green lies between its neighbours
      close(rgb[0], 0.1 + r * 0.7)
      close(rgb[2], 1 - b * 0.5 + 0.2 * r)
      const low = (Math.floor(g * 4) / 4) ** 2
      expect(rgb[1]).toBeGreaterThanOrEqual(low - 1e-5)
      if (i < 125) close(rgb[1], g * g)
    })
  })

  it('holds to 0..1 what is to be looked up', () => {
    const at = put([-1, 0.25, 1.5, 1])
    kernels.hold_unit(at, 4)
    expect(get(at, 4)).toEqual([0, 0.25, 1, 1])
  })
})

describe('Oklab', () => {
  it('is that of its definition, and back', () => {
    const c = colours(6).map((v) => v.map((x) => Math.max(x, 1e-4)) as unknown as Triple)
    const planes = split(c)
    const lab = put(oklabBlock(working, working, identity))
    kernels.to_oklab(...planes, N, lab)
    joined(planes).forEach((v, i) => toOklab(working, c[i]).forEach((t, k) => close(v[k], t, 3e-6)))
    kernels.from_oklab(...planes, N, lab)
    joined(planes).forEach((v, i) => v.forEach((x, k) => close(x, c[i][k], 2e-5)))
  })

  it('goes into the output’s gamut as linear RGB does', () => {
    const c = colours(7)
    const lab = put(oklabBlock(working, working, identity))
    const one = split(c)
    const two = split(c)
    kernels.to_oklab(...two, N, lab)
    kernels.to_gamut(...one, N, put(identity), lab)
    kernels.oklab_to_gamut(...two, N, lab)
    const there = joined(two)
    joined(one).forEach((v, i) =>
      v.forEach((x, k) => {
        expect(Math.abs(x - there[i][k])).toBeLessThan(6e-3)
        expect(there[i][k]).toBeGreaterThanOrEqual(0)
        expect(there[i][k]).toBeLessThanOrEqual(1)
      }),
    )
  })
})

describe('hue nodes', () => {
  it('by the circle’s table do what they do one by one', () => {
    const c = colours(8).map((v) => v.map((x) => Math.max(x, 1e-3)) as unknown as Triple)
    const lab = put(oklabBlock(working, working, identity))
    const node = { hue: 40, width: 70, shift: 25, colour: 0.5, light: -0.2 }
    const block = [node.hue / 360, 360 / node.width, (node.shift * Math.PI) / 180, node.colour, node.light]
    const one = split(c)
    kernels.to_oklab(...one, N, lab)
    kernels.hue_nodes(...one, N, put([...block, 0, -1, 9, -1, 9]), 1)
    const count = 1441
    const table = new Float32Array(3 * count)
    for (let i = 0; i < count; i++) {
      const apart = Math.abs(((i / 4 - 180 - node.hue + 540) % 360) - 180)
      const t = Math.max(1 - apart / node.width, 0)
      const share = t * t * (3 - 2 * t)
      const angle = (share * node.shift * Math.PI) / 180
      table[i] = Math.cos(angle) * (1 + share * node.colour)
      table[count + i] = Math.sin(angle) * (1 + share * node.colour)
      table[2 * count + i] = share * node.light
    }
    const two = split(c)
    kernels.to_oklab(...two, N, lab)
    kernels.hue_table(...two, N, put(table), count)
    const there = joined(two)
    joined(one).forEach((v, i) => v.forEach((x, k) => close(x, there[i][k], 1e-4)))
  })
})
