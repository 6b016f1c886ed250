import type { FringeSample } from '@dunkelkammer/core'
import type { Layers } from '../layers'
import { sharedOut } from './blocks'

/** Blocks along the long edge that are looked at for fringes, and their side in pixels. */
const BLOCKS = 24
const SIZE = 80

/** What blocks all over the picture say about lateral fringes. */
export async function fringes(layers: Layers): Promise<FringeSample[]> {
  const { pool, open } = layers.ground
  const { width, height } = open.context.sensorSize
  const places: [number, number][] = []
  const step = Math.max(width, height) / BLOCKS
  for (let y = step / 2; y < height; y += step)
    for (let x = step / 2; x < width; x += step) places.push([x, y])
  const tasks = sharedOut(layers, places).map((blocks) => ({
    ...{ kind: 'fringes' as const, picture: open, size: SIZE, blocks },
  }))
  return (await pool.runAll(tasks)).flat()
}
