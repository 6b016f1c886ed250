import type { Xy } from './chromaticity'

/** Range in which the locus below holds, and which the controls offer. */
export const KELVIN = { min: 2000, max: 15000 } as const
export const TINT = { min: -100, max: 100 } as const

/**
 * Tint 1 is this far from the locus in CIE 1960 uv. As with Duv, positive is a light above the locus, greener
 * than a black body; correcting for it turns the picture toward magenta.
 */
const UV_PER_TINT = 1 / 3000

interface Locus {
  u: number
  v: number
  du: number
  dv: number
}

/** Planckian locus in CIE 1960 uv and its direction (Krystek 1985, 1000 to 15000 K). */
function locus(T: number): Locus {
  const un = 0.860117757 + 1.54118254e-4 * T + 1.28641212e-7 * T * T
  const ud = 1 + 8.42420235e-4 * T + 7.08145163e-7 * T * T
  const vn = 0.317398726 + 4.22806245e-5 * T + 4.20481691e-8 * T * T
  const vd = 1 - 2.89741816e-5 * T + 1.61456053e-7 * T * T
  const dun = 1.54118254e-4 + 2.57282424e-7 * T
  const dud = 8.42420235e-4 + 1.416290326e-6 * T
  const dvn = 4.22806245e-5 + 8.40963382e-8 * T
  const dvd = -2.89741816e-5 + 3.22912106e-7 * T
  return {
    u: un / ud,
    v: vn / vd,
    du: (dun * ud - un * dud) / (ud * ud),
    dv: (dvn * vd - vn * dvd) / (vd * vd),
  }
}

/** Unit normal of the locus, toward green. */
function normal({ du, dv }: Locus): readonly [number, number] {
  const length = Math.sqrt(du * du + dv * dv)
  const sign = du > 0 ? 1 : -1
  return [(-dv * sign) / length, (du * sign) / length]
}

/** Chromaticity of a light by correlated colour temperature and distance from the Planckian locus. */
export function xyFromKelvin(kelvin: number, tint: number): Xy {
  const p = locus(kelvin)
  const [nu, nv] = normal(p)
  const u = p.u + nu * tint * UV_PER_TINT
  const v = p.v + nv * tint * UV_PER_TINT
  const d = 2 * u - 8 * v + 4
  return [(3 * u) / d, (2 * v) / d]
}

/**
 * Correlated colour temperature and tint of a chromaticity, the inverse of xyFromKelvin within its range; the
 * temperature is held to the locus' range, where the tint is the distance to its end.
 */
export function kelvinFromXy([x, y]: Xy): { kelvin: number; tint: number } {
  const d = -2 * x + 12 * y + 3
  const u = (4 * x) / d
  const v = (6 * y) / d
  // along the isotherm the vector to the locus is at right angles to its direction; halve in mireds
  const ahead = (T: number) => {
    const p = locus(T)
    return (u - p.u) * p.du + (v - p.v) * p.dv
  }
  let low = 1e6 / KELVIN.max
  let high = 1e6 / 1500
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2
    if (ahead(1e6 / middle) > 0) high = middle
    else low = middle
  }
  const kelvin = 1e6 / ((low + high) / 2)
  const p = locus(kelvin)
  const [nu, nv] = normal(p)
  return { kelvin, tint: ((u - p.u) * nu + (v - p.v) * nv) / UV_PER_TINT }
}
