import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import { followWire, readStrip, stripBetween } from './wire'
import type { Window } from './window'

const [WIDTH, HEIGHT] = [500, 200]

/** A window of some light by place. */
function windowOf(light: (x: number, y: number) => number): Window {
  const plane = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
    light(i % WIDTH, Math.floor(i / WIDTH)),
  )
  return { x: 0, y: 0, width: WIDTH, height: HEIGHT, planes: [plane, plane, plane] }
}

const sagging = (x: number) => 60 + 0.1 * x + 25 * (1 - (x / 250 - 1) ** 2)

/** A sky or grass with a wire that is so many pixels wide. */
function scene(width: number, factor: number, grain: number) {
  const next = random(8)
  const noise = Float32Array.from({ length: WIDTH * HEIGHT }, () => next() - 0.5)
  return windowOf((x, y) => {
    const share = Math.min(Math.max(width / 2 + 0.5 - Math.abs(y - sagging(x)), 0), 1)
    const ground = 0.3 * (1 + grain * noise[y * WIDTH + x]) * (x > 300 ? 0.5 : 1)
    return ground * (1 + share * (factor - 1))
  })
}

function follow(window: Window, from = { x: 10, y: sagging(10) }, to = { x: 490, y: sagging(490) }) {
  const strip = stripBetween(from, to)!
  return followWire(strip, readStrip(strip, window, 0, strip.length))
}

describe('a wire', () => {
  it.each([
    ['dark, on plain ground', 2, 0.2, 0],
    ['dark, on grain', 3, 0.2, 0.6],
    ['bright, on grain', 2, 3, 0.4],
  ] as const)('that is %s, sags and crosses an edge is followed', (_, width, factor, grain) => {
    // clicked a little beside its ends
    const found = follow(
      scene(width, factor, grain),
      { x: 10, y: sagging(10) + 2 },
      { x: 490, y: sagging(490) - 2 },
    )!
    expect(found.places.length).toBeGreaterThan(100)
    for (const { x, y } of found.places)
      if (x > 20 && x < 480) expect(Math.abs(y - sagging(x)), `at ${x}`).toBeLessThan(1.5)
    expect(found.radius).toBeGreaterThan(width / 2 + 0.5)
    expect(found.radius).toBeLessThan(width / 2 + 3.5)
  })

  it('is not found where there is none', () => {
    expect(follow(scene(0, 1, 0.05))).toBeUndefined()
    // an edge is no wire
    expect(follow(windowOf((_, y) => (y < 90 ? 0.2 : 0.5)))).toBeUndefined()
  })

  it('has two ends', () => {
    expect(stripBetween({ x: 5, y: 5 }, { x: 7, y: 6 })).toBeUndefined()
  })
})
