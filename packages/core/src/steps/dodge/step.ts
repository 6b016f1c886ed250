import { exp2 } from '../../math'
import { definePart, planeLength, planes } from '../step'
import { DodgeSchema } from './schema'

/**
 * Lighter and darker on an area of the finished picture: the lightness alone, so that colours keep their hue and
 * colourfulness. Lightness goes with the cube root of light.
 */
export const dodge = definePart({
  id: 'dodge',
  name: 'Dodge and burn',
  settingsOf: 'areas',
  stage: 'shape',
  schema: DodgeSchema,
  neutral: DodgeSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'display',
  colours: 'oklab',
  inArea: true,
  given: true,
  reach: () => 0,
  prepare: ({ ev }) => exp2(ev / 3),
  run({ raster, kernels }, factor) {
    kernels.scale(planes(raster)[0], factor, planeLength(raster))
  },
})
