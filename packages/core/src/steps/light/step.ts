import { adaptation, working, xyFromKelvin } from '../../colour'
import { chain, invert, type Matrix3 } from '../../math'
import { definePart, planeLength, planes } from '../step'
import { LightSchema } from './schema'

/** Of the light that is changed, mireds: daylight. */
const DAYLIGHT = 153.8

/** Working space to the same scene in a light that many mireds warmer, and so far towards magenta. */
export function lightMatrix(warmth: number, tint: number): Matrix3 {
  const towards = (mireds: number, to: number) =>
    adaptation(xyFromKelvin(1e6 / DAYLIGHT, 0), xyFromKelvin(1e6 / (DAYLIGHT + mireds), to))
  const warmed = towards(Math.abs(warmth), 0)
  const tinted = towards(0, -Math.abs(tint))
  // as much to the other side takes it back
  const xyz = chain(tint < 0 ? invert(tinted) : tinted, warmth < 0 ? invert(warmed) : warmed)
  return chain(invert(working.toXyz), xyz, working.toXyz)
}

/** Warmer or cooler light on an area, in linear light. The white balance does it for the whole picture. */
export const light = definePart({
  id: 'light',
  name: 'Colour of light',
  settingsOf: 'areas',
  stage: 'balance',
  schema: LightSchema,
  neutral: LightSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'scene',
  inArea: true,
  given: true,
  reach: () => 0,
  prepare: ({ warmth, tint }) => [...lightMatrix(warmth, tint), 1e6, 1e6, 1e6],
  run({ raster, kernels, scratch }, matrix) {
    const mark = scratch.mark()
    kernels.matrix3(...planes(raster), planeLength(raster), scratch.floats(matrix))
    scratch.release(mark)
  },
})
