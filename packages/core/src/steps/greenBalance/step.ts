import { defineStep, type SurveyMaps } from '../step'
import type { CfaPattern } from '../../raw'
import { GreenBalanceSchema } from './schema'

interface Prepared {
  maps?: SurveyMaps
  pattern: CfaPattern
}

/**
 * Greens beside red take on a little of red, greens beside blue of blue; left alone, a fine maze shows in even
 * areas. The survey knows by how much they differ where.
 */
export const greenBalance = defineStep({
  id: 'greenBalance',
  name: 'Greens',
  says: () => 'greens not equalised',
  stage: 'refine',
  schema: GreenBalanceSchema,
  neutral: { even: false },
  essential: false,
  keep: false,
  takes: 'mosaic',
  yields: 'mosaic',
  reach: () => 0,
  prepare: ({ even }, { survey, pattern }): Prepared => ({
    maps: even && survey?.uneven ? survey : undefined,
    pattern,
  }),
  run({ raster, x, y, kernels }, { maps, pattern }) {
    if (!maps) return
    const { map, width, height, cell } = maps.greens
    const { colours } = pattern
    kernels.even_greens(
      raster.offset,
      raster.width,
      raster.height,
      raster.stride,
      x,
      y,
      colours[0] === 1 ? 0 : 1,
      colours.indexOf(2) >> 1,
      map,
      width,
      height,
      1 / cell,
    )
  },
})
