import { z } from 'zod'

export const HazeSchema = z.object({
  /** How much of the haze is taken away; below nothing, how much is added. */
  strength: z.number().min(-1).max(1).default(0),
  /** Where it acts: above nothing on what is far alone, below it near things too. */
  depth: z.number().min(-1).max(1).default(0),
  /** Colour of the light that haze scatters: found in the picture, or picked as working-space light. */
  air: z.enum(['found', 'picked']).default('found'),
  picked: z.tuple([z.number(), z.number(), z.number()]).default([0.8, 0.8, 0.8]),
})
export type HazeSettings = z.infer<typeof HazeSchema>
