import { defineFrameStep } from '../frameStep'
import { FallOffSchema } from './schema'

/** Light added toward the corners by hand, on top of what the lens's own correction adds. */
export const fallOff = defineFrameStep({
  id: 'fallOff',
  name: 'Fall-off',
  says: () => 'fall-off',
  schema: FallOffSchema,
  neutral: FallOffSchema.parse({}),
  idle: ({ ev }) => ev === 0,
})
