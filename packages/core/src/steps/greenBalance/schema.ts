import { z } from 'zod'

export const GreenBalanceSchema = z.object({
  /** Bring the greens of the two kinds of rows together. */
  even: z.boolean().default(true),
})
