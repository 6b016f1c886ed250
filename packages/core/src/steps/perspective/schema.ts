import { z } from 'zod'

const angle = z.number().min(-60).max(60).default(0)
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
  tilt: angle,
  swing: angle,
  roll: angle,
  /** How much taller everything becomes. */
  squeeze: z.number().min(-0.5).max(1).default(0),
  size: z.number().min(0.25).max(4).default(1),
  /** How far stretching toward the edges of a wide view is taken back; straight lines give way to it. */
  soften: z.number().min(0).max(1).default(0),
  /** Lines drawn on the picture. */
  guides: z.array(GuideSchema).max(MOST_GUIDES).default([]),
})
export type PerspectiveSettings = z.infer<typeof PerspectiveSchema>
