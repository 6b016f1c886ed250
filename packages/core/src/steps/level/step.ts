import { signed } from '../words'
import { defineFrameStep } from '../frameStep'
import { LevelSchema } from './schema'

/** Turns the picture: by degrees, by quarters, and left for right. */
export const level = defineFrameStep({
  id: 'level',
  name: 'Level',
  belongs: 'frame',
  says: ({ angle, turns, mirror }) => [
    ...(angle !== 0 ? [`${signed(angle, 2)}\u00b0`] : []),
    ...(turns !== 0 ? ['turned'] : []),
    ...(mirror ? ['mirrored'] : []),
  ],
  schema: LevelSchema,
  neutral: LevelSchema.parse({}),
  idle: ({ angle, turns, mirror }) => angle === 0 && turns === 0 && !mirror,
})
