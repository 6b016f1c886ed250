import { atan2, degrees, multiply, radians, sinCos, type Matrix3, type Triple } from '../math'

const about = (axis: 0 | 1 | 2, angle: number): Matrix3 => {
  const [s, c] = sinCos(angle)
  if (axis === 0) return [1, 0, 0, 0, c, -s, 0, s, c]
  if (axis === 1) return [c, 0, s, 0, 1, 0, -s, 0, c]
  return [c, -s, 0, s, c, 0, 0, 0, 1]
}

export const transpose = (m: Matrix3): Matrix3 => [m[0], m[3], m[6], m[1], m[4], m[7], m[2], m[5], m[8]]

/**
 * Turns directions as the camera saw them (x right, y down, z into the scene) into those of a camera that was turned:
 * by roll, which turns the picture clockwise, then by swing to the right, then by tilt up; degrees.
 */
export function turnedCamera({ tilt, swing, roll }: { tilt: number; swing: number; roll: number }): Matrix3 {
  return multiply(about(0, radians(-tilt)), multiply(about(1, radians(-swing)), about(2, radians(roll))))
}

/** Tilt, swing and roll, in degrees, that make a rotation. */
export function anglesOf(m: Matrix3): { tilt: number; swing: number; roll: number } {
  // m = X(-t) Y(-s) Z(r); its first row is that of Y(-s) Z(r)
  const swing = atan2(-m[2], Math.sqrt(m[0] * m[0] + m[1] * m[1]))
  const roll = atan2(-m[1], m[0])
  const tilt = atan2(m[5], m[8])
  return { tilt: degrees(tilt), swing: degrees(swing), roll: degrees(roll) }
}

export const cross = (a: Triple, b: Triple): Triple => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
]
export const dot = (a: Triple, b: Triple): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
export const unit = (a: Triple): Triple => {
  const n = Math.sqrt(dot(a, a)) || 1
  return [a[0] / n, a[1] / n, a[2] / n]
}
