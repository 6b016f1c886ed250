import { percent } from '../words'
import { applyLocal, gainTable, surfaceSurvey } from '../localGain'
import { defineStep } from '../step'
import { RecoverySchema } from './schema'

/** Stops above mid grey from which on lights are brought back. */
const KNEE = 0.75
/** At full amount a light 6 stops above mid grey comes to the 3.15 of display white. */
const HARDNESS = (6 - KNEE) / ((6 - KNEE) / (3.15 - KNEE) - 1)

/** Stops that a surface gives up: nothing up to the knee, then ever more. */
export function recovered(amount: number, stops: number): number {
  const s = Math.max(stops - KNEE, 0)
  return s / (1 + (amount * s) / HARDNESS) - s
}

/** Brings bright surfaces back into what the display can show, their drawing kept. */
export const recovery = defineStep({
  id: 'recovery',
  name: 'Highlights',
  says: ({ amount }) => `recovery ${percent(amount)}`,
  stage: 'expose',
  schema: RecoverySchema,
  neutral: { amount: 0 },
  essential: false,
  keep: false,
  takes: 'picture',
  inArea: true,
  yields: 'scene',
  survey: surfaceSurvey,
  reach: () => 0,
  prepare: ({ amount }) => gainTable((stops) => recovered(amount, stops)),
  run(tile, table, surveyed) {
    if (surveyed) applyLocal(tile, table, surveyed)
  },
})
