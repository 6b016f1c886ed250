import { shareField } from '../field'
import { z } from 'zod'

export const AfterNoiseSchema = z.object({
  /** How much of the noise that sharpening brought up is taken away: 1 as much as the noise model had before. */
  amount: shareField(0, 3, 0, 'Residual noise'),
})
export type AfterNoiseSettings = z.infer<typeof AfterNoiseSchema>
