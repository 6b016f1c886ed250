import { smoothStep } from '../../math'
import { applyLocal, gainTable, surfaceSurvey } from '../localGain'
import { defineStep } from '../step'
import { GRIPS, TonesSchema, type TonesSettings } from './schema'

/** Stops that a surface of a brightness (stops around mid grey) is lifted by: smooth from grip to grip. */
export function toneLift(settings: TonesSettings, stops: number): number {
  const grips = GRIPS.map((g) => settings[g])
  if (stops <= grips[0].at) return grips[0].lift
  for (let i = 1; i < grips.length; i++) {
    const [a, b] = [grips[i - 1], grips[i]]
    if (stops < b.at) return a.lift + (b.lift - a.lift) * smoothStep((stops - a.at) / (b.at - a.at))
  }
  return grips[grips.length - 1].lift
}

/** Lifts and lowers tones by the brightness of the surface that they belong to, so that its drawing stays. */
export const tones = defineStep({
  id: 'tones',
  name: 'Tones',
  says: () => 'tones',
  stage: 'expose',
  schema: TonesSchema,
  neutral: TonesSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  inArea: true,
  yields: 'scene',
  idle: (s) => GRIPS.every((g) => s[g].lift === 0),
  survey: surfaceSurvey,
  reach: () => 0,
  prepare: (settings) => gainTable((stops) => toneLift(settings, stops)),
  run(tile, table, surveyed) {
    if (surveyed) applyLocal(tile, table, surveyed)
  },
})
