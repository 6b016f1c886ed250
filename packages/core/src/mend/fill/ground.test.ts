import { describe, expect, it } from 'vitest'
import { random } from '../../../test/bench'
import { allowed, halved, lookedAt, PATCH, type Level } from './ground'
import { barStrange } from './strange'

const [W, H] = [64, 48]

/** A level of some colours by place, with nothing missing. */
function levelOf(colour: (x: number, y: number) => readonly [number, number, number]) {
  const memory = new ArrayBuffer(W * H * 4 * 2)
  const bytes = new Uint8Array(memory)
  for (let i = 0; i < W * H; i++) bytes.set([...colour(i % W, Math.floor(i / W)), 0], 4 * i)
  const level: Level = {
    ...{ width: W, height: H, pixels: 0 },
    ...{ hole: new Uint8Array(W * H), barred: new Uint8Array(W * H) },
  }
  return { memory, level, bytes }
}
const mark = (marks: Uint8Array, x0: number, y0: number, w: number, h: number) => {
  for (let y = y0; y < y0 + h; y++) marks.fill(1, y * W + x0, y * W + x0 + w)
}

describe('a level of half the size', () => {
  it('has the means, and lacks what any of four lacks', () => {
    const next = random(2)
    const { memory, level, bytes } = levelOf(() => [next() * 255, next() * 255, next() * 255])
    for (const marks of [level.hole, level.barred]) marks.forEach((_, i) => (marks[i] = next() < 0.2 ? 1 : 0))
    const small = halved(level, memory, W * H * 4)
    expect([small.width, small.height]).toEqual([W / 2, H / 2])
    for (let i = 0; i < small.hole.length; i++) {
      const at = 2 * Math.floor(i / small.width) * W + 2 * (i % small.width)
      const four = [at, at + 1, at + W, at + W + 1]
      for (const kind of ['hole', 'barred'] as const)
        expect(small[kind][i]).toBe(four.some((k) => level[kind][k]) ? 1 : 0)
      for (let c = 0; c < 3; c++) {
        const mean = four.reduce((sum, k) => sum + bytes[4 * k + c], 0) / 4
        expect(Math.abs(bytes[small.pixels + 4 * i + c] - mean)).toBeLessThanOrEqual(0.5)
      }
    }
  })
})

describe('patches', () => {
  it('are allowed where nothing of them is missing or barred', () => {
    const next = random(3)
    const { level } = levelOf(() => [0, 0, 0])
    for (const marks of [level.hole, level.barred])
      marks.forEach((_, i) => (marks[i] = next() < 0.004 ? 1 : 0))
    const ok = allowed(level)
    let any = 0
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        let free = x <= W - PATCH && y <= H - PATCH
        for (let j = 0; free && j < PATCH; j++)
          for (let i = 0; i < PATCH; i++)
            if (level.hole[(y + j) * W + x + i] || level.barred[(y + j) * W + x + i]) free = false
        expect(ok[y * W + x], `${x} ${y}`).toBe(free ? 1 : 0)
        any += ok[y * W + x]
      }
    expect(any).toBeGreaterThan(50)
  })
})

describe('what is strange', () => {
  const line = (x: number, y: number) => y >= 40 && y < 43 && x >= 0
  const grass = (x: number, y: number) => [60 + ((x * 7) % 20), 120 + ((y * 5) % 20), 40] as const

  it('is barred, however thin; what is around the gap is not', () => {
    const { memory, level } = levelOf((x, y) => (line(x, y) ? [220, 60, 20] : grass(x, y)))
    mark(level.hole, 20, 2, 10, 4)
    barStrange(level, memory, 2)
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++)
        if (line(x, y)) expect(level.barred[y * W + x]).toBe(1)
        else if (y < 37 || y > 46) expect(level.barred[y * W + x]).toBe(0)
  })

  it('is not what runs into the gap', () => {
    const { memory, level } = levelOf((x, y) => (line(x, y) ? [220, 60, 20] : grass(x, y)))
    mark(level.hole, 20, 38, 10, 8)
    barStrange(level, memory, 4)
    expect(level.barred.includes(1)).toBe(false)
  })
})

describe('what is looked at', () => {
  const picture = { width: 6000, height: 4000 }

  it('holds the gap and ground around it, in no more pixels than fit', () => {
    for (const [side, half] of [
      [40, 20],
      [500, 250],
      [1100, 550],
      [1800, 900],
    ]) {
      const missing = { x: 1600, y: 1200, width: side, height: side }
      const { part, by } = lookedAt(missing, half, picture)
      expect(part.x).toBeLessThanOrEqual(missing.x - side / 2)
      expect(part.x + part.width).toBeGreaterThanOrEqual(missing.x + side * 1.5)
      expect(part.width % by).toBe(0)
      expect(part.height % by).toBe(0)
      expect((part.width / by) * (part.height / by)).toBeLessThanOrEqual(5.5e6)
    }
    expect(lookedAt({ x: 2500, y: 1000, width: 500, height: 500 }, 250, picture).by).toBe(1)
  })

  it('ends with the picture', () => {
    const { part } = lookedAt({ x: -20, y: 3900, width: 300, height: 200 }, 100, picture)
    expect(part.x).toBe(0)
    expect(part.y + part.height).toBeLessThanOrEqual(4000)
  })
})
