import { searchedFor, type Development, type FoundSource, type Patch } from '@dunkelkammer/core'
import type { Layers } from '../layers'
import { clippedFrom } from '../layers/mended'

/** Sources for a patch, the best first, in sensor coordinates from its middle. None of them is covered by a patch. */
export async function sources(
  layers: Layers,
  development: Development,
  patch: Partial<Patch> & Pick<Patch, 'x' | 'y' | 'radius'>,
): Promise<FoundSource[]> {
  const { plan } = await layers.planned(development)
  const { pool, open } = layers.ground
  const { width, height } = open.context
  const long = Math.max(width, height)
  const region = await layers.mended.regionOf({ shape: 'spot', ...patch })
  const covered = await Promise.all(
    plan.patches.filter((p) => p.id !== patch.id).map((p) => layers.mended.regionOf(p)),
  )
  // as it lay on the sensor: what patches make of it is no source
  const part = searchedFor(region)
  const kept = await layers.developed.take(plan, { quality: 'draft', part, beside: true })
  try {
    const found = await pool.run({
      ...{ kind: 'sources', picture: kept.raster, region, covered, levels: clippedFrom(layers.ground) },
    })
    return found.map(({ source: [x, y], score }) => ({ source: [x / long, y / long], score }))
  } finally {
    kept.release()
  }
}
