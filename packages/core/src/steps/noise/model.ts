import type { Triple } from '../../math'
import type { NoiseSettings } from './schema'
import type { NoiseOf } from './stabilise'

/** What is known of a picture's noise, by who says so; one entry for all colours, or one for each. */
export interface NoiseModels {
  /** The file itself. */
  file?: readonly NoiseOf[]
  /** A profile of the camera at this sensitivity. */
  camera?: readonly NoiseOf[]
  /** The picture, by its even places. */
  picture?: readonly NoiseOf[]
}
export type NoiseSource = keyof NoiseModels
export const NOISE_SOURCES: readonly NoiseSource[] = ['file', 'camera', 'picture']

/** Where nothing is known: the noise of an ordinary sensor at its lowest sensitivity. */
export const TYPICAL: NoiseOf = { a: 4e-5, b: 1e-7 }

/** The model that settings ask for; the next best where there is none of that kind. */
export function chosenNoise(
  models: NoiseModels,
  wanted: NoiseSettings['source'],
): { source?: NoiseSource; noise: readonly NoiseOf[] } {
  const order = wanted === 'best' ? NOISE_SOURCES : [wanted, ...NOISE_SOURCES]
  for (const source of order) {
    const noise = models[source]
    if (noise) return { source, noise }
  }
  return { noise: [TYPICAL] }
}

/** Settings that take no noise away. */
export const leavesNoise = ({ mode, luminance, colour }: NoiseSettings): boolean =>
  mode === 'none' || (mode === 'hand' && luminance + colour === 0)

/** Noise of a square root of light, in the most amplified channel, and the light below which it is that of reading. */
export function rootNoise(noise: readonly NoiseOf[], balance: Triple): { sigma: number; knee: number } {
  const { a, b } = noise[Math.min(1, noise.length - 1)]
  const gain = Math.max(balance[0], balance[2])
  const least = Math.max(a, 1e-7)
  return { sigma: Math.sqrt(least * gain) / 2, knee: Math.min((b / least) * gain, 0.02) }
}

/** The numbers by which settings act: automatic takes away as much as the model says there is. */
export function actingNoise(settings: NoiseSettings): NoiseSettings {
  if (settings.mode !== 'automatic') return settings
  return { ...settings, luminance: 1, colour: 1, blotches: 1, keepDetail: 0, tone: 0 }
}
