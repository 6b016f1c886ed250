import { defineFrameStep } from '../frameStep'
import { CropSchema, type CropSettings } from './schema'

/** The part of the picture that is shown; what lies outside stays. */
export const crop = defineFrameStep<CropSettings>({
  id: 'crop',
  schema: CropSchema,
  neutral: CropSchema.parse({}),
  idle: ({ rect, inside }) => rect === null && inside,
})
