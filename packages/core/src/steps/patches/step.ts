import { defineStep } from '../step'
import { PatchesSchema, takesEffect } from './schema'

/**
 * Repairs of single places. They are no arithmetic on tiles: the pipeline's layer of mended pictures carries them out,
 * one after the other, on the demosaiced picture at full size.
 */
export const patches = defineStep({
  id: 'patches',
  name: 'Patches',
  says({ patches }) {
    const on = patches.filter((p) => p.on).length
    return `${on} ${on === 1 ? 'patch' : 'patches'}`
  },
  stage: 'mend',
  belongs: 'frame',
  schema: PatchesSchema,
  neutral: PatchesSchema.parse({}),
  idle: ({ patches }) => !patches.some(takesEffect),
  essential: false,
  keep: false,
  takes: 'whole',
  yields: 'camera',
  reach: () => 0,
  prepare: () => undefined,
  run: () => undefined,
})
