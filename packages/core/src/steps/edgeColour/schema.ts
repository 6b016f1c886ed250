import { hueField, numberField, shareField } from '../field'
import { z } from 'zod'

export const EdgeColourSchema = z.object({
  /** How much of the colour that only an edge has is taken away. */
  amount: shareField(0, 1, 0, 'Amount'),
  /** Middle of the hues that count, Oklab degrees; purple at the start, as lenses leave it around bright edges. */
  hue: hueField(310, 'Hue'),
  /** Hues to either side of it. */
  width: numberField(10, 180, 50, { label: 'Hue range', unit: '°', step: 1 }),
  /** How wide the coloured line is, sensor pixels. */
  radius: numberField(1, 12, 4, { label: 'Radius', unit: 'px', step: 1 }),
})
export type EdgeColourSettings = z.infer<typeof EdgeColourSchema>
