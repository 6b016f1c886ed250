import { defineStep } from '../step'
import { AreasSchema, isAtWork, maskedBy } from './schema'

/**
 * Parts of the picture with settings of their own. They are no arithmetic: planning makes passes of them, each right
 * after the step of the same kind for the whole picture, let in by the area's mask.
 */
export const areas = defineStep({
  id: 'areas',
  name: 'Areas',
  says({ areas }) {
    const on = areas.filter((a) => a.on).length
    return `${on} ${on === 1 ? 'area' : 'areas'}`
  },
  stage: 'shape',
  belongs: 'frame',
  schema: AreasSchema,
  neutral: AreasSchema.parse({}),
  idle: ({ areas }) => !areas.some((area) => isAtWork(area, maskedBy(area, areas))),
  essential: false,
  keep: false,
  takes: 'passes',
  yields: 'display',
  reach: () => 0,
  prepare: () => undefined,
  run: () => undefined,
})
