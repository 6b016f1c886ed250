import { z } from 'zod'

export const ColourfulnessSchema = z.object({
  /** All colours: -1 drains them, 1 doubles them. */
  all: z.number().min(-1).max(1).default(0),
  /** Muted colours only. */
  muted: z.number().min(-1).max(1).default(0),
  /** How much of it skin is spared. */
  spareSkin: z.number().min(0).max(1).default(1),
})
export type ColourfulnessSettings = z.infer<typeof ColourfulnessSchema>
