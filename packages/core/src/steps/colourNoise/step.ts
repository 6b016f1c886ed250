import { definePart, planeLength, planes, type PictureContext, type Tile } from '../step'
import { reachOfBlocks, withoutNoise } from '../noise/collaborate'
import { actingNoise, chosenNoise, leavesNoise, rootNoise } from '../noise/model'
import { NoiseSchema, type NoiseSettings } from '../noise/schema'

interface Prepared {
  settings: NoiseSettings
  /** Noise of a square root of light, and the light below which it is that of reading. */
  sigma: number
  knee: number
  /** Nothing has taken the noise away before. */
  whole: boolean
}

/** Half the side of the windows in which colours follow the light. */
const RADIUS = 4
/** Colours count as alike up to so much of the noise, and as following the light from so much on. */
const LIMIT = 0.5
const EPS = 0.3
/** Noise of the mean light and of the two differences, in that of one channel. */
export const ROOT_SPREAD = [0.612, 1.414, 1.414]

/** Whether nothing has taken noise away before: that works in mosaics of 2 x 2 alone. */
const untouched = ({ layout, pattern }: Pick<PictureContext, 'layout' | 'pattern'>) =>
  layout !== 'mosaic' || pattern.size !== 2

/**
 * What is left of the colours' noise once they are interpolated: red and blue against green follow the light in
 * small windows (guided filter, He 2010), as far as they differ by no more than noise. Files without a mosaic of
 * 2 x 2 have all of their noise reduced here.
 */
export const colourNoise = definePart({
  id: 'colourNoise',
  settingsOf: 'noise',
  stage: 'refine',
  schema: NoiseSchema,
  neutral: NoiseSchema.parse({}),
  essential: false,
  keep: true,
  takes: 'picture',
  yields: 'camera',
  spare: true,
  drafts: true,
  inArea: true,
  instead: true,
  idle: leavesNoise,
  reach({ fine }, _scale, { layout, pattern }, draft) {
    const whole = untouched({ layout, pattern })
    if (draft && !whole) return 0
    return 2 * RADIUS + (whole ? reachOfBlocks(fine && !draft) : 0)
  },
  prepare(settings, { noiseModels, balance, layout, pattern }) {
    const { noise } = chosenNoise(noiseModels, settings.source)
    return {
      settings: actingNoise(settings),
      ...rootNoise(noise, balance),
      whole: untouched({ layout, pattern }),
    }
  },
  run(tile, prepared) {
    const { raster, kernels, scratch } = tile
    const { knee, whole, settings } = prepared
    // what it adds shows at close sight alone
    if (tile.draft && !whole) return
    const mark = scratch.mark()
    const n = planeLength(raster)
    const roots = scratch.take(3 * n * 4)
    const of = (p: number, from = roots) => from + p * n * 4
    kernels.to_roots(...planes(raster), n, knee, of(0), of(1), of(2))
    const done = whole ? takeAway(tile, roots, prepared) : roots
    if (settings.colour > 0) smoothColours(tile, of(0, done), [of(1, done), of(2, done)], prepared)
    kernels.from_roots(...planes(raster), n, knee, of(0, done), of(1, done), of(2, done))
    scratch.release(mark)
  },
})

function takeAway(tile: Tile, at: number, { sigma, settings }: Prepared): number {
  const { width, height, stride } = tile.raster
  const { x, y } = tile
  const strengths = [settings.luminance, settings.colour, settings.colour]
  const sigmas = strengths.map((s, p) => Math.max(s, 1e-3) * sigma * ROOT_SPREAD[p])
  const planes = { at, count: 3, plane: planeLength(tile.raster) * 4, stride, width, height, x, y }
  return withoutNoise(tile, planes, sigmas, settings.fine && !tile.draft).at
}

function smoothColours(tile: Tile, light: number, colours: readonly number[], prepared: Prepared): void {
  const { raster, kernels, scratch } = tile
  const { sigma, settings } = prepared
  const n = planeLength(raster)
  const { width, height, stride } = raster
  const [means, squares, value, products, slope, rest, work] = Array.from({ length: 7 }, () =>
    scratch.take(n * 4),
  )
  const box = (from: number, to: number) => kernels.box_sum(from, to, width, height, stride, RADIUS, work)
  const share = 1 / (2 * RADIUS + 1) ** 2
  const eps = sigma * sigma * EPS
  const limit = sigma * LIMIT * Math.max(settings.colour, 0.05)
  box(light, means)
  kernels.multiply(light, light, products, n)
  box(products, squares)
  for (const colour of colours) {
    box(colour, value)
    kernels.multiply(light, colour, slope, n)
    box(slope, products)
    kernels.fit_lines(means, squares, value, products, n, share, eps)
    box(products, slope)
    box(value, rest)
    kernels.approach(colour, light, slope, rest, n, share, limit, Math.min(settings.colour, 1))
  }
}
