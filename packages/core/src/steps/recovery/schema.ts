import { shareField } from '../field'
import { z } from 'zod'

export const RecoverySchema = z.object({
  /** How far lights above mid grey are brought back below display white: 0 not at all, 1 up to 6 stops. */
  amount: shareField(0, 1, 0, 'Highlight recovery'),
})
