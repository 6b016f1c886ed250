import { z } from 'zod'

export const EvenLightingSchema = z.object({
  /** Share of the differences of lighting that is taken away; below 0 they are enlarged. */
  amount: z.number().min(-1).max(1).default(0),
})
