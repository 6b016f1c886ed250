import { z } from 'zod'

export const DemosaicSchema = z.object({
  /** How readily colour that only fine detail feigns gives way to the colour around: 0 never, 1 always. */
  falseColour: z.number().min(0).max(1).default(0.5),
})
