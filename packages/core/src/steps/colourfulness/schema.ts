import { shareField } from '../field'
import { z } from 'zod'

export const ColourfulnessSchema = z.object({
  /** All colours: -1 drains them, 1 doubles them. */
  all: shareField(-1, 1, 0, 'All colours'),
  /** Muted colours only. */
  muted: shareField(-1, 1, 0, 'Muted colours'),
  /** How much of it skin is spared. */
  spareSkin: shareField(0, 1, 1, 'Protect skin'),
})
export type ColourfulnessSettings = z.infer<typeof ColourfulnessSchema>
