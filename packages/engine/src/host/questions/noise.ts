import {
  chosenNoise,
  NOISE_SOURCES,
  type Development,
  type NoiseOf,
  type NoiseSource,
} from '@dunkelkammer/core'
import type { Layers } from '../layers'

/** A noise model: variance = a * signal + b by colour, and where it is from. */
export interface NoiseFinding {
  noise: readonly NoiseOf[]
  /** Missing where nobody knows anything, and the noise of an ordinary sensor is assumed. */
  source?: NoiseSource
  /** Which models there are. */
  known: readonly NoiseSource[]
}

/** What is taken for the picture's noise, and who says so. */
export function noise({ ground }: Layers, development: Development): NoiseFinding {
  const { noiseModels } = ground.open.context
  const known = NOISE_SOURCES.filter((s) => noiseModels[s])
  return { ...chosenNoise(noiseModels, development.steps.noise.source), known }
}
