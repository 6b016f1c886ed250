import { cbrt, chain, invert, multiply, apply, type Matrix3, type Triple } from '../math'
import type { RgbSpace } from './spaces'

/** Oklab (Ottosson 2020): XYZ (D65) to cone responses, and their cube roots to L, a, b. */
const XYZ_TO_LMS: Matrix3 = [
  0.8189330101, 0.3618667424, -0.1288597137, 0.0329845436, 0.9293118715, 0.0361456387, 0.0482003018,
  0.2643662691, 0.633851707,
]
export const ROOTS_TO_LAB: Matrix3 = [
  0.2104542553, 0.793617785, -0.0040720468, 1.9779984951, -2.428592205, 0.4505937099, 0.0259040371,
  0.7827717662, -0.808675766,
]
export const LAB_TO_ROOTS = invert(ROOTS_TO_LAB)

/** Linear RGB to cone responses, rows scaled so that greys have three equal roots and no chroma at all. */
export function rgbToLms(space: RgbSpace): Matrix3 {
  const m = multiply(XYZ_TO_LMS, space.toXyz)
  return m.map((v, i) => {
    const row = Math.floor(i / 3) * 3
    return v / (m[row] + m[row + 1] + m[row + 2])
  }) as unknown as Matrix3
}

/** Linear RGB to Oklab. */
export function toOklab(space: RgbSpace, rgb: Triple): Triple {
  const [l, m, s] = apply(rgbToLms(space), rgb)
  return apply(ROOTS_TO_LAB, [cbrt(l), cbrt(m), cbrt(s)])
}

/**
 * The 36 numbers that a kernel needs to go from linear RGB to Oklab and back into (another) linear RGB:
 * RGB -> LMS, roots -> Lab, Lab -> roots, LMS -> RGB.
 */
export function oklabBlock(from: RgbSpace, to: RgbSpace, fromTo: Matrix3): number[] {
  const lms = rgbToLms(from)
  const back = from === to ? invert(lms) : chain(fromTo, invert(lms))
  return [...lms, ...ROOTS_TO_LAB, ...LAB_TO_ROOTS, ...back]
}
