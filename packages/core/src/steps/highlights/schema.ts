import { z } from 'zod'

export const HighlightsSchema = z.object({
  /** How far clipped channels are rebuilt: 0 cuts all at the lowest clipping level, 1 rebuilds. */
  rebuild: z.number().min(0).max(1).default(1),
})
