import { signed } from '../words'
import {
  cameraToWorking,
  hueSatMapFor,
  lampById,
  neutralFromXy,
  xyFromKelvin,
  type CameraColour,
} from '../../colour'
import { diagonal, exp2, log2, multiply, type Triple } from '../../math'
import { prepareTable, runTable, type PreparedTable } from '../fileRendering'
import { liftTable } from '../baseRendering/curve'
import { defineStep, planeLength, planes } from '../step'
import { CameraColourSchema, type CameraColourSettings } from './schema'

/** The camera response that the settings call neutral, largest 1. */
export function chosenNeutral(settings: CameraColourSettings, camera: CameraColour): Triple {
  if (settings.source === 'sample') return settings.neutral
  if (settings.source === 'lamp') return neutralFromXy(camera, lampById(settings.lamp).xy)
  if (settings.source === 'kelvin') return neutralFromXy(camera, xyFromKelvin(settings.kelvin, settings.tint))
  const n = camera.asShotNeutral
  const top = Math.max(...n)
  return [n[0] / top, n[1] / top, n[2] / top]
}

/** The mean of several neutrals, channel ratios averaged as logarithms; largest 1. */
export function meanNeutral(neutrals: readonly Triple[]): Triple {
  const logs = [0, 2].map(
    (c) => neutrals.reduce((sum, n) => sum + log2(n[c] / n[1]), 0) / Math.max(neutrals.length, 1),
  )
  const ratios = [exp2(logs[0]), 1, exp2(logs[1])]
  const top = Math.max(...ratios)
  return [ratios[0] / top, 1 / top, ratios[2] / top]
}

interface Prepared {
  /** Matrix by rows and the ceilings of the three channels. */
  block: number[]
  map?: PreparedTable
  /** For pictures rendered for a display: factors back to scene light. */
  lift?: readonly number[]
}

/** No light is held back. */
const OPEN = 1e6

/**
 * White balance and camera matrix to the working space, the maker's baseline exposure in it. Where highlights could
 * not be rebuilt (linear files), what the sensor clipped would come out coloured, since its channels clip at
 * different levels once balanced; there all are held to the lowest. Light of a display is brought back to light of a
 * scene here, so that all that follows meets the same kind of light.
 */
export const cameraColour = defineStep({
  id: 'cameraColour',
  name: 'White balance',
  says: ({ source, kelvin, tint, lamp, samples, profile }) => [
    ...(source === 'kelvin' ? [`${Math.round(kelvin)} K, tint ${signed(Math.round(tint), 0)}`] : []),
    ...(source === 'lamp' ? [lampById(lamp).label.toLowerCase()] : []),
    ...(source === 'sample' ? [samples.length > 1 ? `${samples.length} greys` : 'grey picked'] : []),
    ...(profile === 'file' ? ['file’s tables'] : []),
  ],
  stage: 'balance',
  schema: CameraColourSchema,
  neutral: CameraColourSchema.parse({}),
  essential: true,
  keep: false,
  takes: 'picture',
  yields: 'scene',
  reach: () => 0,
  prepare(settings, { colour, balance, survey, baselineExposure, profile, referred }): Prepared {
    const neutral = chosenNeutral(settings, colour)
    const g = neutral[1]
    // factor on the as-shot balanced channels that the new balance amounts to, green kept
    const turn = [0, 1, 2].map((c) => ((g / neutral[c]) * balance[1]) / balance[c])
    const clip = Math.min(...turn.map((t, c) => t * balance[c]))
    const unbalance: Triple = [1 / balance[0], 1 / balance[1], 1 / balance[2]]
    const matrix = multiply(cameraToWorking(colour, neutral), diagonal(unbalance))
    // balancing gives green the factor balance[1]; it is 1 where green is the strongest channel
    const gain = balance[1] * exp2(baselineExposure)
    const map = settings.profile === 'file' && profile ? hueSatMapFor(profile, colour, neutral) : undefined
    return {
      block: [
        ...matrix.map((v) => v * gain),
        ...turn.map((t) => (survey || referred === 'display' ? OPEN : clip / t)),
      ],
      map: map && prepareTable(map),
      lift: referred === 'display' ? liftTable() : undefined,
    }
  },
  run(tile, { block, map, lift }) {
    const { raster, kernels, scratch } = tile
    const mark = scratch.mark()
    kernels.matrix3(...planes(raster), planeLength(raster), scratch.floats(block))
    if (lift) kernels.lift_display(...planes(raster), planeLength(raster), scratch.floats(lift), lift.length)
    if (map) runTable(tile, map)
    scratch.release(mark)
  },
})
