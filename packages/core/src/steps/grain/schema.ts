import { z } from 'zod'

export const GrainSchema = z.object({
  strength: z.number().min(0).max(1).default(0),
  /** Grain across in thousandths of the long edge: 1 is a third of a millimetre on a print of 33 cm. */
  size: z.number().min(0.2).max(4).default(0.8),
})
export type GrainSettings = z.infer<typeof GrainSchema>
