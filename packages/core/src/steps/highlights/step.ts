import { percent } from '../words'
import { CLIPPED_FROM } from '../../analysis/cells'
import { defineStep, type SurveyMaps } from '../step'
import type { CfaPattern } from '../../raw'
import { HighlightsSchema } from './schema'

interface Prepared {
  maps?: SurveyMaps
  pattern: CfaPattern
  clip: number[]
  rebuild: number
}

/** Times its clipping level that a colour may be rebuilt to: beyond, the guess would run away. */
const MOST = 4

/**
 * Clipped channels from those that are not. Around a clipped photosite the other colours still measure the light;
 * its own colour is theirs times the ratio that the sound surroundings have, spread into the clipped place. Where
 * all are clipped the light stays at the level that clips the last of them, in the surroundings' hue. What is not
 * rebuilt is cut at the level that clips the first, so that it stays neutral.
 */
export const highlights = defineStep({
  id: 'highlights',
  name: 'Highlights',
  says: ({ rebuild }) => `rebuild ${percent(rebuild)}`,
  stage: 'expose',
  schema: HighlightsSchema,
  neutral: { rebuild: 1 },
  essential: true,
  keep: false,
  takes: 'mosaic',
  yields: 'mosaic',
  reach: () => 2,
  prepare: ({ rebuild }, { survey, pattern, balance }): Prepared => ({
    maps: survey?.clipped ? survey : undefined,
    rebuild,
    pattern,
    clip: balance.map((b) => b * CLIPPED_FROM),
  }),
  run(tile, { maps, pattern, clip, rebuild }) {
    if (!maps) return
    const { raster, kernels, scratch } = tile
    const out = scratch.raster(raster.width, raster.height, 1)
    kernels.rebuild_highlights(
      raster.offset,
      out.offset,
      raster.width,
      raster.height,
      raster.stride,
      tile.x,
      tile.y,
      scratch.bytes(Uint8Array.from(pattern.colours)),
      pattern.size,
      scratch.floats(clip),
      maps.red,
      maps.blue,
      maps.width,
      maps.height,
      1 / maps.cell,
      Math.max(...clip) * MOST,
      rebuild,
    )
    tile.raster = out
  },
})
