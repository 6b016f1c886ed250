import { choiceField, numberField, shareField } from '../field'
import { z } from 'zod'

const parts = (label: string) =>
  numberField(-0.01, 0.01, 0, { label, unit: '‰', scale: 1000, step: 0.01, strength: 'free' })

export const FringesStepSchema = z.object({
  /** From the profile in use, or the four numbers; or they are left in. */
  source: choiceField(['profile', 'own', 'none'], 'profile', 'Fringes', {
    profile: 'by the lens profile',
    own: 'by number',
    none: 'left in',
  }),
  /** How much is taken out of what the profile knows. */
  amount: shareField(0, 1.5, 1, 'Fringes taken out', 5, { strength: 'free', without: 0 }),
  /** How far red and blue lie from green at half the diagonal, in parts of it: the same everywhere, and growing outward. */
  redSize: parts('Red, everywhere'),
  redEdge: parts('Red, toward the edges'),
  blueSize: parts('Blue, everywhere'),
  blueEdge: parts('Blue, toward the edges'),
})
export type FringesSettings = z.infer<typeof FringesStepSchema>
