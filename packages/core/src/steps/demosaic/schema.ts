import { shareField } from '../field'
import { z } from 'zod'

export const DemosaicSchema = z.object({
  /** How readily colour that only fine detail feigns gives way to the colour around: 0 never, 1 always. */
  falseColour: shareField(0, 1, 0.5, 'False colour reduction'),
})
