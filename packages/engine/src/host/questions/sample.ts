import type { Development } from '@dunkelkammer/core'
import type { Layers } from '../layers'
import { around } from './around'

/**
 * Mean of the camera's channels (white level 1, not balanced) around a place of the picture.
 * @param x, y fractions of the frame's width and height
 * @param radius half the side of the square, sensor pixels
 */
export async function sample(
  layers: Layers,
  development: Development,
  x: number,
  y: number,
  radius: number,
): Promise<[number, number, number]> {
  const { plan, framed } = await layers.planned(development)
  const { square } = framed
  const { pool, open } = layers.ground
  const part = around(square, x * square.width, y * square.height, radius)
  const kept = await layers.mended.take(plan, { quality: 'draft', part })
  try {
    const at = square.toSource(x * square.width, y * square.height) ?? [0, 0]
    const mean = await pool.run({ kind: 'sample', source: kept.raster, x: at[0], y: at[1], radius })
    return mean.map((v, c) => v / open.context.balance[c]) as [number, number, number]
  } finally {
    kept.release()
  }
}
