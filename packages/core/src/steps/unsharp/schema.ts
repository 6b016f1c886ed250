import { z } from 'zod'

export const UnsharpSchema = z.object({
  /** How much of the difference from the blurred picture is added. */
  strength: z.number().min(0).max(5).default(0),
  /** Standard deviation of the blur, sensor pixels. */
  radius: z.number().min(0.3).max(8).default(1),
  /** Differences count half that are so many times the noise. */
  threshold: z.number().min(0).max(5).default(1),
  /** How much of it even places are spared. */
  edges: z.number().min(0).max(1).default(0),
})
export type UnsharpSettings = z.infer<typeof UnsharpSchema>
