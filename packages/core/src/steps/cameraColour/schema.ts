import { choiceField, numberField, worded } from '../field'
import { z } from 'zod'
import { LAMP_IDS } from '../../colour/lamps'
import { KELVIN, TINT } from '../../colour/temperature'

const part = z.number().positive().max(1)
const neutral = z.tuple([part, part, part])
export const MOST_SAMPLES = 8

/** White balance; the camera's matrices belong to the file. */
export const CameraColourSchema = z.object({
  /** `sample`: what was measured on a grey place of the picture. */
  source: choiceField(['as-shot', 'lamp', 'kelvin', 'sample'], 'as-shot', 'White balance', {
    'as-shot': 'as shot',
    lamp: 'lamp',
    kelvin: 'number',
    sample: 'greys',
  }),
  kelvin: numberField(KELVIN.min, KELVIN.max, 5500, {
    label: 'Colour temperature',
    alone: true,
    unit: 'K',
    step: 10,
    passes: 'reciprocally',
  }),
  tint: numberField(TINT.min, TINT.max, 0, { label: 'Tint', step: 1 }),
  lamp: worded(z.enum(LAMP_IDS).default('daylight'), { label: 'Lamp' }),
  /** Camera response to the grey place, largest 1; of several the mean. */
  neutral: worded(neutral.default([1, 1, 1]), { label: 'Grey' }),
  /** The places it was measured on: in sensor coordinates, 1 the long edge. */
  samples: worded(
    z
      .array(z.object({ x: z.number().min(0).max(1), y: z.number().min(0).max(1), neutral }))
      .max(MOST_SAMPLES)
      .default([]),
    { label: 'Places of grey', belongs: 'frame' },
  ),
  /** Colours by the camera's matrices alone, or also by the tables of hue and saturation in the file. */
  profile: choiceField(['matrix', 'file'], 'matrix', 'Camera colours', {
    matrix: 'matrix',
    file: 'matrix and the file’s tables',
  }),
})
export type CameraColourSettings = z.infer<typeof CameraColourSchema>
