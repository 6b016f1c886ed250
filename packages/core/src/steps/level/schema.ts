import { z } from 'zod'

export const LevelSchema = z.object({
  /** Degrees clockwise. */
  angle: z.number().min(-45).max(45).default(0),
  /** Quarter turns clockwise. */
  turns: z.union([z.literal(0), z.literal(1), z.literal(2), z.literal(3)]).default(0),
  /** Left for right, before turning. */
  mirror: z.boolean().default(false),
})
export type LevelSettings = z.infer<typeof LevelSchema>
