import { circleOf, reachFor, type Development, type FoundSource, type Patch } from '@dunkelkammer/core'
import type { Layers } from '../layers'
import { clippedFrom } from '../layers/mended'

/** Sources for a patch, the best first, in sensor coordinates from its middle. None of them is covered by a patch. */
export async function sources(
  layers: Layers,
  development: Development,
  patch: Pick<Patch, 'x' | 'y' | 'radius'>,
): Promise<FoundSource[]> {
  const { plan } = await layers.planned(development)
  const { pool, open } = layers.ground
  const { width, height } = open.context
  const long = Math.max(width, height)
  const spot = circleOf(patch, long)
  const reach = reachFor(spot.radius)
  const part = {
    x: Math.floor(spot.x) - reach,
    y: Math.floor(spot.y) - reach,
    width: 2 * reach + 2,
    height: 2 * reach + 2,
  }
  // as it lay on the sensor: what patches make of it is no source
  const kept = await layers.developed.take(plan, { quality: 'draft', part, beside: true })
  try {
    const covered = plan.patches
      .filter((p) => p.x !== patch.x || p.y !== patch.y)
      .map((p) => circleOf(p, long))
    const found = await pool.run({
      ...{ kind: 'sources', picture: kept.raster, spot, covered, levels: clippedFrom(layers.ground) },
    })
    return found.map(({ source: [x, y], score }) => ({ source: [x / long, y / long], score }))
  } finally {
    kept.release()
  }
}
