import { numberField, shareField, worded } from '../field'
import { z } from 'zod'

const angle = (label: string) => numberField(-60, 60, 0, { label, unit: '°', step: 0.05, strength: 'free' })
/** Sensor coordinates, 1 the long edge; lines may end outside of the picture. */
const place = z.tuple([z.number().min(-1).max(2), z.number().min(-1).max(2)])

export const GuideSchema = z.object({
  /** What the line is in the world. */
  is: z.enum(['upright', 'level']),
  from: place,
  to: place,
})
export type Guide = z.infer<typeof GuideSchema>
export const MOST_GUIDES = 24

export const PerspectiveSchema = z.object({
  /** Degrees by which the camera is turned after the fact: up, to the right, and so that the picture turns clockwise. */
  tilt: angle('Tilt'),
  swing: angle('Swing'),
  roll: angle('Roll'),
  /** How much taller everything becomes. */
  squeeze: shareField(-0.5, 1, 0, 'Vertical stretch', 1, { strength: 'free' }),
  size: shareField(0.25, 4, 1, 'Size', 1),
  /** How far stretching toward the edges of a wide view is taken back; straight lines give way to it. */
  soften: shareField(0, 1, 0, 'Reduce stretching'),
  /** Lines drawn on the picture. */
  guides: worded(z.array(GuideSchema).max(MOST_GUIDES).default([]), { label: 'Lines drawn' }),
})
export type PerspectiveSettings = z.infer<typeof PerspectiveSchema>
