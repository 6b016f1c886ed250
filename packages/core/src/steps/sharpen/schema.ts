import { choiceField, numberField, shareField } from '../field'
import { z } from 'zod'

export const SOFTNESS = ['lens', 'focus', 'motion'] as const
export type Softness = (typeof SOFTNESS)[number]

export const SharpenSchema = z.object({
  /** How much of what the blur took is given back: 1 all that noise allows. */
  amount: shareField(0, 2, 0, 'Amount'),
  /** What made it soft: a lens or the sensor's pixels, a missed focus, a movement. */
  softness: choiceField(SOFTNESS, 'lens', 'Kind of blur', {
    lens: 'Lens',
    focus: 'Missed focus',
    motion: 'Motion',
  }),
  /** Sensor pixels: standard deviation of a lens's blur, radius of a missed focus, half the way of a movement. */
  radius: numberField(0.3, 6, 0.8, { label: 'Radius', unit: 'px', step: 0.05 }),
  /** Direction of a movement, degrees clockwise from level. */
  angle: numberField(-90, 90, 0, { label: 'Direction', unit: '°', step: 1 }),
  /** How much larger the radius is in the corners: 0.5 half as much again. */
  corners: shareField(0, 1, 0, 'Extra in corners'),
  /** How much of it even places are spared. */
  edges: shareField(0, 1, 0, 'Edges only'),
  /** Differences count half that are so many times the noise. */
  threshold: numberField(0, 5, 1, { label: 'Noise threshold', unit: '×', step: 0.1 }),
  /** How far edges may overshoot, as a share of their height. */
  halo: shareField(0, 0.5, 0.04, 'Overshoot limit', 1),
})
export type SharpenSettings = z.infer<typeof SharpenSchema>
