import { z } from 'zod'

const amount = z.number().min(-1).max(1).default(0)

/** Local contrast by size: above nothing it stands out, below it is softened. */
export const ReliefSchema = z.object({ fine: amount, medium: amount, broad: amount })
export type ReliefSettings = z.infer<typeof ReliefSchema>
