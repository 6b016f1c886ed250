import { ROOT_SPREAD } from '../colourNoise/step'
import { reachOfBlocks, withoutNoise } from '../noise/collaborate'
import { chosenNoise, rootNoise } from '../noise/model'
import { defineStep, planeLength, planes } from '../step'
import { AfterNoiseSchema } from './schema'

interface Prepared {
  sigma: number
  knee: number
}

/** A second pass over noise, for what sharpening brought up. */
export const afterNoise = defineStep({
  id: 'afterNoise',
  name: 'Sharpness',
  stage: 'refine',
  schema: AfterNoiseSchema,
  neutral: { amount: 0 },
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'camera',
  idle: ({ amount }) => amount === 0,
  reach: () => reachOfBlocks(false),
  prepare({ amount }, { noiseModels, balance }): Prepared {
    const { sigma, knee } = rootNoise(chosenNoise(noiseModels, 'best').noise, balance)
    return { sigma: amount * sigma, knee }
  },
  run(tile, { sigma, knee }) {
    const { raster, kernels, scratch, x, y } = tile
    const mark = scratch.mark()
    const n = planeLength(raster)
    const { width, height, stride } = raster
    const at = scratch.take(3 * n * 4)
    const of = (p: number, from = at) => from + p * n * 4
    kernels.to_roots(...planes(raster), n, knee, of(0), of(1), of(2))
    const whole = { at, count: 3, plane: n * 4, stride, width, height, x, y }
    const sigmas = ROOT_SPREAD.map((s) => s * sigma)
    const done = withoutNoise(tile, whole, sigmas, false).at
    kernels.from_roots(...planes(raster), n, knee, of(0, done), of(1, done), of(2, done))
    scratch.release(mark)
  },
})
