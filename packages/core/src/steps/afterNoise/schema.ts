import { z } from 'zod'

export const AfterNoiseSchema = z.object({
  /** How much of the noise that sharpening brought up is taken away: 1 as much as the noise model had before. */
  amount: z.number().min(0).max(3).default(0),
})
export type AfterNoiseSettings = z.infer<typeof AfterNoiseSchema>
