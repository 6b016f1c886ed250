import { numberField } from '../field'
import { z } from 'zod'

export const ExposureSchema = z.object({
  /** Stops. */
  ev: numberField(-5, 5, 0, { label: 'Exposure', unit: 'EV', step: 0.05 }),
})
