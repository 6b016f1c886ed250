import { z } from 'zod'

export const EdgeBurnSchema = z.object({
  /** Stops at the end of the run-out; below 0 the edges are darker. */
  ev: z.number().min(-4).max(4).default(0),
  /** Where it begins, in half diagonals from the centre. */
  begin: z.number().min(0).max(1.2).default(0.45),
  /** Length until it is full, in half diagonals. */
  run: z.number().min(0.05).max(1.5).default(0.7),
  /** 0 a circle, 1 an oval like the frame. */
  shape: z.number().min(0).max(1).default(0.5),
  /** Centre as fractions of the frame. */
  centre: z.tuple([z.number().min(0).max(1), z.number().min(0).max(1)]).default([0.5, 0.5]),
})
export type EdgeBurnSettings = z.infer<typeof EdgeBurnSchema>
