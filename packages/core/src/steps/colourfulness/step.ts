import { sinCosDegrees } from '../../math'
import { defineStep, planeLength, planes } from '../step'
import { ColourfulnessSchema } from './schema'

/** Chroma at which the change of muted colours is down to a quarter. */
const MUTED = 0.12

/**
 * What counts as skin, in Oklab: hues within 14 degrees of 52, fading out until 30, of a chroma from 0.03 (fading in
 * from 0.015) to 0.13 (fading out until 0.18). Pale, tanned and dark skin under a neutral light lie within.
 */
export const SKIN = { hue: 52, full: 14, end: 30, from: [0.015, 0.03], to: [0.13, 0.18] } as const

/** More or less colour, of all colours or of the muted ones alone. */
export const colourfulness = defineStep({
  id: 'colourfulness',
  name: 'Colourfulness',
  says: () => 'colourfulness',
  stage: 'balance',
  schema: ColourfulnessSchema,
  neutral: { all: 0, muted: 0, spareSkin: 1 },
  essential: false,
  keep: false,
  takes: 'picture',
  inArea: true,
  yields: 'display',
  colours: 'oklab',
  idle: ({ all, muted }) => all === 0 && muted === 0,
  reach: () => 0,
  prepare({ all, muted, spareSkin }) {
    const [sine, cosine] = sinCosDegrees(SKIN.hue)
    const full = sinCosDegrees(SKIN.full)[1]
    const end = sinCosDegrees(SKIN.end)[1]
    return [
      1 + all,
      muted,
      1 / MUTED,
      cosine,
      sine,
      end,
      1 / (full - end),
      SKIN.from[0],
      1 / (SKIN.from[1] - SKIN.from[0]),
      SKIN.to[0],
      1 / (SKIN.to[1] - SKIN.to[0]),
      spareSkin,
    ]
  },
  run({ raster, kernels, scratch }, block) {
    const mark = scratch.mark()
    kernels.colourfulness(...planes(raster), planeLength(raster), scratch.floats(block))
    scratch.release(mark)
  },
})
