import { address } from '../../memory'
import { defineStep, type SurveyMaps } from '../step'
import type { CfaPattern } from '../../raw'
import { GreenBalanceSchema, type GreenBalanceSettings } from './schema'

interface Prepared {
  maps?: SurveyMaps
  pattern: CfaPattern
}

/**
 * Greens beside red take on a little of red, greens beside blue of blue; left alone, a fine maze shows in even
 * areas. The survey knows by how much they differ where.
 */
export const greenBalance = defineStep<GreenBalanceSettings, Prepared>({
  id: 'greenBalance',
  stage: 'refine',
  schema: GreenBalanceSchema,
  neutral: { even: false },
  essential: false,
  keep: false,
  takes: 'mosaic',
  yields: 'mosaic',
  reach: () => 0,
  prepare: ({ even }, { survey, pattern }) => ({
    maps: even && survey?.uneven ? survey : undefined,
    pattern,
  }),
  run({ raster, x, y, kernels, scratch }, { maps, pattern }) {
    if (!maps) return
    const mark = scratch.mark()
    const gains = scratch.take(raster.stride * 4)
    for (let j = 0; j < raster.height; j++) {
      const row = (((y + j) & 1) * 2) as 0 | 2
      const green = pattern.colours[row] === 1 ? 0 : 1
      const besideBlue = pattern.colours[row + 1 - green] === 2
      kernels.map_line(maps.greens, maps.width, maps.height, x, y + j, raster.width, 1 / maps.cell, gains)
      kernels.even_line(address(raster, 0, 0, j), gains, raster.width, (green ^ x) & 1, besideBlue ? 1 : 0)
    }
    scratch.release(mark)
  },
})
