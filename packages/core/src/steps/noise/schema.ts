import { z } from 'zod'

const amount = z.number().min(0).max(2)

export const NoiseSchema = z.object({
  /** Left alone, as much as the noise model says, or by the numbers below. */
  mode: z.enum(['none', 'automatic', 'hand']).default('none'),
  /** Whose word is taken for how much noise there is; `best` is the first of the others that is there. */
  source: z.enum(['best', 'file', 'camera', 'picture']).default('best'),
  /** How much of the noise in the light, and in the colours, is taken away: 1 as much as there is. */
  luminance: amount.default(1),
  colour: amount.default(1),
  /** Coarse blotches of colour. */
  blotches: amount.default(1),
  /** How much is left where there is drawing: 0 none, 1 all. */
  keepDetail: z.number().min(0).max(1).default(0),
  /** More in the shadows and less in the light, or the other way round: -1 to 1. */
  tone: z.number().min(-1).max(1).default(0),
  /** The better and slower way for the still picture and for files. */
  fine: z.boolean().default(true),
})
export type NoiseSettings = z.infer<typeof NoiseSchema>
