import { choiceField, numberField, shareField } from '../field'
import { z } from 'zod'

const parts = (label: string) =>
  numberField(-0.01, 0.01, 0, { label, unit: '‰', scale: 1000, step: 0.01, strength: 'free' })

export const FringesStepSchema = z.object({
  /** From the profile in use, or the four numbers; or they are left in. */
  source: choiceField(['profile', 'own', 'none'], 'profile', 'Fringes', {
    profile: 'lens profile',
    own: 'manual',
    none: 'off',
  }),
  /** How much is taken out of what the profile knows. */
  amount: shareField(0, 1.5, 1, 'Amount', 5, { strength: 'free', without: 0 }),
  /** How far red and blue lie from green at half the diagonal, in parts of it: the same everywhere, and growing outward. */
  redSize: parts('Red overall'),
  redEdge: parts('Red at the edges'),
  blueSize: parts('Blue overall'),
  blueEdge: parts('Blue at the edges'),
})
export type FringesSettings = z.infer<typeof FringesStepSchema>
