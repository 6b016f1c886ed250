import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { random, testBench } from '../../test/bench'
import type { Scratch } from '../memory'
import type { Kernels } from './kernels'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))
beforeEach(() => scratch.release())

const SIDE = 8
const [W, H] = [40, 30]
const [WIDTH, HEIGHT] = [20, 18]

const bytesAt = (at: number, n: number) => new Uint8Array(scratch.memory.buffer, at, n)
const wordsAt = (at: number, n: number) => new Uint32Array(scratch.memory.buffer, at, n)

/** An image, a picture to be completed from it, and random beginnings. */
function made(seed: number) {
  const next = random(seed)
  const put = (n: number, value: (i: number) => number) => {
    const at = scratch.take(n + 64)
    bytesAt(at, n).set(Uint8Array.from({ length: n }, (_, i) => value(i)))
    return at
  }
  const image = put(W * H * 4, () => Math.floor(next() * 256))
  const seen = put(WIDTH * HEIGHT * 4, () => Math.floor(next() * 256))
  const fits = (i: number, w: number, h: number) => i % w <= w - SIDE && Math.floor(i / w) <= h - SIDE
  const ok = put(W * H, (i) => (fits(i, W, H) && next() < 0.7 ? 1 : 0))
  const need = put(WIDTH * HEIGHT, (i) => (fits(i, WIDTH, HEIGHT) && next() < 0.8 ? 1 : 0))
  const allowed = [...bytesAt(ok, W * H)].flatMap((v, i) => (v ? [i] : []))
  const field = scratch.take(WIDTH * HEIGHT * 4)
  wordsAt(field, WIDTH * HEIGHT).forEach((_, i, all) => {
    const p = allowed[Math.floor(next() * allowed.length)]
    all[i] = (Math.floor(p / W) << 16) | (p % W)
  })
  const costs = scratch.take(WIDTH * HEIGHT * 4)
  const known = scratch.take(WIDTH * HEIGHT * 4)
  wordsAt(known, WIDTH * HEIGHT).forEach((_, i, all) => (all[i] = next() < 0.6 ? 0xffffffff : 0))
  const wanted = [...bytesAt(need, WIDTH * HEIGHT)].flatMap((v, i) => (v ? [i] : []))
  return { image, seen, ok, need, field, costs, known, wanted }
}
type Made = ReturnType<typeof made>

/** Squared differences of a patch and a place of the image, pixel by pixel. */
function costOf(m: Made, patch: number, x: number, y: number, known?: number): number {
  const [a, b] = [bytesAt(m.seen, WIDTH * HEIGHT * 4), bytesAt(m.image, W * H * 4)]
  let sum = 0
  for (let j = 0; j < SIDE; j++)
    for (let i = 0; i < SIDE; i++) {
      const own = patch + j * WIDTH + i
      if (known !== undefined && wordsAt(known, WIDTH * HEIGHT)[own] === 0) continue
      for (let c = 0; c < 4; c++) sum += (a[4 * own + c] - b[4 * ((y + j) * W + x + i) + c]) ** 2
    }
  return sum
}
const placeOf = (f: number) => [f & 0xffff, f >>> 16] as const
const costsIn = (m: Made, known = 0) =>
  kernels.patch_costs(m.image, W, m.seen, WIDTH, HEIGHT, m.need, m.field, m.costs, known)
const walk = (m: Made, back: number, radius: number, keep: number, known = 0) =>
  kernels.match_pass(
    ...([m.image, W, H, m.ok, m.seen, WIDTH, HEIGHT, m.need, m.field, m.costs, known] as const),
    ...([back, radius, 1, keep, 12345] as const),
  )

