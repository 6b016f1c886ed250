import { z } from 'zod'

export const BaseRenderingSchema = z.object({
  /** Contrast as with paper: 0 soft to 5 hard, 2 normal. */
  grade: z.number().min(0).max(5).default(2),
  /** Our own rendering, or the look and tone curve that the file brings. */
  rendering: z.enum(['own', 'file']).default('own'),
})
export type BaseRenderingSettings = z.infer<typeof BaseRenderingSchema>
