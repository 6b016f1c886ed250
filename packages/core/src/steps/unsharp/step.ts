import { exp2 } from '../../math'
import { edgesOf, LIGHT_WEIGHTS, lightNoise, showMask, WINDOW, type Shown } from '../sharpen/step'
import { defineStep, planeLength, planes } from '../step'
import { UnsharpSchema, type UnsharpSettings } from './schema'

interface Prepared {
  settings: UnsharpSettings & Shown
  noise: { a: number; b: number }
}

const reachAt = (radius: number) => Math.min(Math.ceil(2.5 * radius), 20)

/** Weights of a bell curve from its middle on; they sum to 1 over both sides. */
export function bell(sigma: number, reach: number): number[] {
  const half = Array.from({ length: reach + 1 }, (_, i) =>
    exp2((-(i * i) / (2 * sigma * sigma)) * 1.4426950408889634),
  )
  const sum = half.reduce((s, v, i) => s + (i ? 2 * v : v), 0)
  return half.map((v) => v / sum)
}

/** Unsharp masking of the light: what a blur takes away is added. */
export const unsharp = defineStep({
  id: 'unsharp',
  name: 'Unsharp mask',
  says: () => 'unsharp mask',
  stage: 'refine',
  schema: UnsharpSchema,
  neutral: UnsharpSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  inArea: true,
  yields: 'camera',
  idle: ({ strength }) => strength === 0,
  reach: ({ radius }, scale) => Math.max(reachAt(radius * scale), WINDOW),
  prepare: (settings, context): Prepared => ({ settings, noise: lightNoise(context) }),
  run(tile, { settings, noise }) {
    const { raster, kernels, scratch, scale } = tile
    const mark = scratch.mark()
    const n = planeLength(raster)
    const { width, height, stride } = raster
    const room = () => scratch.take(n * 4)
    const [light, soft, work, mask] = [room(), room(), room(), room()]
    kernels.weigh_light(...planes(raster), light, n, scratch.floats(LIGHT_WEIGHTS))
    if (settings.edges > 0) edgesOf(tile, light, mask, noise, settings.edges)
    if (settings.showMask) showMask(tile, settings.edges > 0 ? mask : undefined)
    else {
      const sigma = Math.max(settings.radius * scale, 0.1)
      const reach = reachAt(settings.radius * scale)
      kernels.blur(light, soft, width, height, stride, scratch.floats(bell(sigma, reach)), reach, work)
      const t = settings.threshold ** 2
      const numbers = scratch.floats([settings.strength, noise.a * t, noise.b * t])
      kernels.add_unsharp(light, soft, settings.edges > 0 ? mask : 0, n, numbers)
      kernels.take_light(...planes(raster), light, soft, n, 1e-4)
    }
    scratch.release(mark)
  },
})
