import { stripBetween, type Development, type FoundWire, type Place } from '@dunkelkammer/core'
import type { Layers } from '../layers'

/** A wire between two places, all in sensor coordinates; undefined where none is seen. */
export async function wire(
  layers: Layers,
  development: Development,
  from: Place,
  to: Place,
): Promise<FoundWire | undefined> {
  const { plan } = await layers.planned(development)
  const { pool, open } = layers.ground
  const long = Math.max(open.context.width, open.context.height)
  const pixel = ({ x, y }: Place): Place => ({ x: x * long - 0.5, y: y * long - 0.5 })
  const strip = stripBetween(pixel(from), pixel(to))
  if (!strip) return undefined
  const kept = await layers.developed.take(plan, { quality: 'draft', beside: true })
  try {
    const found = await pool.run({ kind: 'wire', picture: kept.raster, strip })
    if (!found) return undefined
    return {
      places: found.places.map(({ x, y }) => ({ x: (x + 0.5) / long, y: (y + 0.5) / long })),
      radius: found.radius / long,
    }
  } finally {
    kept.release()
  }
}
