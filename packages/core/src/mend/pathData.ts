import { numbersIn, putNumber } from './numbers'
import type { Place } from './place'

/** Units to a long edge: a hundredth of a pixel in 10,000 of them. */
const UNITS = 1 << 20
/** Most places of one path. */
export const MOST_PLACES = 200_000
/** Farthest that a place lies from the middle of its patch, long edges. */
const FARTHEST = 4

/**
 * A path as bulk data: after a version byte the places, each as its distance from the one before in whole
 * units.
 * @param places long edges from the middle of the patch
 */
export function encodePath(places: readonly Place[]): Uint8Array {
  const out = [1]
  let [x, y] = [0, 0]
  for (const place of places) {
    const [u, v] = [Math.round(place.x * UNITS), Math.round(place.y * UNITS)]
    putNumber(out, u - x)
    putNumber(out, v - y)
    ;[x, y] = [u, v]
  }
  return Uint8Array.from(out)
}

const damaged = () => new RangeError('This is not a path.')

/** @throws RangeError where the bytes are no path */
export function decodePath(bytes: Uint8Array): Place[] {
  if (bytes[0] !== 1) throw damaged()
  const numbers = numbersIn(bytes, 1, damaged)
  if (numbers.length === 0 || numbers.length % 2 === 1 || numbers.length > 2 * MOST_PLACES) throw damaged()
  const out: Place[] = []
  let [x, y] = [0, 0]
  for (let i = 0; i < numbers.length; i += 2) {
    x += numbers[i]
    y += numbers[i + 1]
    if (Math.max(Math.abs(x), Math.abs(y)) > FARTHEST * UNITS) throw damaged()
    out.push({ x: x / UNITS, y: y / UNITS })
  }
  return out
}

/** A path without the places that lie within a tolerance of the line through the others (Douglas and Peucker 1973). */
export function simplified(places: readonly Place[], tolerance: number): Place[] {
  const keep = new Uint8Array(places.length)
  keep[0] = keep[places.length - 1] = 1
  const parts: [number, number][] = [[0, places.length - 1]]
  for (let part = parts.pop(); part; part = parts.pop()) {
    const [from, to] = part
    let [far, most] = [-1, tolerance]
    for (let i = from + 1; i < to; i++) {
      const d = distanceToLine(places[i], places[from], places[to])
      if (d > most) [far, most] = [i, d]
    }
    if (far < 0) continue
    keep[far] = 1
    parts.push([from, far], [far, to])
  }
  return places.filter((_, i) => keep[i])
}

/** Distance of a place from a line between two others. */
function distanceToLine(p: Place, a: Place, b: Place): number {
  const [dx, dy] = [b.x - a.x, b.y - a.y]
  const long = dx * dx + dy * dy
  const t = long === 0 ? 0 : Math.min(Math.max(((p.x - a.x) * dx + (p.y - a.y) * dy) / long, 0), 1)
  const [u, v] = [p.x - a.x - t * dx, p.y - a.y - t * dy]
  return Math.sqrt(u * u + v * v)
}
