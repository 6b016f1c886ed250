import { choiceField, hueField, shareField } from '../field'
import { z } from 'zod'

export const TONERS = ['none', 'sepia', 'selenium', 'gold', 'ironBlue', 'split'] as const
export type Toner = (typeof TONERS)[number]

export const ToningSchema = z.object({
  toner: choiceField(TONERS, 'none', 'Toner', {
    none: 'None',
    sepia: 'Sepia',
    selenium: 'Selenium',
    gold: 'Gold',
    ironBlue: 'Iron blue',
    split: 'Split',
  }),
  strength: shareField(0, 1, 0.5, 'Strength'),
  /** For the split: Oklab hue of the dark and of the light tones, and the lightness where they meet. */
  darkHue: hueField(250, 'Shadow hue'),
  lightHue: hueField(75, 'Highlight hue'),
  meet: shareField(0.1, 0.9, 0.55, 'Split point'),
})
export type ToningSettings = z.infer<typeof ToningSchema>
