import { z } from 'zod'
import { KELVIN, TINT } from '../../colour/temperature'

/** White balance; the camera's matrices belong to the file. */
export const CameraColourSchema = z.object({
  /** `sample`: what was measured on a grey place of the picture. */
  source: z.enum(['as-shot', 'kelvin', 'sample']).default('as-shot'),
  kelvin: z.number().min(KELVIN.min).max(KELVIN.max).default(5500),
  tint: z.number().min(TINT.min).max(TINT.max).default(0),
  /** Camera response to the grey place, largest 1. */
  neutral: z
    .tuple([z.number().positive().max(1), z.number().positive().max(1), z.number().positive().max(1)])
    .default([1, 1, 1]),
  /** Colours by the camera's matrices alone, or also by the tables of hue and saturation in the file. */
  profile: z.enum(['matrix', 'file']).default('matrix'),
})
export type CameraColourSettings = z.infer<typeof CameraColourSchema>
