import { shareField } from '../field'
import { z } from 'zod'

/** Local contrast by size: above nothing it stands out, below it is softened. */
export const ReliefSchema = z.object({
  fine: shareField(-1, 1, 0, 'Fine'),
  medium: shareField(-1, 1, 0, 'Medium'),
  broad: shareField(-1, 1, 0, 'Broad'),
})
export type ReliefSettings = z.infer<typeof ReliefSchema>
