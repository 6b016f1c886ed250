import { z } from 'zod'

export const LENS_CHOICES = ['off', 'automatic', 'profile', 'hand'] as const
export type LensChoice = (typeof LENS_CHOICES)[number]

export const LensSchema = z.object({
  /** Where the correction comes from: the file or the profile that fits it, one profile, or two numbers. */
  choice: z.enum(LENS_CHOICES).default('off'),
  /** Id of the profile for `profile`. */
  profile: z.string().max(80).default(''),
  /** How much of the found distortion is taken out. */
  distortion: z.number().min(0).max(1.5).default(1),
  /** How much of the found fall-off is taken out. */
  fallOff: z.number().min(0).max(1.5).default(1),
  /** Turns a fisheye's picture into one with straight lines. */
  straighten: z.boolean().default(false),
  /** By hand, at half the diagonal: radius goes to r (1 + bend r^2 + edge r^4). */
  bend: z.number().min(-0.5).max(0.5).default(0),
  edge: z.number().min(-0.5).max(0.5).default(0),
})
export type LensSettings = z.infer<typeof LensSchema>
