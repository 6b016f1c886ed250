import { z } from 'zod'

export const SOFTNESS = ['lens', 'focus', 'motion'] as const
export type Softness = (typeof SOFTNESS)[number]

export const SharpenSchema = z.object({
  /** How much of what the blur took is given back: 1 all that noise allows. */
  amount: z.number().min(0).max(2).default(0),
  /** What made it soft: a lens or the sensor's pixels, a missed focus, a movement. */
  softness: z.enum(SOFTNESS).default('lens'),
  /** Sensor pixels: standard deviation of a lens's blur, radius of a missed focus, half the way of a movement. */
  radius: z.number().min(0.3).max(6).default(0.8),
  /** Direction of a movement, degrees clockwise from level. */
  angle: z.number().min(-90).max(90).default(0),
  /** How much larger the radius is in the corners: 0.5 half as much again. */
  corners: z.number().min(0).max(1).default(0),
  /** How much of it even places are spared. */
  edges: z.number().min(0).max(1).default(0),
  /** Differences count half that are so many times the noise. */
  threshold: z.number().min(0).max(5).default(1),
  /** How far edges may overshoot, as a share of their height. */
  halo: z.number().min(0).max(0.5).default(0.04),
})
export type SharpenSettings = z.infer<typeof SharpenSchema>
