import type { Point } from '../math'

/** A rectangle by its centre and sides. */
export interface Box {
  x: number
  y: number
  width: number
  height: number
}

/** Whether a place lies in a polygon, by the parity of the sides to its right. */
export function contains(polygon: readonly Point[], x: number, y: number): boolean {
  let odd = false
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
    const [xi, yi] = polygon[i]
    const [xj, yj] = polygon[j]
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) odd = !odd
  }
  return odd
}

/** Whether a box lies wholly in a polygon whose corners are close to one another. */
export function holdsBox(polygon: readonly Point[], { x, y, width, height }: Box): boolean {
  const w = width / 2
  const h = height / 2
  for (const [sx, sy] of [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ])
    if (!contains(polygon, x + sx * w, y + sy * h)) return false
  return !polygon.some(([px, py]) => Math.abs(px - x) < w && Math.abs(py - y) < h)
}

/**
 * How many times a box about its centre may be as large and still lie in a polygon; 0 where its centre does not.
 * @param least known not to be of interest below it
 */
export function roomFor(polygon: readonly Point[], box: Box, most: number, least = 0): number {
  const at = (k: number) => ({ ...box, width: box.width * k, height: box.height * k })
  if (least > 0 && !holdsBox(polygon, at(least))) return 0
  if (holdsBox(polygon, at(most))) return most
  if (!contains(polygon, box.x, box.y)) return 0
  let [low, high] = [least, most]
  for (let i = 0; i < 18; i++) {
    const k = (low + high) / 2
    if (holdsBox(polygon, at(k))) low = k
    else high = k
  }
  return low
}

/** The largest box of a shape in a polygon, at most `most` times as large: by steps of its centre. */
export function largestBox(polygon: readonly Point[], shape: Box, most = 1): Box {
  let best = { ...shape }
  let room = roomFor(polygon, best, most)
  const side = Math.max(shape.width, shape.height)
  for (let step = side / 8; step > side / 2000 && room < most;) {
    let moved = false
    for (const [dx, dy] of WAYS) {
      const next = { ...best, x: best.x + dx * step, y: best.y + dy * step }
      const k = roomFor(polygon, next, most, room * 1.0005)
      if (k > room) {
        best = next
        room = k
        moved = true
      }
    }
    if (!moved) step /= 2
  }
  return { ...best, width: shape.width * room, height: shape.height * room }
}

const WAYS = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
] as const

/** The box around a polygon. */
export function boundsOf(polygon: readonly Point[]): Box {
  const xs = polygon.map((p) => p[0])
  const ys = polygon.map((p) => p[1])
  const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)]
  return { x: (left + right) / 2, y: (top + bottom) / 2, width: right - left, height: bottom - top }
}
