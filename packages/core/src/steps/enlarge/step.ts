import { defineFrameStep } from '../frameStep'
import { inverseTaps, spreadOf } from '../sharpen/inverse'
import { LIGHT_WEIGHTS } from '../sharpen/step'
import { definePart, planeLength, planes } from '../step'
import { EnlargeSchema, type EnlargeSettings } from './schema'

/** More pixels than the frame has: part of the one map that says where every pixel comes from. */
export const enlarge = defineFrameStep({
  id: 'enlarge',
  name: 'Enlargement',
  says: ({ factor }) => `${factor} \u00d7`,
  stage: 'refine',
  schema: EnlargeSchema,
  neutral: EnlargeSchema.parse({}),
  idle: ({ factor }) => factor === 1,
})

/** Noise against detail that enlarged pixels are taken to have. */
const NOISE = 0.01

interface Prepared extends EnlargeSettings {
  taps: Float32Array
  /** Mean over the area of a pixel of the frame, and half the side of its taps. */
  area: Float64Array
  areaReach: number
}

const reachFor = (factor: number) => Math.ceil(4 * factor) + 2

/**
 * A pixel is the mean over its area: enlarged, that area's blur is known exactly and is undone, within what lies
 * around, so that edges stay free of halos. Colours are treated alike, without a change to the light.
 */
export const enlargeDetail = definePart({
  id: 'enlargeDetail',
  settingsOf: 'enlarge',
  stage: 'refine',
  schema: EnlargeSchema,
  neutral: EnlargeSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'camera',
  idle: ({ factor, detail }) => factor === 1 || detail === 0,
  reach: ({ factor }, scale) => (scale > 1 ? reachFor(factor) + 2 * Math.ceil(factor) : 0),
  prepare({ factor, detail }): Prepared {
    const pixel = { softness: 'pixel', radius: factor / 2, angle: 0 } as const
    const areaReach = Math.ceil(factor / 2)
    const taps = inverseTaps(pixel, NOISE, reachFor(factor))
    return { factor, detail, taps, area: spreadOf(pixel, areaReach), areaReach }
  },
  run(tile, { factor, detail, taps, area, areaReach }) {
    const { raster, kernels, scratch, scale } = tile
    // a view that is smaller than the frame shows none of it
    if (scale <= 1) return
    const reach = reachFor(factor)
    const mark = scratch.mark()
    const n = planeLength(raster)
    const { width, height, stride } = raster
    const room = (k = 1) => scratch.take(k * n * 4)
    const [light, sharp, lo, hi] = [room(), room(), room(), room()]
    const weights = scratch.floats(LIGHT_WEIGHTS)
    const at = scratch.floats(taps)
    kernels.weigh_light(...planes(raster), light, n, weights)
    kernels.convolve(light, sharp, width, height, stride, at, reach)
    // what pixels of the frame saw is their mean: between those is where light may lie, without the kernel's ringing
    const means = room()
    kernels.convolve(light, means, width, height, stride, scratch.floats(area), areaReach)
    kernels.extremes(means, lo, hi, width, height, stride, Math.ceil(scale), room(2))
    kernels.hold_sharp(light, sharp, lo, hi, 0, n, scratch.floats([detail, 0, 0, 0]))
    const sharper = room(3)
    planes(raster).forEach((p, c) =>
      kernels.convolve(p, sharper + c * n * 4, width, height, stride, at, reach),
    )
    kernels.take_colour(
      ...([...planes(raster), light, sharp, sharper, n * 4, 0, n, 1e-4] as const),
      ...([weights, scratch.floats([detail, 0, 0])] as const),
    )
    scratch.release(mark)
  },
})
