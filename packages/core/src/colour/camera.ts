import {
  apply,
  chain,
  diagonal,
  identity,
  invert,
  keepWhite,
  lerp,
  multiply,
  type Matrix3,
  type Triple,
} from '../math'
import { adaptation, D50, D65, xyOf, whiteXyz, type Xy } from './chromaticity'
import { kelvinFromXy } from './temperature'
import { working } from './spaces'

/** One calibration of a camera's colours, under one light (DNG 1.7, chapter 6). */
export interface Calibration {
  kelvin: number
  /** XYZ to camera. */
  colorMatrix: Matrix3
  /** White-balanced camera to XYZ (D50), where the maker gives it. */
  forwardMatrix?: Matrix3
  /** This very camera against the reference one. */
  cameraCalibration?: Matrix3
}

/** What a file says of its camera's colours. */
export interface CameraColour {
  calibrations: readonly Calibration[]
  analogBalance: Triple
  /** Camera response to what was taken for neutral, largest 1. */
  asShotNeutral: Triple
}

/** Kelvin of the EXIF LightSource codes that DNG calibrations use. */
export const ILLUMINANT_KELVIN: Readonly<Record<number, number>> = {
  1: 5500,
  2: 4230,
  3: 2856,
  4: 5500,
  9: 5500,
  10: 6500,
  11: 7500,
  12: 6430,
  13: 5000,
  14: 4230,
  15: 3450,
  17: 2856,
  18: 4874,
  19: 6774,
  20: 5503,
  21: 6504,
  22: 7504,
  23: 5003,
  24: 3200,
}

interface Interpolated {
  /** XYZ to camera, calibration and analog balance included. */
  toCamera: Matrix3
  /** analog balance x camera calibration, between reference and this camera. */
  individual: Matrix3
  forward?: Matrix3
}

/** Linear in inverse temperature between the two calibrations, as DNG asks. */
function interpolate(camera: CameraColour, kelvin: number): Interpolated {
  const [a, b] = [...camera.calibrations].sort((p, q) => p.kelvin - q.kelvin)
  const t = b ? Math.min(Math.max((1 / kelvin - 1 / a.kelvin) / (1 / b.kelvin - 1 / a.kelvin), 0), 1) : 0
  const blend = (p: Matrix3, q: Matrix3 | undefined) => (q ? lerp(p, q, t) : p)
  const balance = diagonal(camera.analogBalance)
  const individual = multiply(
    balance,
    blend(a.cameraCalibration ?? identity, b ? (b.cameraCalibration ?? identity) : undefined),
  )
  const forward =
    a.forwardMatrix && (!b || b.forwardMatrix) ? blend(a.forwardMatrix, b?.forwardMatrix) : undefined
  return { toCamera: multiply(individual, blend(a.colorMatrix, b?.colorMatrix)), individual, forward }
}

const largestOne = (n: Triple): Triple => {
  const top = Math.max(...n)
  return [n[0] / top, n[1] / top, n[2] / top]
}

/** Camera response to a white of chromaticity `xy`, largest 1. */
export function neutralFromXy(camera: CameraColour, xy: Xy): Triple {
  const { toCamera } = interpolate(camera, kelvinFromXy(xy).kelvin)
  const n = apply(toCamera, whiteXyz(xy))
  return largestOne([Math.max(n[0], 1e-4), Math.max(n[1], 1e-4), Math.max(n[2], 1e-4)])
}

/** Chromaticity of the white that gives this camera response; iterated, as the matrix depends on it. */
export function xyFromNeutral(camera: CameraColour, neutral: Triple): Xy {
  let xy: Xy = D50
  for (let i = 0; i < 30; i++) {
    const { toCamera } = interpolate(camera, kelvinFromXy(xy).kelvin)
    const next = xyOf(apply(invert(toCamera), neutral))
    if (!(next[0] > 0.05 && next[0] < 0.9 && next[1] > 0.05 && next[1] < 0.9)) return xy
    const done = Math.abs(next[0] - xy[0]) + Math.abs(next[1] - xy[1]) < 1e-9
    xy = next
    if (done) break
  }
  return xy
}

/** Factor of each camera channel that makes the as-shot neutral grey; the smallest is 1. */
export function asShotBalance(camera: CameraColour): Triple {
  const n = largestOne(camera.asShotNeutral)
  return [1 / n[0], 1 / n[1], 1 / n[2]]
}

/**
 * Camera RGB to the working space such that `neutral` becomes grey with its green kept.
 * @returns matrix for unbalanced camera RGB (white level 1)
 */
export function cameraToWorking(camera: CameraColour, neutral: Triple): Matrix3 {
  const xy = xyFromNeutral(camera, neutral)
  const { toCamera, individual, forward } = interpolate(camera, kelvinFromXy(xy).kelvin)
  const toWorking = invert(working.toXyz)
  let balanced: Matrix3
  if (forward) {
    const reference = apply(invert(individual), neutral)
    const unbalance = diagonal([1 / reference[0], 1 / reference[1], 1 / reference[2]])
    balanced = chain(
      toWorking,
      adaptation(D50, D65),
      forward,
      unbalance,
      invert(individual),
      diagonal(neutral),
    )
  } else {
    balanced = chain(toWorking, adaptation(xy, D65), invert(toCamera), diagonal(neutral))
  }
  const g = neutral[1]
  return multiply(keepWhite(balanced), diagonal([g / neutral[0], 1, g / neutral[2]]))
}
