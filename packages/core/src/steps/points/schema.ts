import { z } from 'zod'

/** Scene stops around mid grey; at NONE nothing becomes black. */
export const BLACK_POINT = { none: -12, to: -1.5 } as const
export const WHITE_POINT = { from: 1.6, to: 6, start: 3.15 } as const

export const PointsSchema = z.object({
  /** Stops around mid grey of the scene light that becomes black. */
  black: z.number().min(BLACK_POINT.none).max(BLACK_POINT.to).default(BLACK_POINT.none),
  /** Stops around mid grey of the scene light that becomes display white. */
  white: z.number().min(WHITE_POINT.from).max(WHITE_POINT.to).default(WHITE_POINT.start),
})
export type PointsSettings = z.infer<typeof PointsSchema>
