import type { Development, ToneSpread } from '@dunkelkammer/core'
import type { Layers } from '../layers'

/** Long edge of the picture that is measured. */
const MEASURED = 320

/** How light the picture is as it was taken. */
export async function toneSpread(layers: Layers, development: Development): Promise<ToneSpread> {
  const { plan } = await layers.planned(development)
  const source = await layers.overview.plain(plan, MEASURED)
  try {
    const { pool, open: picture } = layers.ground
    return await pool.run({ kind: 'toneSpread', picture, source: source.raster })
  } finally {
    source.release()
  }
}
