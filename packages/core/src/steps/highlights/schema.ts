import { shareField } from '../field'
import { z } from 'zod'

export const HighlightsSchema = z.object({
  /** How far clipped channels are rebuilt: 0 cuts all at the lowest clipping level, 1 rebuilds. */
  rebuild: shareField(0, 1, 1, 'Highlight reconstruction'),
})
