import { add, dot, scale, type Vec3 } from '../render/vec'

/** Where a ray meets a flat rectangle: distance along it, and place across and up the rectangle in metres. */
export interface Hit {
  t: number
  u: number
  v: number
}

/** A rectangle in space: its centre, two unit vectors along it, half its sizes. */
export interface Rectangle {
  centre: Vec3
  across: Vec3
  up: Vec3
  half: readonly [number, number]
}

export const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
]

export function meet(r: Rectangle, o: Vec3, d: Vec3): Hit | undefined {
  const n = cross(r.across, r.up)
  const slope = dot(d, n)
  const t = (dot(r.centre, n) - dot(o, n)) / slope
  if (!(t > 1e-4)) return undefined
  const p = add(add(o, scale(d, t)), scale(r.centre, -1))
  const u = dot(p, r.across)
  const v = dot(p, r.up)
  return Math.abs(u) <= r.half[0] && Math.abs(v) <= r.half[1] ? { t, u, v } : undefined
}

/** Nearest meeting of a ray with a sphere. */
export function meetSphere(centre: Vec3, radius: number, o: Vec3, d: Vec3): number | undefined {
  const p = add(o, scale(centre, -1))
  const b = dot(p, d)
  const h = b * b - dot(p, p) + radius * radius
  if (h < 0) return undefined
  const t = -b - Math.sqrt(h)
  return t > 1e-4 ? t : undefined
}

export const mirrored = (d: Vec3, n: Vec3): Vec3 => add(d, scale(n, -2 * dot(d, n)))
