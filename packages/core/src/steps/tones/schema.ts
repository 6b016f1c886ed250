import { numberField } from '../field'
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

const grip = (name: string, at: number) =>
  z
    .object({
      /** Stops of scene light around mid grey where it acts most. */
      at: numberField(GRIP_RANGE.from, GRIP_RANGE.to, at, {
        label: `${name} at`,
        alone: true,
        unit: 'EV',
        step: 0.05,
      }),
      /** Stops that the tones there are lifted by. */
      lift: numberField(-GRIP_MOST, GRIP_MOST, 0, { label: name, alone: true, unit: 'EV', step: 0.05 }),
    })
    .prefault({})

export const TonesSchema = z
  .object({
    deepShadows: grip('Deep shadows', START.deepShadows),
    shadows: grip('Shadows', START.shadows),
    midTones: grip('Mid-tones', START.midTones),
    highlights: grip('Highlights', START.highlights),
    brightHighlights: grip('Bright highlights', START.brightHighlights),
  })
  .refine((t) => GRIPS.every((g, i) => i === 0 || t[g].at - t[GRIPS[i - 1]].at > GRIP_RANGE.gap - 1e-6), {
    message: 'The grips keep their order, half a stop apart.',
  })
export type TonesSettings = z.infer<typeof TonesSchema>
