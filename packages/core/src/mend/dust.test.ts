import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import { DUST_REACH, findDust } from './dust'
import type { Window } from './window'

const SIDE = 520
const WHOLE = SIDE + 2 * DUST_REACH

interface Speck {
  x: number
  y: number
  radius: number
  depth: number
}

/** Specks apart from each other, smaller and fainter ones more often. */
function specks(next: () => number, count: number): Speck[] {
  const out: Speck[] = []
  while (out.length < count) {
    const place = () => 20 + (SIDE - 40) * next()
    const speck = { x: place(), y: place(), radius: 4 + 10 * next() ** 2, depth: 0.06 + 0.16 * next() }
    if (out.every((s) => Math.hypot(s.x - speck.x, s.y - speck.y) > 60)) out.push(speck)
  }
  return out
}

/** Light with noise, seen through specks whose edges are softer the wider the lens is open. */
function seen(
  light: (x: number, y: number) => number,
  all: readonly Speck[],
  { soft, share }: { soft: number; share: number },
  next: () => number,
): Window {
  const gauss = () => Math.sqrt(-2 * Math.log(next() + 1e-12)) * Math.cos(2 * Math.PI * next())
  const planes = [0, 1, 2].map(() => new Float32Array(WHOLE * WHOLE))
  for (let j = 0; j < WHOLE; j++)
    for (let i = 0; i < WHOLE; i++) {
      const [x, y] = [i - DUST_REACH, j - DUST_REACH]
      let through = 1
      for (const s of all) {
        const r = Math.hypot(x - s.x, y - s.y) / s.radius
        if (r < 3) through *= 1 - (share * s.depth) / (1 + Math.exp((r - 0.9) * soft))
      }
      const v = light(x, y) * through
      // noise of light at ISO 100
      ;[0.8, 1, 0.9].forEach((k, c) => {
        planes[c][j * WHOLE + i] = k * v + Math.sqrt(k * v * 3e-5) * gauss()
      })
    }
  const [r, g, b] = planes
  return { x: -DUST_REACH, y: -DUST_REACH, width: WHOLE, height: WHOLE, planes: [r, g, b] }
}

/** Soft clouds over a slope. */
function clouds(next: () => number): (x: number, y: number) => number {
  const waves = Array.from({ length: 24 }, () => {
    const [length, turn, start] = [90 + 500 * next(), next() * Math.PI, next() * 7]
    return { a: Math.cos(turn) / length, b: Math.sin(turn) / length, start, size: length / 600 }
  })
  return (x, y) => {
    const sum = waves.reduce((s, w) => s + w.size * Math.sin(2 * Math.PI * (w.a * x + w.b * y) + w.start), 0)
    return (0.45 - 0.15 * (y / SIDE)) * (1 + 0.07 * sum)
  }
}

describe('dust in skies', () => {
  it.each([
    ['f/22', { soft: 14, share: 1 }],
    ['f/11', { soft: 8, share: 0.75 }],
    ['f/5.6', { soft: 5, share: 0.6 }],
  ])('is found at %s: nineteen of twenty, and nine of ten finds are dust', (_, aperture) => {
    const next = random(7)
    let [there, found, finds, right] = [0, 0, 0, 0]
    for (let picture = 0; picture < 4; picture++) {
      const all = specks(next, 12)
      const window = seen(clouds(next), all, aperture, next)
      const sure = findDust(window).filter((d) => d.confidence >= 0.5)
      const is = (s: Speck) => sure.some((d) => Math.hypot(d.x - s.x, d.y - s.y) < Math.max(s.radius / 2, 2))
      there += all.length
      found += all.filter(is).length
      finds += sure.length
      right += sure.filter((d) => all.some((s) => Math.hypot(d.x - s.x, d.y - s.y) < s.radius)).length
    }
    expect(found / there).toBeGreaterThanOrEqual(0.95)
    expect(right / finds).toBeGreaterThanOrEqual(0.9)
  })

  it('is as large and as deep as it is', () => {
    const next = random(3)
    const all = specks(next, 12)
    const found = findDust(seen(() => 0.4, all, { soft: 14, share: 1 }, next))
    for (const s of all) {
      const d = found.find((f) => Math.hypot(f.x - s.x, f.y - s.y) < 2)!
      expect(Math.abs(d.radius - 0.9 * s.radius)).toBeLessThan(1.6)
      expect(Math.abs(d.depth - s.depth)).toBeLessThan(0.03)
    }
  })
})

describe('what is no dust', () => {
  const sureIn = (light: (x: number, y: number) => number, change?: (w: Window) => void) => {
    const window = seen(light, [], { soft: 14, share: 1 }, random(5))
    change?.(window)
    return findDust(window).filter((d) => d.confidence >= 0.5)
  }

  it('is an even surface, a wire, an edge, or fine texture', () => {
    const next = random(9)
    const grain = Float32Array.from({ length: 128 * 128 }, () => next())
    const leaves = (x: number, y: number) => {
      const at = (s: number) => grain[((Math.floor(y / s) & 127) << 7) + (Math.floor(x / s) & 127)]
      return 0.05 + 0.3 * at(3) * at(7)
    }
    expect(sureIn(() => 0.4)).toEqual([])
    expect(sureIn((x, y) => (Math.abs(x - y) < 4 ? 0.3 : 0.4))).toEqual([])
    expect(sureIn((x, y) => (x + 0.3 * y > 300 ? 0.1 : 0.4))).toEqual([])
    expect(sureIn(leaves).length).toBeLessThanOrEqual(1)
  })

  it('is a coloured spot, a bright one, or a black one', () => {
    const spot =
      (of: (c: number) => number) =>
      ({ planes }: Window) =>
        planes.forEach((plane, c) => {
          for (let j = -7; j <= 7; j++)
            for (let i = -7; i <= 7; i++)
              if (Math.hypot(i, j) <= 7) plane[(DUST_REACH + 250 + j) * WHOLE + DUST_REACH + 250 + i] *= of(c)
        })
    const all = (how: (c: number) => number) => sureIn(() => 0.4, spot(how)).length
    expect(all(() => 0.88)).toBe(1)
    expect(all((c) => (c === 0 ? 1 : 0.82))).toBe(0)
    expect(all(() => 1.14)).toBe(0)
    expect(all(() => 0.05)).toBe(0)
  })
})
