import { z } from 'zod'

const primary = z
  .object({
    /** Degrees that the primary is turned around white, from red toward green toward blue. */
    turn: z.number().min(-30).max(30).default(0),
    /** Its distance from white, as a change of it. */
    spread: z.number().min(-0.5).max(0.5).default(0),
  })
  .prefault({})
export const PRIMARIES = ['red', 'green', 'blue'] as const

export const PrimariesSchema = z.object({ red: primary, green: primary, blue: primary })
export type PrimariesSettings = z.infer<typeof PrimariesSchema>
