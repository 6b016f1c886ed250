import { z } from 'zod'

export const FallOffSchema = z.object({
  /** Stops added in the corners. */
  ev: z.number().min(-2).max(4).default(0),
  /** Power of the distance from the centre by which it grows. */
  shape: z.number().min(1).max(8).default(3),
})
export type FallOffSettings = z.infer<typeof FallOffSchema>
