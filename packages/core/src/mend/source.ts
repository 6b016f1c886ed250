import type { Rect } from '../raw/rect'
import { boxAround, distancesIn, type Region } from './region'
import { ringOf } from './spot'
import type { Window } from './window'

/** A place that something may be taken from. */
export interface FoundSource {
  /** From the middle of the target, whole pixels. */
  source: readonly [number, number]
  /** How unlike the surroundings of the target those of the source are; 0 is alike. */
  score: number
}

/** Farthest source, in radii, and at least so many pixels. */
const REACH = { radii: 7, least: 48, most: 400 } as const
/** Places of a ring and of a disc that are compared, about. */
const PLACES = 420
/** Places that are looked at more closely. */
const CLOSER = 8
/** What a difference in brightness, which healing takes away, counts beside one in texture. */
const LIGHT = 0.15
/** What it counts to be rougher or smoother within than the surroundings of the target. */
const ROUGHNESS = 0.6
/** What distance counts: of places as good as each other the nearer is taken. */
const FAR = 0.04

/** Where the source of a region is looked for, pixels. */
export function searchedFor(region: Region): Rect {
  const r = region.radius
  const reach = Math.min(
    Math.max(Math.ceil(r * REACH.radii), REACH.least),
    Math.max(REACH.most, Math.ceil(3 * r)),
  )
  return boxAround(region, reach + Math.ceil(aroundFor(r)) + 1)
}

/** How much around a region is compared, pixels. */
const aroundFor = (radius: number) => Math.max(radius * 0.8, ringOf(radius), 4)

interface Offset {
  u: number
  v: number
}

/** Whole places of a region's box between two distances from its border, about as many as wanted, evenly. */
function placesWithin(
  region: Region,
  from: number,
  to: number,
  wanted: number,
): { places: Offset[]; step: number } {
  const box = boxAround(region, Math.max(to, 0))
  const distance = distancesIn(region, box, Math.max(to, 0) + 1)
  let count = 0
  for (const d of distance) if (d > from && d <= to) count++
  const step = Math.max(Math.floor(Math.sqrt(count / wanted)), 1)
  const [x, y] = [Math.round(region.x), Math.round(region.y)]
  const on = (v: number) => v % step === 0
  const places: Offset[] = []
  for (let j = 0; j < box.height; j++)
    for (let i = 0; i < box.width; i++) {
      const [u, v] = [box.x + i - x, box.y + j - y]
      const d = distance[j * box.width + i]
      if (on(u) && on(v) && d > from && d <= to) places.push({ u, v })
    }
  return { places, step }
}

/** Which places of a window others cover, or lie close to what they do. */
function coveredIn(covered: readonly Region[], { x, y, width, height }: Window, room: number): Uint8Array {
  const out = new Uint8Array(width * height)
  for (const region of covered) {
    const box = boxAround(region, room)
    const [left, top] = [Math.max(box.x, x), Math.max(box.y, y)]
    const right = Math.min(box.x + box.width, x + width)
    const bottom = Math.min(box.y + box.height, y + height)
    if (left >= right || top >= bottom) continue
    const part = { x: left, y: top, width: right - left, height: bottom - top }
    distancesIn(region, part, room + 1).forEach((d, i) => {
      if (d > room) return
      const line = Math.floor(i / part.width)
      out[(top - y + line) * width + left - x + i - line * part.width] = 1
    })
  }
  return out
}

/**
 * Where something like the surroundings of a spot is found: its ring is compared with those of other places, first
 * on a coarse grid and then from pixel to pixel, with light as its square root, in which noise is about even.
 * @param window the picture around the region, as far as `searchedFor` says
 * @param levels from which on each channel is clipped
 * @param covered what other patches cover: nothing is taken from there
 * @returns the best first, apart from each other by the radius at least
 */
