import { z } from 'zod'

/** The grips on the tone rail, from dark to light. */
export const GRIPS = ['deepShadows', 'shadows', 'midTones', 'highlights', 'brightHighlights'] as const
export type Grip = (typeof GRIPS)[number]

/** Stops of scene light around mid grey. */
const START: Record<Grip, number> = {
  deepShadows: -5,
  shadows: -2.5,
  midTones: 0,
  highlights: 1.5,
  brightHighlights: 2.75,
}
export const GRIP_RANGE = { from: -8, to: 4, gap: 0.5 } as const
export const GRIP_MOST = 3

const grip = (at: number) =>
  z
    .object({
      /** Stops of scene light around mid grey where it acts most. */
      at: z.number().min(GRIP_RANGE.from).max(GRIP_RANGE.to).default(at),
      /** Stops that the tones there are lifted by. */
      lift: z.number().min(-GRIP_MOST).max(GRIP_MOST).default(0),
    })
    .prefault({})

export const TonesSchema = z
  .object({
    deepShadows: grip(START.deepShadows),
    shadows: grip(START.shadows),
    midTones: grip(START.midTones),
    highlights: grip(START.highlights),
    brightHighlights: grip(START.brightHighlights),
  })
  .refine((t) => GRIPS.every((g, i) => i === 0 || t[g].at - t[GRIPS[i - 1]].at > GRIP_RANGE.gap - 1e-6), {
    message: 'The grips keep their order, half a stop apart.',
  })
export type TonesSettings = z.infer<typeof TonesSchema>
