import type { Development, DustSpot, DustTask } from '@dunkelkammer/core'
import type { Layers } from '../layers'

/** Side of what is looked at by one task, pixels. */
const SIDE = 1024

/** Dust that is seen on a picture, in sensor coordinates, the surest first. Patches are not looked at. */
export async function dust(layers: Layers, development: Development): Promise<DustSpot[]> {
  const { plan } = await layers.planned(development)
  const { pool, open } = layers.ground
  const { width, height } = open.context
  const long = Math.max(width, height)
  const kept = await layers.developed.take(plan, { quality: 'draft', beside: true })
  try {
    const tasks: DustTask[] = []
    for (let y = 0; y < height; y += SIDE)
      for (let x = 0; x < width; x += SIDE) {
        const part = { x, y, width: Math.min(SIDE, width - x), height: Math.min(SIDE, height - y) }
        tasks.push({ kind: 'dust', picture: kept.raster, part })
      }
    const found = (await pool.runAll(tasks)).flat()
    return found
      .map((d) => ({ ...d, x: (d.x + 0.5) / long, y: (d.y + 0.5) / long, radius: d.radius / long }))
      .sort((a, b) => b.confidence - a.confidence)
  } finally {
    kept.release()
  }
}
