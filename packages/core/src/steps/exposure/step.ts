import { signed } from '../words'
import { exp2 } from '../../math'
import { defineStep, planeLength } from '../step'
import { ExposureSchema } from './schema'

/** Scene light times a power of two, as if the shutter had been open longer. */
export const exposure = defineStep({
  id: 'exposure',
  name: 'Exposure',
  says: ({ ev }) => `${signed(ev, 2)} EV`,
  stage: 'expose',
  schema: ExposureSchema,
  neutral: { ev: 0 },
  essential: false,
  keep: false,
  takes: 'picture',
  inArea: true,
  yields: 'scene',
  scales: ({ ev }) => exp2(ev),
  reach: () => 0,
  prepare: ({ ev }) => exp2(ev),
  run({ raster, kernels }, gain) {
    kernels.scale(raster.offset, gain, planeLength(raster) * 3)
  },
})
