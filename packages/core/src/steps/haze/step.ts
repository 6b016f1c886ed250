import { exp2 } from '../../math'
import { runLocal } from '../localLines'
import { defineStep } from '../step'
import { HazeSchema } from './schema'
import { hazeAir, hazeBytes, hazeParts, hazePresence, surveyHaze } from './survey'

/** Least transmission that is divided by, and most that fine drawing is strengthened by. */
const LEAST = 0.08
const MOST_FINE = 2.5

/** Haze taken away or added, by a transmission that the picture itself tells. */
export const haze = defineStep({
  id: 'haze',
  name: 'Haze',
  says: ({ strength }) => (strength > 0 ? 'haze removed' : 'haze added'),
  stage: 'refine',
  schema: HazeSchema,
  neutral: HazeSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  inArea: true,
  yields: 'scene',
  idle: ({ strength }) => strength === 0,
  survey: {
    looks: true,
    key: ({ air, picked }) => (air === 'picked' ? picked.join() : ''),
    bytes: (_settings, overview) => hazeBytes(overview),
    run: (overview, settings, target, kernels, scratch) =>
      surveyHaze(overview, settings, target, kernels, scratch),
  },
  reach: () => 0,
  prepare: (settings) => settings,
  run(tile, { strength, depth }, surveyed) {
    if (!surveyed) return
    const { transmission, base } = hazeParts(surveyed.at, surveyed)
    const air = hazeAir(tile.scratch, surveyed.at)
    runLocal(tile, 'haze_line', [transmission, base], surveyed, [
      ...air,
      // where there is none, none is taken away
      strength > 0 ? strength * hazePresence(tile.scratch, surveyed.at) : strength,
      exp2(depth),
      LEAST,
      MOST_FINE,
    ])
  },
})
