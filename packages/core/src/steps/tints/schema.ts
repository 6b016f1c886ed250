import { hueField, shareField, worded } from '../field'
import { z } from 'zod'

export const TintSchema = z.object({
  /** Lightness where it is strongest: 0 black, 1 white. */
  at: worded(z.number().min(0).max(1), { label: 'Tone', unit: '%', scale: 100, step: 1 }),
  /** Oklab hue in degrees. */
  hue: hueField(60, 'Hue'),
  strength: shareField(0, 1, 0, 'Strength', 1),
  light: shareField(-1, 1, 0, 'Lightness'),
})
export type Tint = z.infer<typeof TintSchema>
export const MOST_TINTS = 8
/** Tints keep this far apart. */
export const TINT_GAP = 0.02

const START = [0.25, 0.55, 0.85].map((at, i) => TintSchema.parse({ at, hue: [250, 60, 80][i] }))

export const TintsSchema = z.object({
  stops: worded(
    z
      .array(TintSchema)
      .min(1)
      .max(MOST_TINTS)
      .refine((s) => s.every(({ at }, i) => i === 0 || at - s[i - 1].at > TINT_GAP - 1e-6), {
        message: 'The tints follow each other from dark to light.',
      })
      .default(START),
    { label: 'Tints' },
  ),
})
export type TintsSettings = z.infer<typeof TintsSchema>
