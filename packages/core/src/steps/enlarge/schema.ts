import { shareField, worded } from '../field'
import { z } from 'zod'

export const FACTORS = [1, 1.5, 2, 3, 4] as const
export type Factor = (typeof FACTORS)[number]

export const EnlargeSchema = z.object({
  /** Pixels of the finished picture for one of the frame, along each side. */
  factor: worded(z.literal(FACTORS).default(1), { label: 'Enlargement' }),
  /** How much of the detail that the pixels' own size took is given back. */
  detail: shareField(0, 1, 1, 'Detail'),
})
export type EnlargeSettings = z.infer<typeof EnlargeSchema>
