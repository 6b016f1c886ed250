import { z } from 'zod'

export const FACTORS = [1, 1.5, 2, 3, 4] as const
export type Factor = (typeof FACTORS)[number]

export const EnlargeSchema = z.object({
  /** Pixels of the finished picture for one of the frame, along each side. */
  factor: z.literal(FACTORS).default(1),
  /** How much of the detail that the pixels' own size took is given back. */
  detail: z.number().min(0).max(1).default(1),
})
export type EnlargeSettings = z.infer<typeof EnlargeSchema>