export function findSources(
  region: Region,
  window: Window,
  levels: readonly [number, number, number],
  covered: readonly Region[] = [],
): FoundSource[] {
  const { x, y, radius } = region
  const { width, height } = window
  const root = window.planes.map((p) => p.map((v) => Math.sqrt(Math.max(v, 0))))
  const bright = window.planes[0].map((_, i) => (window.planes.some((p, c) => p[i] >= levels[c]) ? 1 : 0))
  const [cx, cy] = [Math.round(x) - window.x, Math.round(y) - window.y]
  const around = aroundFor(radius)
  const { places: ring } = placesWithin(region, 0, around, PLACES)
  const { places: disc, step: apartBy } = placesWithin(region, -Infinity, 0, PLACES)
  if (disc.length === 0) return []
  const taken = coveredIn([...covered, region], window, apartBy)
  const box = boxAround(region, around)
  const at = (p: Offset, dx: number, dy: number) => (cy + p.v + dy) * width + cx + p.u + dx
  const whole = ring.filter(
    ({ u, v }) =>
      cx + u >= 0 && cy + v >= 0 && cx + u < width && cy + v < height && !bright[at({ u, v }, 0, 0)],
  )
  // where all is clipped, clipped light is what fits
  const usable = whole.length > ring.length / 8
  const seen = usable
    ? whole
    : ring.filter(({ u, v }) => cx + u >= 0 && cy + v >= 0 && cx + u < width && cy + v < height)
  if (seen.length === 0) return []
  const rough = roughness(seen, 0, 0)

  /** Mean difference of neighbours along a line: of texture, not of light. */
  function roughness(places: readonly Offset[], dx: number, dy: number): number {
    let sum = 0
    for (const p of places) {
      const i = at(p, dx, dy)
      for (const plane of root) sum += Math.abs(plane[i] - plane[i + 1 < plane.length ? i + 1 : i - 1])
    }
    return sum / places.length
  }

  const scoreOf = (dx: number, dy: number): number => {
    const [left, top] = [box.x + dx - window.x, box.y + dy - window.y]
    if (left < 0 || top < 0 || left + box.width >= width || top + box.height > height) return Infinity
    for (const p of disc) if (taken[at(p, dx, dy)]) return Infinity
    if (usable) for (const p of disc) if (bright[at(p, dx, dy)]) return Infinity
    let squares = 0
    let light = 0
    for (const plane of root) {
      let sum = 0
      let square = 0
      for (const p of seen) {
        const d = plane[at(p, 0, 0)] - plane[at(p, dx, dy)]
        sum += d
        square += d * d
      }
      const mean = sum / seen.length
      squares += square / seen.length - mean * mean
      light += mean * mean
    }
    const texture = roughness(disc, dx, dy) - rough
    const far = Math.sqrt(dx * dx + dy * dy) / (radius + 8)
    return (squares + LIGHT * light + ROUGHNESS * texture * texture) * (1 + FAR * far)
  }

  const reach = box.x - searchedFor(region).x
  const step = Math.max(Math.round(radius / 3), 2)
  const found: FoundSource[] = []
  for (let dy = -reach; dy <= reach; dy += step)
    for (let dx = -reach; dx <= reach; dx += step) {
      const score = scoreOf(dx, dy)
      if (score < Infinity) found.push({ source: [dx, dy], score })
    }
  found.sort((a, b) => a.score - b.score)
  const apart: FoundSource[] = []
  for (const f of found) {
    if (apart.length === CLOSER) break
    const near = apart.some(
      (a) => Math.hypot(a.source[0] - f.source[0], a.source[1] - f.source[1]) < Math.max(radius, step * 2),
    )
    if (!near) apart.push(f)
  }
  return apart.map((f) => closer(f, step, scoreOf)).sort((a, b) => a.score - b.score)
}

/** The best place near one, by ever smaller steps. */
function closer(start: FoundSource, step: number, scoreOf: (dx: number, dy: number) => number): FoundSource {
  let best = start
  for (let s = Math.max(step >> 1, 1); ; s >>= 1) {
    for (let moved = true; moved;) {
      moved = false
      const [dx, dy] = best.source
      for (const [u, v] of [
        [s, 0],
        [-s, 0],
        [0, s],
        [0, -s],
      ] as const) {
        const score = scoreOf(dx + u, dy + v)
        if (score < best.score) {
          best = { source: [dx + u, dy + v], score }
          moved = true
        }
      }
    }
    if (s === 1) return best
  }
}
