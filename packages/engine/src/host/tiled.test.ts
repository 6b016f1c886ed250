import { Arena, type Rect } from '@dunkelkammer/core'
import { beforeEach, describe, expect, it } from 'vitest'
import { Cache } from './cache'
import { Superseded } from './pool'
import { CELL, Tiled, together } from './tiled'

const SIZE = { width: 5 * CELL - 10, height: 4 * CELL }
let tiled: Tiled
let asked: Rect[]
const fill = (rects: readonly Rect[]) => (asked.push(...rects), Promise.resolve())
const want = (x: number, y: number, width: number, height: number) =>
  tiled.want({ x, y, width, height }, 6, fill)
const cells = () => asked.reduce((n, r) => n + Math.ceil(r.width / CELL) * Math.ceil(r.height / CELL), 0)

beforeEach(() => {
  const cache = new Cache(new Arena(0, 1 << 20, () => undefined), 1e6)
  tiled = new Tiled(cache.bytes(1000), SIZE)
  asked = []
})

describe('a picture that is there in part', () => {
  it('computes the cells that a rectangle touches, each once, and none beyond the picture', async () => {
    await want(10, 10, 60, 20)
    expect(asked).toEqual([{ x: 0, y: 0, width: 2 * CELL, height: CELL }])
    await want(0, 0, 2 * CELL, 2 * CELL)
    expect(asked.slice(1)).toEqual([{ x: 0, y: CELL, width: 2 * CELL, height: CELL }])
    expect(tiled.whole).toBe(false)
    await want(-50, -50, 1e4, 1e4)
    expect(tiled.whole).toBe(true)
    expect(cells()).toBe(20)
    expect(Math.max(...asked.map((r) => r.x + r.width))).toBe(SIZE.width)
    await want(0, 0, SIZE.width, SIZE.height)
    expect(cells()).toBe(20)
  })

  it('computes again what was said to hold no more, and that alone', async () => {
    await want(0, 0, SIZE.width, SIZE.height)
    asked = []
    tiled.invalidate({ x: CELL + 1, y: 1, width: CELL, height: 2 })
    expect(tiled.whole).toBe(false)
    await want(0, 0, SIZE.width, SIZE.height)
    expect(asked).toEqual([{ x: CELL, y: 0, width: 2 * CELL, height: CELL }])
  })

  it('does not take for done what was said to hold no more while it was on its way', async () => {
    let bring!: () => void
    const first = tiled.want(
      { x: 0, y: 0, width: 9, height: 9 },
      6,
      () => new Promise<void>((d) => (bring = d)),
    )
    tiled.invalidate({ x: 0, y: 0, width: 9, height: 9 })
    bring()
    await first
    await want(0, 0, 9, 9)
    expect(cells()).toBe(1)
  })

  it('waits for what another request has begun', async () => {
    let bring!: () => void
    let there = false
    const slow = () => new Promise<void>((done) => (bring = done)).then(() => void (there = true))
    void tiled.want({ x: 0, y: 0, width: 9, height: 9 }, 6, slow)
    const second = want(0, 0, 9, 9)
    bring()
    await second
    expect([there, asked.length]).toEqual([true, 0])
  })

  it('is not waited for once it is abandoned, and can be wanted again', async () => {
    const first = tiled.want(
      { x: 0, y: 0, width: 9, height: 9 },
      6,
      (_, stop) => new Promise((_done, fail) => stop.addEventListener('abort', () => fail(new Superseded()))),
    )
    const outcome = expect(first).rejects.toBeInstanceOf(Superseded)
    tiled.abandon()
    await outcome
    await want(0, 0, 9, 9)
    expect(cells()).toBe(1)
  })
})
const filled = (width: number, height: number, without: (x: number, y: number) => boolean = () => false) =>
  Array.from({ length: width * height }, (_, i) => [i % width, Math.floor(i / width)] as const).filter(
    ([x, y]) => !without(x, y),
  )

describe('cells put together to rectangles', () => {
  it.each([
    ['a full field', filled(14, 9)],
    ['a field with a hole', filled(14, 9, (x, y) => x > 3 && x < 8 && y > 2 && y < 6)],
    ['an odd shape', filled(9, 9, (x, y) => x + y < 6 || (x === 7 && y % 2 === 0))],
  ])('cover %s, each cell once and no other', (_, cells) => {
    const seen = new Map<string, number>()
    for (const { x, y, width, height } of together(cells, 4)) {
      expect(width).toBeLessThanOrEqual(4)
      expect(height).toBeLessThanOrEqual(4)
      for (let j = y; j < y + height; j++)
        for (let i = x; i < x + width; i++) seen.set(`${i} ${j}`, (seen.get(`${i} ${j}`) ?? 0) + 1)
    }
    expect([...seen.keys()].sort()).toEqual(cells.map(([x, y]) => `${x} ${y}`).sort())
    expect([...seen.values()].every((n) => n === 1)).toBe(true)
  })

  it('are as even as they can be', () => {
    const sizes = together(filled(9, 7), 6).map(({ width, height }) => width * height)
    expect(sizes.length).toBe(4)
    expect(Math.max(...sizes) - Math.min(...sizes)).toBeLessThanOrEqual(8)
  })
})
