import { defineFrameStep } from '../frameStep'
import { LensSchema } from './schema'

/** Takes out what the lens does: distortion, fringes and fall-off, as the file or a profile knows them. */
export const lens = defineFrameStep({
  id: 'lens',
  name: 'Lens',
  says: ({ choice }) => (choice === 'hand' ? 'lens, manual' : 'lens'),
  schema: LensSchema,
  neutral: LensSchema.parse({}),
  idle: ({ choice, bend, edge }) => choice === 'off' || (choice === 'hand' && bend === 0 && edge === 0),
})
