import { judgeSoftness, SOFTNESS_BLOCK, type Development, type FoundSoftness } from '@dunkelkammer/core'
import type { Layers } from '../layers'
import { sharedOut } from './blocks'

/** Blocks that are looked at for how soft their edges are, about. */
const BLOCKS = 900

/** How soft the picture is and what made it so, by its edges before they are sharpened; undefined where they do not say. */
export async function softness(layers: Layers, development: Development): Promise<FoundSoftness | undefined> {
  const { pool, open } = layers.ground
  const { width, height } = open.context
  const kept = await layers.mended.take((await layers.planned(development)).plan, { quality: 'draft' })
  try {
    const step = Math.max(Math.sqrt((width * height) / BLOCKS), SOFTNESS_BLOCK / 2)
    const places: [number, number][] = []
    for (let y = 0; y + SOFTNESS_BLOCK <= height; y += step)
      for (let x = 0; x + SOFTNESS_BLOCK <= width; x += step) places.push([Math.floor(x), Math.floor(y)])
    const tasks = sharedOut(layers, places).map((blocks) => ({
      ...{ kind: 'softness' as const, source: kept.raster, blocks },
    }))
    return judgeSoftness((await pool.runAll(tasks)).flat())
  } finally {
    kept.release()
  }
}
