import { z } from 'zod'

export const LENS_FILTERS = ['none', 'yellow', 'orange', 'red', 'green', 'blue'] as const
export type LensFilter = (typeof LENS_FILTERS)[number]

export const MonochromeSchema = z.object({
  on: z.boolean().default(false),
  /** A coloured glass before the lens. */
  filter: z.enum(LENS_FILTERS).default('none'),
  /** Thickness of the glass: 0 none, 1 usual, 2 twice that. */
  density: z.number().min(0).max(2).default(1),
})
export type MonochromeSettings = z.infer<typeof MonochromeSchema>
