import { defineFrameStep } from '../frameStep'
import { LevelSchema, type LevelSettings } from './schema'

/** Turns the picture: by degrees, by quarters, and left for right. */
export const level = defineFrameStep<LevelSettings>({
  id: 'level',
  schema: LevelSchema,
  neutral: LevelSchema.parse({}),
  idle: ({ angle, turns, mirror }) => angle === 0 && turns === 0 && !mirror,
})
