import { OBSERVER, integrate, WAVELENGTHS, type Spectrum } from './observer'

/** Mean and two characteristic vectors of daylight (CIE 15). */
const S0 = [
  63.4, 65.8, 94.8, 104.8, 105.9, 96.8, 113.9, 125.6, 125.5, 121.3, 121.3, 113.5, 113.1, 110.8, 106.5, 108.8,
  105.3, 104.4, 100, 96, 95.1, 89.1, 90.5, 90.3, 88.4, 84, 85.1, 81.9, 82.6, 84.9, 81.3, 71.9, 74.3, 76.4,
  63.3, 71.7,
]
const S1 = [
  38.5, 35, 43.4, 46.3, 43.9, 37.1, 36.7, 35.9, 32.6, 27.9, 24.3, 20.1, 16.2, 13.2, 8.6, 6.1, 4.2, 1.9, 0,
  -1.6, -3.5, -3.5, -5.8, -7.2, -8.6, -9.5, -10.9, -10.7, -12, -14, -13.6, -12, -13.3, -12.9, -10.6, -11.6,
]
const S2 = [
  3, 1.2, -1.1, -0.5, -0.7, -1.2, -2.6, -2.9, -2.8, -2.6, -2.6, -1.8, -1.5, -1.3, -1.2, -1, -0.5, -0.3, 0,
  0.2, 0.5, 2.1, 3.2, 4.1, 4.7, 5.1, 6.7, 7.3, 8.6, 9.8, 10.2, 8.3, 9.6, 8.5, 7, 7.6,
]

/** Scaled so that a white surface under it has Y = 1. */
function normalised(light: Spectrum): Spectrum {
  const y = integrate(light, OBSERVER[1])
  return light.map((v) => v / y)
}

/** Daylight of a correlated colour temperature, 4000 to 25000 K (CIE 15). */
export function daylight(kelvin: number): Spectrum {
  const t = 1000 / kelvin
  const x =
    kelvin <= 7000
      ? 0.244063 + 0.09911 * t + 2.9678 * t * t - 4.607 * t * t * t
      : 0.23704 + 0.24748 * t + 1.9018 * t * t - 2.0064 * t * t * t
  const y = -3 * x * x + 2.87 * x - 0.275
  const m = 0.0241 + 0.2562 * x - 0.7341 * y
  const m1 = (-1.3515 - 1.7703 * x + 5.9114 * y) / m
  const m2 = (0.03 - 31.4424 * x + 30.0717 * y) / m
  return normalised(S0.map((s, i) => s + m1 * S1[i] + m2 * S2[i]))
}

/** A glowing body (Planck). */
export const glowing = (kelvin: number): Spectrum =>
  normalised(WAVELENGTHS.map((nm) => Math.pow(nm / 560, -5) / (Math.exp(1.4388e7 / (nm * kelvin)) - 1)))

/** A bell around a wavelength, its two sides of different width. */
export const bell = (nm: number, centre: number, left: number, right = left): number =>
  Math.exp(-0.5 * ((nm - centre) / (nm < centre ? left : right)) ** 2)

/** A tube with three phosphors: narrow bands on a weak ground. */
const fluorescent = normalised(
  WAVELENGTHS.map(
    (nm) =>
      0.1 * bell(nm, 560, 90) +
      0.55 * bell(nm, 437, 7) +
      0.36 * bell(nm, 488, 11) +
      1.25 * bell(nm, 545, 8) +
      0.3 * bell(nm, 585, 11) +
      1.15 * bell(nm, 611, 9) +
      0.12 * bell(nm, 706, 10),
  ),
)

/** A white diode: a blue one that makes a phosphor shine. */
const diode = normalised(WAVELENGTHS.map((nm) => 0.85 * bell(nm, 452, 10, 13) + bell(nm, 570, 42, 66)))

/** The lamps that the chart is photographed under. */
export const LAMPS = {
  tungsten: glowing(2900),
  daylight50: daylight(5003),
  daylight65: daylight(6504),
  fluorescent,
  diode,
} as const
export type LampName = keyof typeof LAMPS
