import { z } from 'zod'

export const BaseRenderingSchema = z.object({
  /** Contrast as with paper: 0 soft to 5 hard, 2 normal. */
  grade: z.number().min(0).max(5).default(2),
  /** Stops that mid grey is moved by, white and black where they are. */
  brightness: z.number().min(-1.5).max(1.5).default(0),
  /** How late and how suddenly the lights bend to white. */
  shoulder: z.number().min(-1).max(1).default(0),
  /** How deep the darkest tones go. */
  toe: z.number().min(-1).max(1).default(0),
  /** Our own rendering, or the look and tone curve that the file brings. */
  rendering: z.enum(['own', 'file']).default('own'),
})
export type BaseRenderingSettings = z.infer<typeof BaseRenderingSchema>
