import { ILLUMINANT_KELVIN, neutralFromXy, type Calibration, type CameraColour } from '../../colour'
import { invert, type Matrix3, type Triple } from '../../math'
import { damaged, unsupported } from '../error'
import type { Ifd } from '../tiff/reader'
import { TAG } from '../tiff/tags'

function matrix(ifd: Ifd, tag: number): Matrix3 | undefined {
  const v = ifd.numbers(tag)
  if (v.length === 0) return undefined
  if (v.length !== 9 || !v.every(isFinite)) throw unsupported('its colours are not made of three channels')
  return v as unknown as Matrix3
}

function triple(ifd: Ifd, tag: number): Triple | undefined {
  const v = ifd.numbers(tag)
  if (v.length === 0) return undefined
  if (v.length !== 3 || !v.every((n) => isFinite(n) && n > 0))
    throw damaged('its white balance makes no sense')
  return v as unknown as Triple
}

function calibration(
  ifd: Ifd,
  light: number,
  colour: number,
  own: number,
  forward: number,
  fallback: number,
) {
  const colorMatrix = matrix(ifd, colour)
  if (!colorMatrix) return undefined
  try {
    invert(colorMatrix)
  } catch {
    throw damaged('its colour matrix cannot be inverted')
  }
  const kelvin = ILLUMINANT_KELVIN[ifd.number(light) ?? 0] ?? fallback
  return { kelvin, colorMatrix, cameraCalibration: matrix(ifd, own), forwardMatrix: matrix(ifd, forward) }
}

/** The colour tags of the main directory (DNG 1.7, chapter 6). */
export function readColour(main: Ifd): CameraColour {
  const found = [
    calibration(
      main,
      TAG.CalibrationIlluminant1,
      TAG.ColorMatrix1,
      TAG.CameraCalibration1,
      TAG.ForwardMatrix1,
      5003,
    ),
    calibration(
      main,
      TAG.CalibrationIlluminant2,
      TAG.ColorMatrix2,
      TAG.CameraCalibration2,
      TAG.ForwardMatrix2,
      6504,
    ),
  ].filter((c): c is NonNullable<typeof c> => c !== undefined)
  if (found.length === 0) throw unsupported('it does not say what its colours mean')
  // two calibrations under one light are one
  const calibrations: Calibration[] =
    found.length === 2 && found[0].kelvin === found[1].kelvin ? [found[1]] : found
  const camera: CameraColour = {
    calibrations,
    analogBalance: triple(main, TAG.AnalogBalance) ?? [1, 1, 1],
    asShotNeutral: [1, 1, 1],
  }
  const neutral = triple(main, TAG.AsShotNeutral)
  const xy = main.numbers(TAG.AsShotWhiteXY)
  if (neutral) camera.asShotNeutral = neutral
  else if (xy.length === 2) camera.asShotNeutral = neutralFromXy(camera, [xy[0], xy[1]])
  else camera.asShotNeutral = neutralFromXy(camera, [0.3457, 0.3585])
  return camera
}
