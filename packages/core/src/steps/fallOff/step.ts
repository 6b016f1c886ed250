import { defineFrameStep } from '../frameStep'
import { FallOffSchema, type FallOffSettings } from './schema'

/** Light added toward the corners by hand, on top of what the lens's own correction adds. */
export const fallOff = defineFrameStep<FallOffSettings>({
  id: 'fallOff',
  schema: FallOffSchema,
  neutral: FallOffSchema.parse({}),
  idle: ({ ev }) => ev === 0,
  soften: (s, k) => ({ ...s, ev: s.ev * k }),
})
