/**
 * Signed distances to simple solids, negative inside, in metres (Hart 1996, sphere tracing).
 * Each takes the point already moved into the solid's own frame.
 */
export const sphere = (x: number, y: number, z: number, r: number) => Math.sqrt(x * x + y * y + z * z) - r

export function box(x: number, y: number, z: number, hx: number, hy: number, hz: number): number {
  const dx = Math.abs(x) - hx
  const dy = Math.abs(y) - hy
  const dz = Math.abs(z) - hz
  const ox = dx > 0 ? dx : 0
  const oy = dy > 0 ? dy : 0
  const oz = dz > 0 ? dz : 0
  return Math.sqrt(ox * ox + oy * oy + oz * oz) + Math.min(Math.max(dx, dy, dz), 0)
}

/** Upright cylinder around the y axis. */
export function cylinder(x: number, y: number, z: number, r: number, h: number): number {
  const dx = Math.sqrt(x * x + z * z) - r
  const dy = Math.abs(y) - h
  const ox = dx > 0 ? dx : 0
  const oy = dy > 0 ? dy : 0
  return Math.min(Math.max(dx, dy), 0) + Math.sqrt(ox * ox + oy * oy)
}

/** Eight-sided tapering tower: radius r0 at y = 0 to r1 at y = h; a lower bound of the distance. */
export function tower(x: number, y: number, z: number, r0: number, r1: number, h: number): number {
  const ax = Math.abs(x)
  const az = Math.abs(z)
  const d8 = (ax + az) * Math.SQRT1_2
  const apothem = Math.max(ax, az, d8)
  const r = r0 + (r1 - r0) * Math.min(Math.max(y / h, 0), 1)
  const side = (apothem - r) * 0.96
  const top = Math.max(y - h, -y)
  return Math.max(side, top)
}

/** Nearest image of `x` in a row of copies `step` apart, numbered from..to. */
export function repeat(x: number, step: number, from: number, to: number): number {
  const i = Math.min(Math.max(Math.round(x / step), from), to)
  return x - i * step
}
