import { z } from 'zod'

export const DefectsSchema = z.object({
  /** Mend hot and dead pixels of the sensor. */
  mend: z.boolean().default(true),
  /** How far beyond the noise a pixel must stand out: 1 strict, 10 lenient. */
  threshold: z.number().min(1).max(10).default(5),
  /** How readily lone bright specks of a pixel or two go: 0 not at all. */
  specks: z.number().min(0).max(1).default(0),
})
