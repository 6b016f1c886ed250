import { apply, cbrt, type Triple } from '../math'
import { adaptation, D50, whiteXyz } from './chromaticity'
import type { RgbSpace } from './spaces'

/** CIE L*a*b* (D50) of linear RGB, white adapted by Bradford (CIE 15). */
export function toLab(space: RgbSpace, rgb: Triple): Triple {
  const white = whiteXyz(D50)
  const xyz = apply(adaptation(space.white, D50), apply(space.toXyz, rgb))
  const f = (t: number) => (t > 216 / 24389 ? cbrt(t) : ((24389 / 27) * t + 16) / 116)
  const [x, y, z] = xyz.map((v, i) => f(v / white[i]))
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)]
}
