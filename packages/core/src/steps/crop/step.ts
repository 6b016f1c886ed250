import { defineFrameStep } from '../frameStep'
import { CropSchema } from './schema'

/** The part of the picture that is shown; what lies outside stays. */
export const crop = defineFrameStep({
  id: 'crop',
  name: 'Crop',
  belongs: 'frame',
  says: ({ rect }) => (rect ? 'cropped' : 'empty corners'),
  schema: CropSchema,
  neutral: CropSchema.parse({}),
  idle: ({ rect, inside }) => rect === null && inside,
})
