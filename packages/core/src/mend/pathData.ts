import { numbersIn, putNumber } from './numbers'
import type { Place } from './place'

/** Units to a long edge: a hundredth of a pixel in 10,000 of them. */
const UNITS = 1 << 20
/** Most places of one path. */
export const MOST_PLACES = 200_000
/** Steps of a pen's pressure. */
const PRESSURES = 255
/** Farthest that a place lies from the middle of its patch, long edges. */
const FARTHEST = 4

/** The first byte of a path, by whether a pen's pressure goes along. */
const VERSION = { plain: 1, pressed: 2 } as const

/**
 * A path as bulk data: after a version byte the places, each as its distance from the one before in whole
 * units; where a pen's pressure goes along, with the change of that.
 * @param places long edges from the middle of the patch
 */
export function encodePath(places: readonly Place[]): Uint8Array {
  const pressed = places.some(({ pressure = 1 }) => pressure < 1)
  const out: number[] = [pressed ? VERSION.pressed : VERSION.plain]
  let [x, y, p] = [0, 0, PRESSURES]
  for (const place of places) {
    const [u, v] = [Math.round(place.x * UNITS), Math.round(place.y * UNITS)]
    putNumber(out, u - x)
    putNumber(out, v - y)
    ;[x, y] = [u, v]
    if (!pressed) continue
    const q = Math.round((place.pressure ?? 1) * PRESSURES)
    putNumber(out, q - p)
    p = q
  }
  return Uint8Array.from(out)
}

const damaged = () => new RangeError('This is not a path.')

/** @throws RangeError where the bytes are no path */
export function decodePath(bytes: Uint8Array): Place[] {
  const pressed = bytes[0] === VERSION.pressed
  if (!pressed && bytes[0] !== VERSION.plain) throw damaged()
  const numbers = numbersIn(bytes, 1, damaged)
  const each = pressed ? 3 : 2
  if (numbers.length === 0 || numbers.length % each > 0 || numbers.length > each * MOST_PLACES)
    throw damaged()
  const out: Place[] = []
  let [x, y, p] = [0, 0, PRESSURES]
  for (let i = 0; i < numbers.length; i += each) {
    x += numbers[i]
    y += numbers[i + 1]
    if (Math.max(Math.abs(x), Math.abs(y)) > FARTHEST * UNITS) throw damaged()
    const place = { x: x / UNITS, y: y / UNITS }
    if (pressed) p += numbers[i + 2]
    if (p < 0 || p > PRESSURES) throw damaged()
    out.push(pressed ? { ...place, pressure: p / PRESSURES } : place)
  }
  return out
}

/** How far a pen's pressure may be off where places are left out. */
const PRESSURE_TOLERANCE = 0.04

/**
 * A path without the places that lie within a tolerance of the line through the others (Douglas and Peucker 1973),
 * and whose pressure does.
 */
export function simplified(places: readonly Place[], tolerance: number): Place[] {
  const keep = new Uint8Array(places.length)
  keep[0] = keep[places.length - 1] = 1
  const parts: [number, number][] = [[0, places.length - 1]]
  for (let part = parts.pop(); part; part = parts.pop()) {
    const [from, to] = part
    let [far, most] = [-1, tolerance]
    for (let i = from + 1; i < to; i++) {
      const d = Math.max(
        distanceToLine(places[i], places[from], places[to]),
        (pressureOff(places, i, from, to) / PRESSURE_TOLERANCE) * tolerance,
      )
      if (d > most) [far, most] = [i, d]
    }
    if (far < 0) continue
    keep[far] = 1
    parts.push([from, far], [far, to])
  }
  return places.filter((_, i) => keep[i])
}

/** How far the pressure at a place is from that between two others. */
function pressureOff(places: readonly Place[], i: number, from: number, to: number): number {
  const at = (k: number) => places[k].pressure ?? 1
  const share = (i - from) / (to - from)
  return Math.abs(at(i) - at(from) - share * (at(to) - at(from)))
}

/** Distance of a place from a line between two others. */
function distanceToLine(p: Place, a: Place, b: Place): number {
  const [dx, dy] = [b.x - a.x, b.y - a.y]
  const long = dx * dx + dy * dy
  const t = long === 0 ? 0 : Math.min(Math.max(((p.x - a.x) * dx + (p.y - a.y) * dy) / long, 0), 1)
  const [u, v] = [p.x - a.x - t * dx, p.y - a.y - t * dy]
  return Math.sqrt(u * u + v * v)
}
