import { z } from 'zod'

const share = z.number().min(-0.01).max(0.01).default(0)

export const FringesStepSchema = z.object({
  /** From the profile in use, or the four numbers; or they are left in. */
  source: z.enum(['profile', 'own', 'none']).default('profile'),
  /** How much is taken out of what the profile knows. */
  amount: z.number().min(0).max(1.5).default(1),
  /** How far red and blue lie from green at half the diagonal, in parts of it: the same everywhere, and growing outward. */
  redSize: share,
  redEdge: share,
  blueSize: share,
  blueEdge: share,
})
export type FringesSettings = z.infer<typeof FringesStepSchema>
