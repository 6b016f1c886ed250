import { ringOf, type Spot } from './spot'
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

/** How far around a spot its source is looked for, pixels. */
export const reachFor = (radius: number) =>
  Math.min(Math.max(Math.ceil(radius * REACH.radii), REACH.least), REACH.most) +
  Math.ceil(radius) +
  ringOf(radius)

interface Place {
  u: number
  v: number
}

/** Whole places between two distances from the middle, about as many as wanted, evenly. */
function placesWithin(from: number, to: number, wanted: number): Place[] {
  const step = Math.max(Math.floor(Math.sqrt((Math.PI * (to * to - from * from)) / wanted)), 1)
  const out: Place[] = []
  const r = Math.ceil(to)
  for (let v = -r; v <= r; v += step)
    for (let u = -r; u <= r; u += step) {
      const d = Math.sqrt(u * u + v * v)
      if (d > from && d <= to) out.push({ u, v })
    }
  return out
}

/**
 * Where something like the surroundings of a spot is found: its ring is compared with those of other places, first
 * on a coarse grid and then from pixel to pixel, with light as its square root, in which noise is about even.
 * @param window the picture around the spot, `reachFor` to each side
 * @param levels from which on each channel is clipped
 * @param free whether a place may be taken from; others are covered or lie outside the picture
 * @returns the best first, apart from each other by the radius at least
 */
export function findSources(
  { x, y, radius }: Pick<Spot, 'x' | 'y' | 'radius'>,
  window: Window,
  levels: readonly [number, number, number],
  free: (x: number, y: number) => boolean,
): FoundSource[] {
  const { width, height } = window
  const root = window.planes.map((p) => p.map((v) => Math.sqrt(Math.max(v, 0))))
  const bright = window.planes[0].map((_, i) => (window.planes.some((p, c) => p[i] >= levels[c]) ? 1 : 0))
  const [cx, cy] = [Math.round(x) - window.x, Math.round(y) - window.y]
  const around = Math.max(radius * 0.8, ringOf(radius), 4)
  const ring = placesWithin(radius, radius + around, PLACES)
  const disc = placesWithin(-1, radius, PLACES)
  const at = (p: Place, dx: number, dy: number) => (cy + p.v + dy) * width + cx + p.u + dx
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
  function roughness(places: readonly Place[], dx: number, dy: number): number {
    let sum = 0
    for (const p of places) {
      const i = at(p, dx, dy)
      for (const plane of root) sum += Math.abs(plane[i] - plane[i + 1 < plane.length ? i + 1 : i - 1])
    }
    return sum / places.length
  }

  const scoreOf = (dx: number, dy: number): number => {
    const r = Math.ceil(radius + around)
    if (cx + dx - r < 0 || cy + dy - r < 0 || cx + dx + r + 1 >= width || cy + dy + r >= height)
      return Infinity
    if (dx * dx + dy * dy < (2 * radius + 2) ** 2) return Infinity
    if (!free(x + dx, y + dy)) return Infinity
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

  const reach = reachFor(radius) - Math.ceil(radius) - ringOf(radius)
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
