import { exp2, log2 } from '../math'
import type { CameraColour } from './camera'
import { xyFromNeutral } from './camera'
import { kelvinFromXy } from './temperature'
import type { Triple } from '../math'

/** A table by hue, saturation and value; each entry turns the hue (degrees) and multiplies saturation and value. */
export interface HsvTable {
  hues: number
  saturations: number
  levels: number
  /** Value outermost, then hue, then saturation; three numbers an entry. */
  values: Float32Array
  /** The value axis runs over sRGB-encoded values instead of light. */
  encoded: boolean
}

/** The maker's own rendering as a file carries it (DNG 1.7, chapter 6). All tables work in linear ROMM RGB. */
export interface FileProfile {
  name?: string
  /** Corrections of hue and saturation under one or two lights. */
  maps: readonly { kelvin: number; map: HsvTable }[]
  look?: HsvTable
  /** Points from (0, 0) to (1, 1), a smooth curve through them. */
  toneCurve?: readonly (readonly [number, number])[]
}

/** The map for the light that `neutral` speaks of: between the two in inverse temperature, as with matrices. */
export function hueSatMapFor(
  profile: FileProfile,
  camera: CameraColour,
  neutral: Triple,
): HsvTable | undefined {
  const [a, b] = [...profile.maps].sort((p, q) => p.kelvin - q.kelvin)
  if (!a || !b || a.map.values.length !== b.map.values.length || a.kelvin === b.kelvin) return (b ?? a)?.map
  const { kelvin } = kelvinFromXy(xyFromNeutral(camera, neutral))
  const t = Math.min(Math.max((1 / kelvin - 1 / a.kelvin) / (1 / b.kelvin - 1 / a.kelvin), 0), 1)
  return { ...a.map, values: a.map.values.map((v, i) => v + (b.map.values[i] - v) * t) }
}

/** A table's entries as the kernel wants them: hue in sixths of a turn. */
export const hsvBlock = (t: HsvTable): Float32Array => t.values.map((v, i) => (i % 3 === 0 ? v / 60 : v))

const STEPS = 4096
const over = (f: (x: number) => number) => Array.from({ length: STEPS + 1 }, (_, i) => f(i / STEPS))
const power = (x: number, p: number) => (x <= 0 ? 0 : exp2(p * log2(x)))

/** sRGB encoding and its inverse over 0..1, one after the other (IEC 61966-2-1). */
export const encodingTables = (): number[] => [
  ...over((x) => (x <= 0.0031308 ? x * 12.92 : 1.055 * power(x, 1 / 2.4) - 0.055)),
  ...over((x) => (x <= 0.04045 ? x / 12.92 : power((x + 0.055) / 1.055, 2.4))),
]

/** The natural cubic spline through a curve's points, over 0..1, held to 0..1. */
export function toneTable(points: readonly (readonly [number, number])[]): number[] {
  const n = points.length
  const x = points.map((p) => p[0])
  const y = points.map((p) => p[1])
  const second = new Array<number>(n).fill(0)
  const u = new Array<number>(n).fill(0)
  for (let i = 1; i < n - 1; i++) {
    const s = (x[i] - x[i - 1]) / (x[i + 1] - x[i - 1])
    const p = s * second[i - 1] + 2
    second[i] = (s - 1) / p
    const slope = (y[i + 1] - y[i]) / (x[i + 1] - x[i]) - (y[i] - y[i - 1]) / (x[i] - x[i - 1])
    u[i] = ((6 * slope) / (x[i + 1] - x[i - 1]) - s * u[i - 1]) / p
  }
  for (let i = n - 2; i >= 0; i--) second[i] = second[i] * second[i + 1] + u[i]
  let k = 0
  return over((t) => {
    while (k < n - 2 && t > x[k + 1]) k++
    const h = x[k + 1] - x[k]
    const a = (x[k + 1] - t) / h
    const b = (t - x[k]) / h
    const v =
      t <= x[0]
        ? y[0]
        : t >= x[n - 1]
          ? y[n - 1]
          : a * y[k] +
            b * y[k + 1] +
            (((a * a * a - a) * second[k] + (b * b * b - b) * second[k + 1]) * h * h) / 6
    return Math.min(Math.max(v, 0), 1)
  })
}
