import { numberField, switchField, worded } from '../field'
import { z } from 'zod'

export const RATIOS = ['taken', 'square', '5:4', '4:3', '3:2', '16:9', 'din', 'free', 'own'] as const
export type RatioId = (typeof RATIOS)[number]

export const CropSchema = z.object({
  /** Centre in sensor coordinates (1 the long edge), sides in long edges of the squared-up picture; none is all of it. */
  rect: worded(
    z
      .object({
        centre: z.tuple([z.number().min(-1).max(2), z.number().min(-1).max(2)]),
        width: z.number().min(0.005).max(4),
        height: z.number().min(0.005).max(4),
      })
      .nullable()
      .default(null),
    { label: 'Crop' },
  ),
  /** Nothing but picture in the frame; where not, corners may be empty. */
  inside: switchField(true, 'No empty corners'),
  /** Sides of the frame that the handles keep. */
  ratio: worded(z.enum(RATIOS).default('taken'), { label: 'Ratio' }),
  upright: switchField(false, 'Upright'),
  own: worded(z.tuple([z.number().min(0.1).max(100), z.number().min(0.1).max(100)]).default([2, 1]), {
    label: 'Custom ratio',
  }),
  /** Longer side on paper, centimetres, and the resolution it is meant for. */
  paper: numberField(1, 500, 30, { label: 'Print, longer side', unit: 'cm', step: 1 }),
})
export type CropSettings = z.infer<typeof CropSchema>
