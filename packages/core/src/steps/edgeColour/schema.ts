import { z } from 'zod'

export const EdgeColourSchema = z.object({
  /** How much of the colour that only an edge has is taken away. */
  amount: z.number().min(0).max(1).default(0),
  /** Middle of the hues that count, Oklab degrees; purple at the start, as lenses leave it around bright edges. */
  hue: z.number().min(0).max(360).default(310),
  /** Hues to either side of it. */
  width: z.number().min(10).max(180).default(50),
  /** How wide the coloured line is, sensor pixels. */
  radius: z.number().min(1).max(12).default(4),
})
export type EdgeColourSettings = z.infer<typeof EdgeColourSchema>
