import { numberField, shareField } from '../field'
import { z } from 'zod'

export const GrainSchema = z.object({
  strength: shareField(0, 1, 0, 'Amount'),
  /** Grain across in thousandths of the long edge: 1 is a third of a millimetre on a print of 33 cm. */
  size: numberField(0.2, 4, 0.8, { label: 'Size', unit: '‰', step: 0.1 }),
})
export type GrainSettings = z.infer<typeof GrainSchema>
