import { cameraToWorking, neutralFromXy, xyFromKelvin, type CameraColour } from '../../colour'
import { diagonal, multiply, type Triple } from '../../math'
import { defineStep, planeLength, planes } from '../step'
import { CameraColourSchema, type CameraColourSettings } from './schema'

/** The camera response that the settings call neutral, largest 1. */
export function chosenNeutral(settings: CameraColourSettings, camera: CameraColour): Triple {
  if (settings.source === 'sample') return settings.neutral
  if (settings.source === 'kelvin') return neutralFromXy(camera, xyFromKelvin(settings.kelvin, settings.tint))
  const n = camera.asShotNeutral
  const top = Math.max(...n)
  return [n[0] / top, n[1] / top, n[2] / top]
}

/**
 * White balance and camera matrix to the working space. What the sensor clipped would come out coloured, since
 * its channels clip at different levels once balanced; all are held to the lowest.
 */
export const cameraColour = defineStep<CameraColourSettings, number[]>({
  id: 'cameraColour',
  stage: 'balance',
  schema: CameraColourSchema,
  neutral: { source: 'as-shot', kelvin: 5500, tint: 0, neutral: [1, 1, 1] },
  essential: true,
  keep: false,
  yields: 'scene',
  reach: () => 0,
  prepare(settings, { colour, balance }) {
    const neutral = chosenNeutral(settings, colour)
    const g = neutral[1]
    // factor on the as-shot balanced channels that the new balance amounts to, green kept
    const turn = [0, 1, 2].map((c) => ((g / neutral[c]) * balance[1]) / balance[c])
    const clip = Math.min(...turn.map((t, c) => t * balance[c]))
    const unbalance: Triple = [1 / balance[0], 1 / balance[1], 1 / balance[2]]
    const matrix = multiply(cameraToWorking(colour, neutral), diagonal(unbalance))
    // balancing gives green the factor balance[1]; it is 1 where green is the strongest channel
    return [...matrix.map((v) => v * balance[1]), ...turn.map((t) => clip / t)]
  },
  run({ raster, kernels, scratch }, prepared) {
    const mark = scratch.mark()
    kernels.matrix3(...planes(raster), planeLength(raster), scratch.floats(prepared))
    scratch.release(mark)
  },
})
