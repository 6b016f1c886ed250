import { numberField } from '../field'
import { z } from 'zod'

export const FallOffSchema = z.object({
  /** Stops added in the corners. */
  ev: numberField(-2, 4, 0, { label: 'Corner brightness', unit: 'EV', step: 0.05, strength: 'free' }),
  /** Power of the distance from the centre by which it grows. */
  shape: numberField(1, 8, 3, { label: 'Steepness', step: 0.1 }),
})
export type FallOffSettings = z.infer<typeof FallOffSchema>
