import { choiceField, shareField, worded } from '../field'
import { z } from 'zod'

export const HazeSchema = z.object({
  /** How much of the haze is taken away; below nothing, how much is added. */
  strength: shareField(-1, 1, 0, 'Amount'),
  /** Where it acts: above nothing on what is far alone, below it near things too. */
  depth: shareField(-1, 1, 0, 'Limit to distance'),
  /** Colour of the light that haze scatters: found in the picture, or picked as working-space light. */
  air: choiceField(['found', 'picked'], 'found', 'Haze colour', { found: 'automatic', picked: 'picked' }),
  picked: worded(z.tuple([z.number(), z.number(), z.number()]).default([0.8, 0.8, 0.8]), {
    label: 'Picked colour',
  }),
})
export type HazeSettings = z.infer<typeof HazeSchema>
