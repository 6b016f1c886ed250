import { apply, cbrt, type Triple } from '../math'
import { adaptation, D50, whiteXyz } from './chromaticity'
import type { RgbSpace } from './spaces'

/** CIE L*a*b* of XYZ under D50, white Y = 1 (CIE 15). */
export function labFromXyz(xyz: Triple): Triple {
  const white = whiteXyz(D50)
  const f = (t: number) => (t > 216 / 24389 ? cbrt(t) : ((24389 / 27) * t + 16) / 116)
  const [x, y, z] = xyz.map((v, i) => f(v / white[i]))
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)]
}

/** CIE L*a*b* (D50) of linear RGB, white adapted by Bradford. */
export const toLab = (space: RgbSpace, rgb: Triple): Triple =>
  labFromXyz(apply(adaptation(space.white, D50), apply(space.toXyz, rgb)))
