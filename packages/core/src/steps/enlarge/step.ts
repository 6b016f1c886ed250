import { defineFrameStep } from '../frameStep'
import { inverseTaps, spreadOf } from '../sharpen/inverse'
import { LIGHT_WEIGHTS } from '../sharpen/step'
import { defineStep, planeLength, planes } from '../step'
import { EnlargeSchema, type EnlargeSettings } from './schema'

/** More pixels than the frame has: part of the one map that says where every pixel comes from. */
export const enlarge = defineFrameStep<EnlargeSettings>({
  id: 'enlarge',
  stage: 'refine',
  schema: EnlargeSchema,
  neutral: EnlargeSchema.parse({}),
  idle: ({ factor }) => factor === 1,
})

/** Noise against detail that enlarged pixels are taken to have. */
const NOISE = 0.02
/** How far an edge may overshoot, of its height. */
const HALO = 0.02

interface Prepared extends EnlargeSettings {
  taps: Float32Array
  /** Mean over the area of a pixel of the frame, and half the side of its taps. */
  area: Float64Array
  areaReach: number
}

const reachFor = (factor: number) => Math.ceil(4 * factor) + 2

/**
 * A pixel is the mean over its area: enlarged, that area's blur is known exactly and is undone, within what lies
 * around, so that edges stay free of halos.
 */
export const enlargeDetail = defineStep<EnlargeSettings, Prepared>({
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
  prepare({ factor, detail }) {
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
    kernels.weigh_light(...planes(raster), light, n, scratch.floats(LIGHT_WEIGHTS))
    kernels.convolve(light, sharp, width, height, stride, scratch.floats(taps), reach)
    // what pixels of the frame saw is their mean: between those is where light may lie, without the kernel's ringing
    const means = room()
    kernels.convolve(light, means, width, height, stride, scratch.floats(area), areaReach)
    kernels.extremes(means, lo, hi, width, height, stride, Math.ceil(scale), room(2))
    kernels.hold_sharp(light, sharp, lo, hi, 0, n, scratch.floats([detail, HALO, 0, 0]))
    kernels.take_light(...planes(raster), light, sharp, n, 1e-4)
    scratch.release(mark)
  },
})
