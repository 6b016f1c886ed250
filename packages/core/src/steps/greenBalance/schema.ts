import { switchField } from '../field'
import { z } from 'zod'

export const GreenBalanceSchema = z.object({
  /** Bring the greens of the two kinds of rows together. */
  even: switchField(true, 'Equalise the greens'),
})
