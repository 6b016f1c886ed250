import type { Place } from '../mend/place'

/** A straight piece of a way. */
export interface Piece {
  x: number
  y: number
  dx: number
  dy: number
  /** 1 over its squared length; 0 for a point. */
  per: number
  /** A pen's pressure at its beginning, and what that changes by; full where missing. */
  pressure?: readonly [number, number]
}

/** The pieces of a way. @param closed whether its end joins its beginning */
export function piecesAlong(places: readonly Place[], closed: boolean): Piece[] {
  const count = closed ? places.length : Math.max(places.length - 1, 1)
  return Array.from({ length: places.length === 0 ? 0 : count }, (_, k) => {
    const [a, b] = [places[k], places[(k + 1) % places.length]]
    const [dx, dy] = [b.x - a.x, b.y - a.y]
    const long = dx * dx + dy * dy
    const piece = { x: a.x, y: a.y, dx, dy, per: long > 0 ? 1 / long : 0 }
    const [p, q] = [a.pressure ?? 1, b.pressure ?? 1]
    return p < 1 || q < 1 ? { ...piece, pressure: [p, q - p] as const } : piece
  })
}

export interface Box {
  left: number
  top: number
  right: number
  bottom: number
}

const meets = ({ x, y, dx, dy }: Piece, { left, top, right, bottom }: Box, room: number): boolean =>
  Math.min(x, x + dx) <= right + room &&
  Math.max(x, x + dx) >= left - room &&
  Math.min(y, y + dy) <= bottom + room &&
  Math.max(y, y + dy) >= top - room

/** Those pieces that come near a box. */
export const piecesNear = (pieces: readonly Piece[], box: Box, room: number): Piece[] =>
  pieces.filter((p) => meets(p, box, room))

/** Those pieces that a line to the right of a place in a box may cross. */
export const piecesBeside = (pieces: readonly Piece[], { left, top, bottom }: Box): Piece[] =>
  pieces.filter(
    ({ x, y, dx, dy }) =>
      Math.max(x, x + dx) >= left && Math.min(y, y + dy) <= bottom && Math.max(y, y + dy) >= top,
  )

/**
 * Distance of a place from the nearest of some pieces.
 * @param radius where they are the way of a pen: what was pressed less is as much thinner, so as if it lay farther away
 */
export function distanceFrom(pieces: readonly Piece[], u: number, v: number, radius = 0): number {
  let nearest = Infinity
  for (const { x, y, dx, dy, per, pressure } of pieces) {
    const [p, q] = [u - x, v - y]
    const t = Math.min(Math.max((p * dx + q * dy) * per, 0), 1)
    const [e, f] = [p - t * dx, q - t * dy]
    let d = e * e + f * f
    if (pressure && radius > 0) d = (Math.sqrt(d) + radius * (1 - pressure[0] - t * pressure[1])) ** 2
    if (d < nearest) nearest = d
  }
  return Math.sqrt(nearest)
}

/** How often a closed way goes around a place, by the pieces beside it. */
export function turnsAround(pieces: readonly Piece[], u: number, v: number): number {
  let around = 0
  for (const { x, y, dx, dy } of pieces) {
    const end = y + dy
    if (y <= v === end <= v) continue
    if (x + ((v - y) / dy) * dx > u) around += end > y ? 1 : -1
  }
  return around
}
