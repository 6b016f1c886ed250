import { z } from 'zod'

export const TintSchema = z.object({
  /** Lightness where it is strongest: 0 black, 1 white. */
  at: z.number().min(0).max(1),
  /** Oklab hue in degrees. */
  hue: z.number().min(0).max(360).default(60),
  strength: z.number().min(0).max(1).default(0),
  light: z.number().min(-1).max(1).default(0),
})
export type Tint = z.infer<typeof TintSchema>
export const MOST_TINTS = 8
/** Tints keep this far apart. */
export const TINT_GAP = 0.02

const START = [0.25, 0.55, 0.85].map((at, i) => TintSchema.parse({ at, hue: [250, 60, 80][i] }))

export const TintsSchema = z.object({
  stops: z
    .array(TintSchema)
    .min(1)
    .max(MOST_TINTS)
    .refine((s) => s.every(({ at }, i) => i === 0 || at - s[i - 1].at > TINT_GAP - 1e-6), {
      message: 'The tints follow each other from dark to light.',
    })
    .default(START),
})
export type TintsSettings = z.infer<typeof TintsSchema>
