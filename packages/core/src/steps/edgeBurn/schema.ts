import { numberField, shareField, worded } from '../field'
import { z } from 'zod'

export const EdgeBurnSchema = z.object({
  /** Stops at the end of the run-out; below 0 the edges are darker. */
  ev: numberField(-4, 4, 0, { label: 'Amount', unit: 'EV', step: 0.05 }),
  /** Where it begins, in half diagonals from the centre. */
  begin: shareField(0, 1.2, 0.45, 'Start'),
  /** Length until it is full, in half diagonals. */
  run: shareField(0.05, 1.5, 0.7, 'Softness'),
  /** 0 a circle, 1 an oval like the frame. */
  shape: shareField(0, 1, 0.5, 'Oval shape'),
  /** Centre as fractions of the frame. */
  centre: worded(z.tuple([z.number().min(0).max(1), z.number().min(0).max(1)]).default([0.5, 0.5]), {
    label: 'Centre',
  }),
})
export type EdgeBurnSettings = z.infer<typeof EdgeBurnSchema>
