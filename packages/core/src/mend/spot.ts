import { sinCosDegrees, smoothStep } from '../math'
import type { Rect } from '../raw/rect'
import type { Patch } from '../steps/patches/schema'
import { continueValues } from './membrane'
import { valueAt, type Window } from './window'

/** A patch in pixels of a picture; whole numbers are the middles of samples. */
export interface Spot {
  kind: Patch['kind']
  x: number
  y: number
  radius: number
  /** From the middle of the spot to that of its source. */
  source: readonly [number, number]
  softness: number
  opacity: number
  turn: number
  mirror: boolean
}

/** Pixels around a spot by which it is fitted in: at least, and as a share of the radius. */
const RING = { least: 3, share: 0.25, most: 12 } as const

/** Width of the ring around a spot whose light is compared with that around its source, pixels. */
export const ringOf = (radius: number) =>
  Math.min(Math.max(Math.ceil(radius * RING.share), RING.least), RING.most)

/** What a patch covers in a picture with so many pixels along its long edge. */
export const circleOf = (patch: Pick<Patch, 'x' | 'y' | 'radius'>, long: number) => ({
  x: patch.x * long - 0.5,
  y: patch.y * long - 0.5,
  radius: Math.max(patch.radius * long, 0.75),
})

/** A patch where it lies in a picture with so many pixels along its long edge. */
export function spotOf(patch: Patch, long: number): Spot {
  const { kind, softness, opacity, turn, mirror } = patch
  const [dx, dy] = patch.source.map((v) => v * long)
  const straight = turn === 0 && !mirror
  return {
    ...{ kind, softness, opacity, turn, mirror },
    ...circleOf(patch, long),
    // between samples texture would lose its finest grain
    source: straight ? [Math.round(dx), Math.round(dy)] : [dx, dy],
  }
}

const boxOf = (x: number, y: number, r: number): Rect => {
  const [left, top] = [Math.floor(x - r), Math.floor(y - r)]
  return { x: left, y: top, width: Math.ceil(x + r) - left + 1, height: Math.ceil(y + r) - top + 1 }
}

/** What a spot changes, what it looks at there, and what it takes from, pixels; they may lie beyond the picture. */
export function rectsOf({ x, y, radius, source }: Spot): { target: Rect; seen: Rect; taken: Rect } {
  const ring = ringOf(radius) + 1
  return {
    target: boxOf(x, y, radius),
    seen: boxOf(x, y, radius + ring),
    // room for the cubic between samples
    taken: boxOf(x + source[0], y + source[1], radius + ring + 2),
  }
}

/** How much a spot covers at a distance from its middle, 0..1. */
export function coverage({ radius, softness }: Pick<Spot, 'radius' | 'softness'>, distance: number): number {
  // a border of one pixel at least: none has steps
  const soft = Math.max(softness * radius, 1)
  return smoothStep(Math.min(Math.max((radius + 0.5 - distance) / soft, 0), 1))
}

/** Clipped light says nothing of what lies around it. */
const clipped = (window: Window, at: number, levels: readonly number[]) =>
  window.planes.some((p, c) => p[at] >= levels[c])

/**
 * What a spot makes of the picture.
 * @param seen the picture around it, `rectsOf(spot).seen`
 * @param taken the picture around its source
 * @param levels from which on each channel is clipped
 * @returns values for `rectsOf(spot).target`, line by line, by channel
 */
export function mendSpot(
  spot: Spot,
  seen: Window,
  taken: Window,
  levels: readonly [number, number, number],
): [Float32Array, Float32Array, Float32Array] {
  const { x, y, radius, source, kind, opacity, turn, mirror } = spot
  const { target } = rectsOf(spot)
  const ring = ringOf(radius)
  const [sine, cosine] = sinCosDegrees(turn)
  const { width, height } = seen
  const n = width * height
  const from = [0, 1, 2].map(() => new Float64Array(n))
  const distance = new Float64Array(n)
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const at = j * width + i
      const [u, v] = [seen.x + i - x, seen.y + j - y]
      distance[at] = Math.sqrt(u * u + v * v)
      if (distance[at] > radius + ring) continue
      const across = mirror ? -u : u
      // back by the turn: what lies there comes here turned
      const [sx, sy] = turn === 0 ? [across, v] : [cosine * across + sine * v, cosine * v - sine * across]
      const [px, py] =
        turn === 0 && !mirror
          ? [seen.x + i + source[0], seen.y + j + source[1]]
          : [x + source[0] + sx, y + source[1] + sy]
      for (let c = 0; c < 3; c++) from[c][at] = valueAt(taken, c, px, py)
    }
  if (kind === 'heal') fitIn(from, seen, distance, radius, ring, levels)
  return [0, 1, 2].map((c) => {
    const out = new Float32Array(target.width * target.height)
    for (let j = 0; j < target.height; j++)
      for (let i = 0; i < target.width; i++) {
        const at = (target.y + j - seen.y) * width + target.x + i - seen.x
        const there = seen.planes[c][at]
        const share = opacity * coverage(spot, distance[at])
        out[j * target.width + i] = there + share * (from[c][at] - there)
      }
    return out
  }) as [Float32Array, Float32Array, Float32Array]
}

/**
 * Brings the source's light to that around the target: the differences along the ring, continued over the spot
 * (Perez, Gangnet and Blake 2003). What differs much from the rest of the ring, an edge that meets it, counts less.
 */
function fitIn(
  from: Float64Array[],
  seen: Window,
  distance: Float64Array,
  radius: number,
  ring: number,
  levels: readonly [number, number, number],
): void {
  const { width, height } = seen
  const n = width * height
  const known = new Float64Array(n)
  const onRing: number[] = []
  for (let i = 0; i < n; i++)
    if (distance[i] > radius && distance[i] <= radius + ring && !clipped(seen, i, levels)) {
      known[i] = 1
      onRing.push(i)
    }
  if (onRing.length === 0) return
  const differences = from.map((f, c) =>
    Float64Array.from(f, (v, i) => (known[i] ? seen.planes[c][i] - v : 0)),
  )
  const total = onRing.map((i) => differences[0][i] + differences[1][i] + differences[2][i])
  const middle = median(total)
  const apart = Math.max(median(total.map((v) => Math.abs(v - middle))) * 4, 1e-6)
  onRing.forEach((i, k) => {
    const d = (total[k] - middle) / apart
    known[i] = 1 / (1 + d * d)
  })
  continueValues(differences, known, width, height).forEach((light, c) => {
    for (let i = 0; i < n; i++) from[c][i] += light[i]
  })
}

const median = (values: readonly number[]): number =>
  Float64Array.from(values).sort()[values.length >> 1] ?? 0
