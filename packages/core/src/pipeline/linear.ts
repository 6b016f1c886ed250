import type { Development } from '../settings'
import { STEP_IDS, type StepId } from '../steps'
import { withoutSteps } from './plan'

/**
 * Steps that a linear DNG holds carried out: what is done to the samples, what is mended, and the lens. All that is
 * left to do there acts on the light of a straight picture.
 */
const CARRIED_OUT: readonly StepId[] = [
  ...(['defects', 'greenBalance', 'highlights', 'noise', 'demosaic'] as const),
  ...(['patches', 'lens', 'fringes', 'fallOff'] as const),
]

/** What of a development a linear DNG holds carried out. */
export const carriedOut = (development: Development): Development =>
  withoutSteps(
    development,
    STEP_IDS.filter((id) => !CARRIED_OUT.includes(id)),
  )

/** What of a development is left to do to such a DNG. */
export const leftToDo = (development: Development): Development => withoutSteps(development, CARRIED_OUT)
