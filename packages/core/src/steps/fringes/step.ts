import { defineFrameStep } from '../frameStep'
import { FringesStepSchema } from './schema'

/** Lays red and blue onto green where they are of different size. */
export const fringes = defineFrameStep({
  id: 'fringes',
  name: 'Fringes',
  says: ({ source }) => (source === 'none' ? 'fringes off' : 'fringes'),
  schema: FringesStepSchema,
  neutral: FringesStepSchema.parse({}),
  // at the start it takes out what the profile knows
  absent: FringesStepSchema.parse({ source: 'none' }),
  idle: ({ source, amount }) => source === 'profile' && amount === 1,
})
