import { shareField } from '../field'
import { z } from 'zod'

export const EvenLightingSchema = z.object({
  /** Share of the differences of lighting that is taken away; below 0 they are enlarged. */
  amount: shareField(-1, 1, 0, 'Even lighting'),
})
