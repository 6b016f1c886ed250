import { CURVE_GAP, CURVE_POINTS } from '@dunkelkammer/core'

export type Points = readonly (readonly [number, number])[]
export type CurvePointList = [number, number][]

const copy = (points: Points): CurvePointList => points.map(([x, y]) => [x, y])
const held = (v: number, low: number, high: number) => Math.min(Math.max(v, low), high)
const round = (v: number) => Math.round(v * 10000) / 10000

/** A point moved, between its neighbours; the others stay. */
export function movePoint(points: Points, i: number, x: number, y: number): CurvePointList {
  const out = copy(points)
  const low = i > 0 ? out[i - 1][0] + CURVE_GAP : 0
  const high = i < out.length - 1 ? out[i + 1][0] - CURVE_GAP : 1
  out[i] = [round(held(x, low, high)), round(held(y, 0, 1))]
  return out
}

const nearest = (points: Points, away: (p: Points[number]) => number): number =>
  points.reduce((best, p, i) => (away(p) < away(points[best]) ? i : best), 0)

function inserted(points: Points, index: number, x: number, y: number) {
  const out = copy(points)
  out.splice(index, 0, [round(x), round(held(y, 0, 1))])
  return { points: out, index }
}

/** The point at a place of the plot, by both of its sides. */
export function pointNear(points: Points, x: number, y: number, near: number): number | undefined {
  const away = ([px, py]: Points[number]) => Math.hypot(px - x, py - y)
  const index = nearest(points, away)
  return away(points[index]) < near ? index : undefined
}

/** Another point, or nothing where there is no room for one. */
export function withPoint(
  points: Points,
  x: number,
  y: number,
): { points: CurvePointList; index: number } | undefined {
  const index = points.findIndex((p) => p[0] > x)
  const between = index > 0 && x - points[index - 1][0] >= CURVE_GAP && points[index][0] - x >= CURVE_GAP
  if (!between || points.length >= CURVE_POINTS) return undefined
  return inserted(points, index, x, y)
}

/** The point near a place of the axis, or a new one there on the curve as it runs. */
export function pointAt(
  points: Points,
  x: number,
  y: number,
  near = 0.03,
): { points: CurvePointList; index: number } | undefined {
  const close = nearest(points, ([px]) => Math.abs(px - x))
  if (Math.abs(points[close][0] - x) < near) return { points: copy(points), index: close }
  if (points.length >= CURVE_POINTS) return undefined
  const index = points.findIndex((p) => p[0] > x)
  // beyond an end the end itself is taken
  if (index <= 0) return { points: copy(points), index: index === 0 ? 0 : points.length - 1 }
  return inserted(points, index, x, y)
}

/** A point less; the ends stay. */
export function withoutPoint(points: Points, i: number): CurvePointList {
  return i <= 0 || i >= points.length - 1 ? copy(points) : copy(points).filter((_, k) => k !== i)
}
