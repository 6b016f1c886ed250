import { stepById, STEPS, type Development } from '@dunkelkammer/core'
import type { Layers } from '../layers'
import { placeOf, withoutAreas } from '../layers/keys'
import type { Releasable } from '../resources'

/**
 * What a development makes of finished colours, from the base rendering to the finish, as a table over encoded sRGB.
 * @param size entries along each channel
 */
export async function table(layers: Layers, development: Development, size: number): Promise<Float32Array> {
  const { plan, framed } = await layers.planned(development)
  // the first that yields finished colours is the rendering
  const after = STEPS.findIndex(({ yields }) => yields === 'display')
  const colours = withoutAreas(plan.render).filter(
    ({ id }) => placeOf(id) > after && stepById.get(id)!.stage !== 'finish',
  )
  const held: Releasable[] = []
  try {
    const steps = await layers.surveys.steps({ ...plan, render: colours }, framed, held)
    const { pool, open } = layers.ground
    return await pool.run({ kind: 'table', picture: open, steps, size })
  } finally {
    held.forEach((k) => k.release())
  }
}
