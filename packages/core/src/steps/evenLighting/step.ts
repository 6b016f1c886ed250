import { applyLocal, gainTable, lightingSurvey, meanStops } from '../localGain'
import { defineStep } from '../step'
import { EvenLightingSchema } from './schema'

/** Most stops that a place is moved by. */
const MOST = 2.5

/** Stops that lighting so far from the picture's mean is moved by: all of a small difference, less of a great one. */
export const evened = (amount: number, off: number): number =>
  (-amount * 0.75 * off) / (1 + (0.75 * Math.abs(off)) / MOST)

/** Evens differences of brightness that are wider than the things in the picture. */
export const evenLighting = defineStep({
  id: 'evenLighting',
  name: 'Even lighting',
  says: () => 'evened',
  stage: 'expose',
  schema: EvenLightingSchema,
  neutral: { amount: 0 },
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'scene',
  survey: lightingSurvey,
  follows: true,
  reach: () => 0,
  prepare: ({ amount }) => gainTable((off) => evened(amount, off)),
  run(tile, table, surveyed) {
    // the table is around mid grey; the picture's own mean takes its place
    if (surveyed) applyLocal(tile, table, surveyed, -14 + meanStops(tile, surveyed))
  },
})
