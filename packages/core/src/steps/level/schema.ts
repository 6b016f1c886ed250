import { numberField, switchField, worded } from '../field'
import { z } from 'zod'

export const LevelSchema = z.object({
  /** Degrees clockwise. */
  angle: numberField(-45, 45, 0, { label: 'Rotation', unit: '°', step: 0.01 }),
  /** Quarter turns clockwise. */
  turns: worded(z.union([z.literal(0), z.literal(1), z.literal(2), z.literal(3)]).default(0), {
    label: 'Quarter turns',
  }),
  /** Left for right, before turning. */
  mirror: switchField(false, 'Mirrored'),
})
export type LevelSettings = z.infer<typeof LevelSchema>
