import { choiceField, numberField, shareField, switchField, worded } from '../field'
import { z } from 'zod'

export const LENS_CHOICES = ['off', 'automatic', 'profile', 'hand'] as const
export type LensChoice = (typeof LENS_CHOICES)[number]

export const LensSchema = z.object({
  /** Where the correction comes from: the file or the profile that fits it, one profile, or two numbers. */
  choice: choiceField(LENS_CHOICES, 'off', 'Lens', {
    off: 'off',
    automatic: 'automatic',
    profile: 'profile',
    hand: 'manual',
  }),
  /** Id of the profile for `profile`. */
  profile: worded(z.string().max(80).default(''), { label: 'Lens profile' }),
  /** How much of the found distortion is taken out. */
  distortion: shareField(0, 1.5, 1, 'Distortion correction'),
  /** How much of the found fall-off is taken out. */
  fallOff: shareField(0, 1.5, 1, 'Fall-off correction'),
  /** Turns a fisheye's picture into one with straight lines. */
  straighten: switchField(false, 'Straighten fisheye'),
  /** By hand, at half the diagonal: radius goes to r (1 + bend r^2 + edge r^4). */
  bend: numberField(-0.5, 0.5, 0, {
    label: 'Distortion',
    unit: '%',
    scale: 100,
    step: 0.01,
    offers: [-30, 30],
  }),
  edge: numberField(-0.5, 0.5, 0, {
    label: 'Distortion at edges',
    unit: '%',
    scale: 100,
    step: 0.01,
    offers: [-30, 30],
  }),
})
export type LensSettings = z.infer<typeof LensSchema>
