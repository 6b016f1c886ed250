import { defineFrameStep } from '../frameStep'
import { FringesStepSchema, type FringesSettings } from './schema'

/** Lays red and blue onto green where they are of different size. */
export const fringes = defineFrameStep<FringesSettings>({
  id: 'fringes',
  schema: FringesStepSchema,
  neutral: FringesStepSchema.parse({}),
  idle: ({ source }) => source === 'profile',
  soften: (s, k) => ({
    ...s,
    redSize: s.redSize * k,
    redEdge: s.redEdge * k,
    blueSize: s.blueSize * k,
    blueEdge: s.blueEdge * k,
  }),
})
