import { percent } from '../words'
import type { CfaPattern } from '../../raw'
import { defineStep, type PictureContext } from '../step'
import { BAYER_REACH, demosaicBayer } from './bayer'
import { demosaicLarge, LARGE_REACH } from './large'
import { DemosaicSchema } from './schema'

interface Prepared {
  pattern: CfaPattern
  /** Light below which the logarithm goes over to a straight line, by the sensor's noise in the dark. */
  knee: number
  /** Doubt about green, as a variance of the logarithm, at which colour half gives way. */
  tau: number
}

/** Knee without noise, and for each unit of noise in the dark. */
const KNEE = { least: 0.004, noise: 10 }
/** Light below which the logarithm of a mosaic goes over to a straight line. */
export const kneeOf = ({ noise }: Pick<PictureContext, 'noise'>): number =>
  KNEE.least + KNEE.noise * Math.sqrt(Math.max(noise?.[1].b ?? 1e-8, 0))

/** Doubt at half strength. */
const TAU = 0.03

/** Mosaic to three colours. */
export const demosaic = defineStep({
  id: 'demosaic',
  name: 'Demosaicing',
  says: ({ falseColour }) => `false colour ${percent(falseColour)}`,
  stage: 'refine',
  schema: DemosaicSchema,
  neutral: { falseColour: 0.5 },
  essential: true,
  keep: true,
  takes: 'mosaic',
  yields: 'camera',
  reach: (_settings, _scale, { pattern }) => (pattern.size === 2 ? BAYER_REACH : LARGE_REACH),
  prepare({ falseColour }, context): Prepared {
    const lean = (1 - falseColour) / Math.max(falseColour, 1e-4)
    return { pattern: context.pattern, knee: kneeOf(context), tau: Math.max(TAU * lean * lean, 1e-9) }
  },
  run(tile, { pattern, knee, tau }) {
    if (pattern.size === 2) demosaicBayer(tile, pattern, knee, tau)
    else demosaicLarge(tile, pattern, knee)
  },
})
