import type { z } from 'zod'
import { startDevelopment, type Development } from '../../settings'
import type { StepId } from '../../steps'
import { PortionSchema } from '../portion'
import type { ShippedPreset } from './shipped'

type Written = z.input<typeof PortionSchema>

/** A preset of a group, from what it sets. */
export const inGroup =
  (group: string) =>
  (
    id: string,
    name: string,
    notes: string,
    set: Written,
    more: { scalable?: boolean } = {},
  ): ShippedPreset => ({
    ...{ id, name, group, notes },
    scalable: more.scalable ?? true,
    portion: PortionSchema.parse(set),
  })

const START: Development = startDevelopment()

/** Steps as they are at the start, let in wholly. */
export const asBegun = (...ids: StepId[]): Written => ({
  steps: Object.fromEntries(ids.map((id) => [id, START.steps[id]])),
  strength: Object.fromEntries(ids.map((id) => [id, 1])),
  off: Object.fromEntries(ids.map((id) => [id, false])),
})
