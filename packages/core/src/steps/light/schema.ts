import { z } from 'zod'
import { numberField } from '../field'

export const LightSchema = z.object({
  /** Mireds by which the light becomes warmer. */
  warmth: numberField(-150, 150, 0, { label: 'Warmth', unit: 'mired', step: 1, strength: 'held' }),
  /** Towards magenta, or less than 0 towards green; as the white balance's tint. */
  tint: numberField(-100, 100, 0, { label: 'Tint', step: 1, strength: 'held' }),
})
