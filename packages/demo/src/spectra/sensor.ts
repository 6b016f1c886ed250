import { integrate, times, xyzOf, WAVELENGTHS, type Spectrum } from './observer'
import { bell, daylight } from './lamps'
import { invert, multiply, working, type Matrix3, type Triple } from '@dunkelkammer/core'

/** Sensitivity of the three kinds of photosites, the blocking of the cover glass included. */
export type SensorCurves = readonly [Spectrum, Spectrum, Spectrum]

const glass = (nm: number) => (1 / (1 + Math.exp((nm - 686) / 9))) * (1 / (1 + Math.exp((402 - nm) / 6)))
const curve = (f: (nm: number) => number): Spectrum => WAVELENGTHS.map((nm) => f(nm) * glass(nm))

/** Curves of our own: broad, overlapping, a little leaking; no mixture of them is the eye's. */
export const veldromCurves: SensorCurves = [
  curve((nm) => 0.74 * bell(nm, 596, 31, 52) + 0.035 * bell(nm, 425, 22) + 0.03 * bell(nm, 520, 40)),
  curve((nm) => bell(nm, 534, 40, 41) + 0.05 * bell(nm, 620, 40) + 0.04 * bell(nm, 450, 30)),
  curve((nm) => 0.86 * bell(nm, 456, 27, 32) + 0.03 * bell(nm, 560, 40)),
]

/** The sensor's three signals of a light. */
export const signalsOf = (curves: SensorCurves, light: Spectrum): Triple => [
  integrate(curves[0], light),
  integrate(curves[1], light),
  integrate(curves[2], light),
]

/**
 * Spectra of the scenes' three primaries (scene-linear Rec. 2020): mixtures of daylight let through three smooth
 * filters, such that the eye's colour of each is exactly that of the primary.
 */
function primarySpectra(): readonly Spectrum[] {
  const white = daylight(6504)
  const u = WAVELENGTHS.map((_, i) => (i + 0.5) / WAVELENGTHS.length)
  const filters = [0, 1, 2].map((k) =>
    times(
      white,
      u.map((v) => Math.cos(Math.PI * k * v)),
    ),
  )
  const columns = filters.map(xyzOf)
  const toXyz = [0, 1, 2].flatMap((row) => columns.map((c) => c[row])) as unknown as Matrix3
  const mixture = multiply(invert(toXyz), working.toXyz)
  return [0, 1, 2].map((p) =>
    WAVELENGTHS.map((_, i) => filters.reduce((sum, f, k) => sum + f[i] * mixture[k * 3 + p], 0)),
  )
}

/** Rec. 2020 radiance to sensor signals, by way of spectra; green of white is 1. */
export function sceneResponse(curves: SensorCurves): Matrix3 {
  const columns = primarySpectra().map((s) => signalsOf(curves, s))
  const white = columns.reduce((sum, c) => sum + c[1], 0)
  return [0, 1, 2].flatMap((row) => columns.map((c) => c[row] / white)) as unknown as Matrix3
}
