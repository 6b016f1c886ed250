import { z } from 'zod'

export const ExposureSchema = z.object({
  /** Stops. */
  ev: z.number().min(-5).max(5).default(0),
})
