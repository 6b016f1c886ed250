import { localBytes, surveyLocal, type Locality } from '../../analysis/localTone'
import { log2 } from '../../math'
import { runLocal } from '../localLines'
import { lightNoise } from '../sharpen/step'
import { defineStep } from '../step'
import { ReliefSchema } from './schema'

/** The three bases: what is finer than the narrow one is fine, and so on. */
export const NARROW: Locality = { radius: 1 / 180, texture: 0.06 }
const BASES: readonly Locality[] = [
  NARROW,
  { radius: 1 / 38, texture: 0.16 },
  { radius: 1 / 10, texture: 0.5 },
]
/** How many times a difference is stretched at full setting, less one; softened it is all but gone. */
const MOST = { fine: 1.1, medium: 1.3, broad: 1.1 }

/** Local contrast at three sizes, apart from edges, with all channels alike. */
export const relief = defineStep({
  id: 'relief',
  name: 'Relief',
  says: ({ fine, medium, broad }) => ([fine, medium, broad].every((v) => v <= 0) ? 'softened' : 'relief'),
  stage: 'refine',
  schema: ReliefSchema,
  neutral: { fine: 0, medium: 0, broad: 0 },
  essential: false,
  keep: false,
  takes: 'picture',
  inArea: true,
  yields: 'scene',
  idle: ({ fine, medium, broad }) => fine === 0 && medium === 0 && broad === 0,
  survey: {
    looks: true,
    key: () => '',
    bytes: (_settings, overview) => BASES.length * localBytes(overview),
    run(overview, _settings, target, kernels, scratch) {
      BASES.forEach((base, i) => {
        const mark = scratch.mark()
        surveyLocal(overview, base, target + i * localBytes(overview), kernels, scratch)
        scratch.release(mark)
      })
    },
  },
  reach: () => 0,
  prepare({ fine, medium, broad }, context) {
    const { b } = lightNoise(context)
    const by = (v: number, most: number) => (v > 0 ? v * most : v * 0.9)
    // two stops above the noise of no light
    const dark = 2 + log2(Math.max(Math.sqrt(b), 1e-5))
    return [by(fine, MOST.fine), by(medium, MOST.medium), by(broad, MOST.broad), dark]
  },
  run(tile, amounts, surveyed) {
    if (!surveyed) return
    const size = localBytes(surveyed)
    const maps = BASES.map((_, i) => surveyed.at + i * size)
    runLocal(tile, 'relief_line', maps, surveyed, amounts)
  },
})
