import { apply, chain, diagonal, invert, keepWhite, multiply, type Matrix3, type Triple } from '../math'

/** CIE 1931 chromaticity. */
export type Xy = readonly [number, number]

export const D50: Xy = [0.3457, 0.3585]
export const D65: Xy = [0.3127, 0.329]

/** XYZ of a white of luminance 1. */
export const whiteXyz = ([x, y]: Xy): Triple => [x / y, 1, (1 - x - y) / y]

export const xyOf = ([X, Y, Z]: Triple): Xy => [X / (X + Y + Z), Y / (X + Y + Z)]

/** Cone responses of the Bradford transform (Lam 1985, as in ICC.1 annex E). */
const BRADFORD: Matrix3 = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296]

/** Linear Bradford adaptation of XYZ from one white to another. */
export function adaptation(from: Xy, to: Xy): Matrix3 {
  if (from[0] === to[0] && from[1] === to[1]) return [1, 0, 0, 0, 1, 0, 0, 0, 1]
  const a = apply(BRADFORD, whiteXyz(from))
  const b = apply(BRADFORD, whiteXyz(to))
  return chain(invert(BRADFORD), diagonal([b[0] / a[0], b[1] / a[1], b[2] / a[2]]), BRADFORD)
}

/** Linear RGB of the given primaries to XYZ, white at luminance 1. */
export function rgbToXyz(primaries: readonly [Xy, Xy, Xy], white: Xy): Matrix3 {
  const [r, g, b] = primaries.map(whiteXyz)
  const columns: Matrix3 = [r[0], g[0], b[0], r[1], g[1], b[1], r[2], g[2], b[2]]
  return multiply(columns, diagonal(apply(invert(columns), whiteXyz(white))))
}

/** Linear RGB of one space to another's, whites adapted and kept exactly. */
export function between(from: { toXyz: Matrix3; white: Xy }, to: { toXyz: Matrix3; white: Xy }): Matrix3 {
  return keepWhite(chain(invert(to.toXyz), adaptation(from.white, to.white), from.toXyz))
}
