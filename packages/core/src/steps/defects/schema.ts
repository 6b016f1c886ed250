import { numberField, shareField, switchField } from '../field'
import { z } from 'zod'

export const DefectsSchema = z.object({
  /** Mend hot and dead pixels of the sensor. */
  mend: switchField(true, 'Mend hot and dead pixels'),
  /** How far beyond the noise a pixel must stand out: 1 strict, 10 lenient. */
  threshold: numberField(1, 10, 5, { label: 'Noise threshold', unit: '×', step: 0.5 }),
  /** How readily lone bright specks of a pixel or two go: 0 not at all. */
  specks: shareField(0, 1, 0, 'Speck removal'),
})
