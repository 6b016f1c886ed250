import { numberField } from '../field'
import { z } from 'zod'

/** Scene stops around mid grey; at NONE nothing becomes black. */
export const BLACK_POINT = { none: -12, to: -1.5 } as const
export const WHITE_POINT = { from: 1.6, to: 6, start: 3.15 } as const

export const PointsSchema = z.object({
  /** Stops around mid grey of the scene light that becomes black. */
  black: numberField(BLACK_POINT.none, BLACK_POINT.to, BLACK_POINT.none, {
    label: 'Black point',
    alone: true,
    unit: 'EV',
    step: 0.1,
  }),
  /** Stops around mid grey of the scene light that becomes display white. */
  white: numberField(WHITE_POINT.from, WHITE_POINT.to, WHITE_POINT.start, {
    label: 'White point',
    alone: true,
    unit: 'EV',
    step: 0.05,
  }),
})
export type PointsSettings = z.infer<typeof PointsSchema>
