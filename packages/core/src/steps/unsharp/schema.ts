import { numberField, shareField } from '../field'
import { z } from 'zod'

export const UnsharpSchema = z.object({
  /** How much of the difference from the blurred picture is added. */
  strength: shareField(0, 5, 0, 'Amount'),
  /** Standard deviation of the blur, sensor pixels. */
  radius: numberField(0.3, 8, 1, { label: 'Radius', unit: 'px', step: 0.1 }),
  /** Differences count half that are so many times the noise. */
  threshold: numberField(0, 5, 1, { label: 'Noise threshold', unit: '×', step: 0.1 }),
  /** How much of it even places are spared. */
  edges: shareField(0, 1, 0, 'Edges only'),
})
export type UnsharpSettings = z.infer<typeof UnsharpSchema>
