import { z } from 'zod'

export const TONERS = ['none', 'sepia', 'selenium', 'gold', 'ironBlue', 'split'] as const
export type Toner = (typeof TONERS)[number]

export const ToningSchema = z.object({
  toner: z.enum(TONERS).default('none'),
  strength: z.number().min(0).max(1).default(0.5),
  /** For the split: Oklab hue of the dark and of the light tones, and the lightness where they meet. */
  darkHue: z.number().min(0).max(360).default(250),
  lightHue: z.number().min(0).max(360).default(75),
  meet: z.number().min(0.1).max(0.9).default(0.55),
})
export type ToningSettings = z.infer<typeof ToningSchema>
