import { z } from 'zod'
import { numberField } from '../field'

export const DodgeSchema = z.object({
  /** Stops by which tones become lighter, or darker. */
  ev: numberField(-3, 3, 0, { label: 'Lightness', unit: 'EV', step: 0.05 }),
})
