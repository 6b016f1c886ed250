import { z } from 'zod'

/** Nothing to choose yet: one method, the best there is here. */
export const DemosaicSchema = z.object({})
export type DemosaicSettings = z.infer<typeof DemosaicSchema>
