import { choiceField, numberField, shareField } from '../field'
import { z } from 'zod'

export const BaseRenderingSchema = z.object({
  /** Contrast as with paper: 0 soft to 5 hard, 2 normal. */
  grade: numberField(0, 5, 2, { label: 'Grade', alone: true, step: 0.1, strength: 'held' }),
  /** Stops that mid grey is moved by, white and black where they are. */
  brightness: numberField(-1.5, 1.5, 0, {
    label: 'Brightness',
    alone: true,
    unit: 'EV',
    step: 0.05,
    strength: 'held',
  }),
  /** How late and how suddenly the lights bend to white. */
  shoulder: shareField(-1, 1, 0, 'Shoulder', 5, { strength: 'held' }),
  /** How deep the darkest tones go. */
  toe: shareField(-1, 1, 0, 'Toe', 5, { strength: 'held' }),
  /** Our own rendering, or the look and tone curve that the file brings. */
  rendering: choiceField(['own', 'file'], 'own', 'Rendering', {
    own: 'Dunkelkammer',
    file: 'from the file',
  }),
})
export type BaseRenderingSettings = z.infer<typeof BaseRenderingSchema>
