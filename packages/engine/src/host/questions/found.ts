import type { Development, FindWish } from '@dunkelkammer/core'
import type { Layers } from '../layers'
import type { Releasable } from '../resources'

/**
 * Looks for something in the picture; a mask that holds it is at once there afterwards.
 * @param onShare how far that is, 0..1
 * @returns how sure it is of it, 0..1; 0 where there is none
 */
export async function found(
  layers: Layers,
  development: Development,
  wish: FindWish,
  onShare?: (share: number) => void,
): Promise<number> {
  const { plan } = await layers.planned(development)
  const held: Releasable[] = []
  try {
    return (await layers.maskMaps.found(wish, plan, held, onShare)).confidence
  } finally {
    held.forEach((k) => k.release())
  }
}

/**
 * The borders of the region at a place, of those that the picture divides into.
 * @param x, y sensor coordinates
 * @param count of regions
 * @returns closed ways in sensor coordinates
 */
export async function regionAt(
  layers: Layers,
  development: Development,
  x: number,
  y: number,
  count: number,
): Promise<readonly (readonly [number, number])[][]> {
  const { plan } = await layers.planned(development)
  const held: Releasable[] = []
  try {
    const tree = await layers.maskMaps.regions(plan, held)
    const { pool, open: picture } = layers.ground
    return await pool.run({ kind: 'region', picture, tree, x, y, count })
  } finally {
    held.forEach((k) => k.release())
  }
}
