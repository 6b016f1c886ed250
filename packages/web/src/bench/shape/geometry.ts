import type { Place } from '../state/types'
import type { ShapeOf } from './shapes'

type Oval = Pick<ShapeOf<'oval'>, 'x' | 'y' | 'across' | 'down' | 'turn'>

/** Degrees clockwise of the way from one place to another, as it is seen. */
export const turnOf = (from: Place, to: Place): number =>
  (Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI

/** Directions that a line is drawn to, and how close it must come to one of them, degrees. */
const SNAP = { every: 45, within: 3 } as const

/** An end of a line, moved to a direction that is close: level, upright, or half way between. */
export function snapped(from: Place, to: Place): Place {
  const turn = turnOf(from, to)
  const near = Math.round(turn / SNAP.every) * SNAP.every
  if (Math.abs(turn - near) > SNAP.within) return to
  const long = Math.hypot(to.x - from.x, to.y - from.y)
  const angle = (near * Math.PI) / 180
  return { x: from.x + long * Math.cos(angle), y: from.y + long * Math.sin(angle) }
}

/** A place of an oval. @param u, v in its radii along its own axes */
export function ovalPlace({ x, y, across, down, turn }: Oval, u: number, v: number): Place {
  const angle = (turn * Math.PI) / 180
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const [p, q] = [u * across, v * down]
  return { x: x + p * c - q * s, y: y + p * s + q * c }
}

/** A ring of an oval. @param share of its radii @param by from its middle, in its radii */
export const ovalAround = (oval: Oval, share: number, by: readonly [number, number] = [0, 0]): Place[] =>
  Array.from({ length: 72 }, (_, i) => {
    const t = (i / 72) * 2 * Math.PI
    return ovalPlace(oval, by[0] + share * Math.cos(t), by[1] + share * Math.sin(t))
  })

/** A place in radii of an oval along its own axes. */
export function inOval({ x, y, across, down, turn }: Oval, p: Place): { u: number; v: number } {
  const angle = (turn * Math.PI) / 180
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const [dx, dy] = [p.x - x, p.y - y]
  return { u: (dx * c + dy * s) / across, v: (dy * c - dx * s) / down }
}

/** Farthest that the inner ring's middle goes, a share of the way to where the rings touch; as masks have it. */
const SHIFT_MOST = 0.95

/** From an oval's middle to that of its inner ring, held within the oval. */
export function heldShift({
  softness,
  shift: [u, v],
}: Pick<ShapeOf<'oval'>, 'softness' | 'shift'>): [number, number] {
  const [far, most] = [Math.hypot(u, v), softness * SHIFT_MOST]
  return far > most ? [(u * most) / far, (v * most) / far] : [u, v]
}
