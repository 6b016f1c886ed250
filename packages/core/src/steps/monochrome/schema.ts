import { choiceField, numberField, switchField } from '../field'
import { z } from 'zod'

export const LENS_FILTERS = ['none', 'yellow', 'orange', 'red', 'green', 'blue'] as const
export type LensFilter = (typeof LENS_FILTERS)[number]

export const MonochromeSchema = z.object({
  on: switchField(false, 'Monochrome picture'),
  /** A coloured glass before the lens. */
  filter: choiceField(LENS_FILTERS, 'none', 'Lens filter', {
    none: 'None',
    yellow: 'Yellow',
    orange: 'Orange',
    red: 'Red',
    green: 'Green',
    blue: 'Blue',
  }),
  /** Thickness of the glass: 0 none, 1 usual, 2 twice that. */
  density: numberField(0, 2, 1, { label: 'Filter density', step: 0.05 }),
})
export type MonochromeSettings = z.infer<typeof MonochromeSchema>
