import { z } from 'zod'
import { LAMP_IDS } from '../../colour/lamps'
import { KELVIN, TINT } from '../../colour/temperature'

const part = z.number().positive().max(1)
const neutral = z.tuple([part, part, part])
export const MOST_SAMPLES = 8

/** White balance; the camera's matrices belong to the file. */
export const CameraColourSchema = z.object({
  /** `sample`: what was measured on a grey place of the picture. */
  source: z.enum(['as-shot', 'lamp', 'kelvin', 'sample']).default('as-shot'),
  kelvin: z.number().min(KELVIN.min).max(KELVIN.max).default(5500),
  tint: z.number().min(TINT.min).max(TINT.max).default(0),
  lamp: z.enum(LAMP_IDS).default('daylight'),
  /** Camera response to the grey place, largest 1; of several the mean. */
  neutral: neutral.default([1, 1, 1]),
  /** The places it was measured on: in sensor coordinates, 1 the long edge. */
  samples: z
    .array(z.object({ x: z.number().min(0).max(1), y: z.number().min(0).max(1), neutral }))
    .max(MOST_SAMPLES)
    .default([]),
  /** Colours by the camera's matrices alone, or also by the tables of hue and saturation in the file. */
  profile: z.enum(['matrix', 'file']).default('matrix'),
})
export type CameraColourSettings = z.infer<typeof CameraColourSchema>