describe('patches', () => {
  it('cost their squared differences, of what is known alone where that is said', () => {
    const m = made(1)
    for (const known of [undefined, m.known]) {
      costsIn(m, known)
      for (const i of m.wanted) {
        const [x, y] = placeOf(wordsAt(m.field, WIDTH * HEIGHT)[i])
        expect(wordsAt(m.costs, WIDTH * HEIGHT)[i]).toBe(costOf(m, i, x, y, known))
        expect(kernels.patch_cost(m.image, W, m.seen, WIDTH, i, known ?? 0, x, y)).toBe(
          costOf(m, i, x, y, known),
        )
      }
    }
  })

  it('only get better on a walk, take from allowed places alone, and know what they cost', () => {
    const m = made(2)
    costsIn(m)
    const before = wordsAt(m.costs, WIDTH * HEIGHT).slice()
    for (const back of [0, 1, 0, 1]) walk(m, back, 40, 0)
    const [field, costs, ok] = [
      wordsAt(m.field, WIDTH * HEIGHT),
      wordsAt(m.costs, WIDTH * HEIGHT),
      bytesAt(m.ok, W * H),
    ]
    let better = 0
    for (const i of m.wanted) {
      const [x, y] = placeOf(field[i])
      expect(ok[y * W + x]).toBe(1)
      expect(costs[i]).toBe(costOf(m, i, x, y))
      expect(costs[i]).toBeLessThanOrEqual(before[i])
      if (costs[i] < before[i]) better++
    }
    expect(better).toBeGreaterThan(m.wanted.length * 0.9)
  })

  it.each([
    [0, 'on'],
    [1, 'back'],
  ])('hand what they found %i: %s', (back) => {
    const m = made(3)
    // the picture is a piece of the image, and one patch knows it
    const [image, seen] = [wordsAt(m.image, W * H), wordsAt(m.seen, WIDTH * HEIGHT)]
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) seen[y * WIDTH + x] = image[(y + 5) * W + x + 9]
    bytesAt(m.ok, W * H).forEach(
      (_, i, all) => (all[i] = i % W <= W - SIDE && Math.floor(i / W) <= H - SIDE ? 1 : 0),
    )
    bytesAt(m.need, WIDTH * HEIGHT).forEach(
      (_, i, all) => (all[i] = i % WIDTH <= WIDTH - SIDE && Math.floor(i / WIDTH) <= HEIGHT - SIDE ? 1 : 0),
    )
    const last = (HEIGHT - SIDE) * WIDTH + WIDTH - SIDE
    const [x, y] = back ? [WIDTH - SIDE + 9, HEIGHT - SIDE + 5] : [9, 5]
    wordsAt(m.field, WIDTH * HEIGHT)[back ? last : 0] = (y << 16) | x
    costsIn(m)
    walk(m, back, 0, 0)
    const costs = wordsAt(m.costs, WIDTH * HEIGHT)
    bytesAt(m.need, WIDTH * HEIGHT).forEach((n, i) => n && expect(costs[i]).toBe(0))
  })

  it('fill what is missing by the mean of what covers it, the better the more', () => {
    const m = made(4)
    costsIn(m)
    const next = random(9)
    const hole = scratch.take(WIDTH * HEIGHT + 64)
    bytesAt(hole, WIDTH * HEIGHT).forEach((_, i, all) => (all[i] = next() < 0.3 ? 1 : 0))
    const trust = scratch.floats(Array.from({ length: WIDTH * HEIGHT }, () => 0.2 + next()))
    const trusts = new Float32Array(scratch.memory.buffer, trust, WIDTH * HEIGHT).slice()
    const before = bytesAt(m.seen, WIDTH * HEIGHT * 4).slice()
    const spread = 1e6
    kernels.vote_patches(m.image, W, m.seen, WIDTH, HEIGHT, hole, m.need, m.field, m.costs, trust, spread)
    const [image, seen] = [bytesAt(m.image, W * H * 4), bytesAt(m.seen, WIDTH * HEIGHT * 4)]
    const [field, costs] = [wordsAt(m.field, WIDTH * HEIGHT), wordsAt(m.costs, WIDTH * HEIGHT)]
    const [need, holes] = [bytesAt(m.need, WIDTH * HEIGHT), bytesAt(hole, WIDTH * HEIGHT)]
    for (let i = 0; i < WIDTH * HEIGHT; i++)
      for (let c = 0; c < 4; c++) {
        let [sum, weights] = [0, 0]
        for (let dy = 0; dy < SIDE; dy++)
          for (let dx = 0; dx < SIDE; dx++) {
            const [u, v] = [(i % WIDTH) - dx, Math.floor(i / WIDTH) - dy]
            if (u < 0 || v < 0 || !need[v * WIDTH + u]) continue
            const j = v * WIDTH + u
            const [x, y] = placeOf(field[j])
            const weight = trusts[j] / (1 + (costs[j] / spread) ** 2)
            sum += weight * image[4 * ((y + dy) * W + x + dx) + c]
            weights += weight
          }
        const wanted = holes[i] && weights > 0 ? sum / weights : before[4 * i + c]
        expect(Math.abs(seen[4 * i + c] - wanted), `${i} ${c}`).toBeLessThanOrEqual(0.51)
      }
  })
})
