import type { Triple } from '../math'
import { xyFromNeutral, type CameraColour } from './camera'
import { KELVIN, kelvinFromXy, TINT } from './temperature'

const hold = (v: number, { min, max }: { min: number; max: number }) => Math.min(Math.max(v, min), max)

/** The light that a camera's neutral is the answer to, held to what a white balance can be set to. */
export function whiteOf(camera: CameraColour, neutral: Triple): { kelvin: number; tint: number } {
  const { kelvin, tint } = kelvinFromXy(xyFromNeutral(camera, neutral))
  return { kelvin: hold(kelvin, KELVIN), tint: hold(tint, TINT) }
}
