import { defineFrameStep } from '../frameStep'
import { PerspectiveSchema } from './schema'

/** Turns the camera after the fact, so that uprights stand upright. Lines drawn on the picture alone change nothing. */
export const perspective = defineFrameStep({
  id: 'perspective',
  name: 'Perspective',
  belongs: 'frame',
  says: ({ tilt, swing, roll }) => (tilt || swing || roll ? 'perspective' : 'reshaped'),
  schema: PerspectiveSchema,
  neutral: PerspectiveSchema.parse({}),
  idle: (s) =>
    s.tilt === 0 && s.swing === 0 && s.roll === 0 && s.squeeze === 0 && s.size === 1 && s.soften === 0,
})
