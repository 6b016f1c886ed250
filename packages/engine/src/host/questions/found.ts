import type { Development, FindWish } from '@dunkelkammer/core'
import type { Layers } from '../layers'
import type { Releasable } from '../resources'

/**
 * Looks for something in the picture; a mask that holds it is at once there afterwards.
 * @returns how sure it is of it, 0..1; 0 where there is none
 */
export async function found(layers: Layers, development: Development, wish: FindWish): Promise<number> {
  const { plan } = await layers.planned(development)
  const held: Releasable[] = []
  try {
    return (await layers.maskMaps.found(wish, plan, held)).confidence
  } finally {
    held.forEach((k) => k.release())
  }
}
