import { percent } from '../words'
import type { PictureContext } from '../step'
import { defineStep, planeLength, planes, type Tile } from '../step'
import { chosenNoise } from '../noise/model'
import { inverseTaps } from './inverse'
import { SharpenSchema, type SharpenSettings } from './schema'

/** The mask of an edge-bound step in place of the picture; asked for by a view, no setting. */
export interface Shown {
  showMask?: boolean
}

interface Prepared {
  settings: SharpenSettings & Shown
  noise: { a: number; b: number }
  taps: Map<string, Float32Array>
}

/** Radius in picture pixels below which nothing can be given back. */
const LEAST = 0.25
/** Half the side of the largest taps. */
const MOST_REACH = 24
/** Steps of the radius from the middle to the corners. */
const LEVELS = 4
/** Noise that is taken to be there in any case, against the picture's detail: a disc has gaps in what it lets through. */
const NOISE_FLOOR = { lens: 0.0005, focus: 0.001, motion: 0.001 } as const
/** Half the side of the windows in which an edge is looked for, and in which extremes hold overshoot. */
export const WINDOW = 2
/** Times the fall to both sides by which a line may grow beyond what is around it. */
const RIDGE = 2
/** Contrast that counts as none, squared. */
const FLAT = 0.0004
export const LIGHT_WEIGHTS = [0.25, 0.5, 0.25] as const

/** The same for the colours, whose noise is larger and whose errors show more. */
const COLOUR_FLOOR = 0.005
/** Variance of the colours' noise in that of the light. */
const COLOUR_NOISE = 6
const colourReach = (radius: number) => Math.min(Math.ceil(1.5 * radius + 3), MOST_REACH)
/** Half the side of taps that undo a blur of a radius. */
const tapsReach = (softness: SharpenSettings['softness'], radius: number) =>
  Math.min(Math.ceil(softness === 'focus' ? 4 * radius : 5 * radius + 2), MOST_REACH)
const most = ({ radius, corners }: SharpenSettings, scale: number) => radius * (1 + corners) * scale
const windowFor = (radius: number) => Math.max(WINDOW, Math.ceil(radius))

/** Noise of the light of three balanced channels together, as a variance a * light + b. */
export function lightNoise({ noiseModels, balance }: PictureContext): { a: number; b: number } {
  const { noise } = chosenNoise(noiseModels, 'best')
  let [a, b] = [0, 0]
  LIGHT_WEIGHTS.forEach((w, c) => {
    const own = noise[Math.min(c, noise.length - 1)]
    a += w * w * own.a * balance[c]
    b += w * w * own.b * balance[c] * balance[c]
  })
  return { a, b }
}

/** Pixels around a place that count for it. */
export const sharpenReach = (settings: SharpenSettings, scale: number): number =>
  most(settings, scale) < LEAST
    ? 0
    : tapsReach(settings.softness, most(settings, scale)) + windowFor(most(settings, scale))

/**
 * Undoes a known blur of the light (Wiener deconvolution), held back where it would bring up noise or pass the
 * brightness around by more than a little. All channels follow the light; colours that are blurred against it are
 * sharpened more gently, without a change to it.
 */
export const sharpen = defineStep({
  id: 'sharpen',
  name: 'Sharpness',
  says: ({ amount }) => `sharp ${percent(amount)}`,
  stage: 'refine',
  schema: SharpenSchema,
  neutral: SharpenSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  inArea: true,
  yields: 'camera',
  idle: ({ amount }) => amount === 0,
  reach: sharpenReach,
  prepare: (settings, context): Prepared => ({ settings, noise: lightNoise(context), taps: new Map() }),
  run(tile, prepared) {
    const { settings, noise } = prepared
    const { raster, kernels, scratch } = tile
    if (most(settings, tile.scale) < LEAST) return
    const mark = scratch.mark()
    const n = planeLength(raster)
    const room = () => scratch.take(n * 4)
    const [light, sharp, lo, hi, mask] = [room(), room(), room(), room(), room()]
    const weights = scratch.floats(LIGHT_WEIGHTS)
    kernels.weigh_light(...planes(raster), light, n, weights)
    const gain = deconvolve(tile, prepared, light, sharp)
    if (settings.edges > 0) edgesOf(tile, light, mask, noise, settings.edges)
    if (settings.showMask) showMask(tile, settings.edges > 0 ? mask : undefined)
    else {
      const { width, height, stride } = raster
      const r = windowFor(most(settings, tile.scale))
      kernels.extremes(light, lo, hi, width, height, stride, r, scratch.take(2 * n * 4))
      // by the radius in the middle, so that a growing one leaves that as it is
      const apart = windowFor(settings.radius * tile.scale)
      kernels.widen_ridges(light, lo, hi, width, height, stride, apart, RIDGE)
      const t = (settings.threshold * gain) ** 2
      const numbers = [settings.amount, settings.halo, noise.a * t, noise.b * t]
      kernels.hold_sharp(light, sharp, lo, hi, settings.edges > 0 ? mask : 0, n, scratch.floats(numbers))
      const sharper = scratch.take(3 * n * 4)
      const grown = sharpenColours(tile, prepared, sharper) * settings.threshold
      const noisy = COLOUR_NOISE * grown ** 2
      kernels.take_colour(
        ...([
          ...planes(raster),
          light,
          sharp,
          sharper,
          n * 4,
          settings.edges > 0 ? mask : 0,
          n,
          1e-4,
        ] as const),
        ...([weights, scratch.floats([settings.amount, noise.a * noisy, noise.b * noisy])] as const),
      )
    }
    scratch.release(mark)
  },
})

/** How many times as strong as noise the change is that taps make of it. */
function gainOf(taps: Float32Array): number {
  const middle = (taps.length - 1) / 2
  return Math.sqrt(taps.reduce((s, v, i) => s + (i === middle ? v - 1 : v) ** 2, 0))
}

/** The light with its blur undone; by how much noise grows on the way, in the middle of the picture, is returned. */
function deconvolve(tile: Tile, prepared: Prepared, light: number, sharp: number): number {
  const { raster, kernels, scratch, scale } = tile
  const { settings } = prepared
  const { width, height, stride } = raster
  const reach = tapsReach(settings.softness, most(settings, scale))
  const tapsAt = (level: number): Float32Array => {
    const radius = Math.max(settings.radius * (1 + (settings.corners * level) / LEVELS) * scale, 0.2)
    const key = `${scale} ${level}`
    let taps = prepared.taps.get(key)
    if (!taps) {
      if (prepared.taps.size > 24) prepared.taps.clear()
      const blur = { softness: settings.softness, radius, angle: settings.angle }
      prepared.taps.set(key, (taps = inverseTaps(blur, NOISE_FLOOR[settings.softness], reach)))
    }
    return taps
  }
  const run = (level: number, to: number) =>
    kernels.convolve(light, to, width, height, stride, scratch.floats(tapsAt(level)), reach)
  if (settings.corners === 0) {
    run(0, sharp)
    return gainOf(tapsAt(0))
  }
  // the radius grows with the square of the distance: between steps of it, the two results are mixed
  const { whole, x, y } = tile
  const half = Math.sqrt(whole.width ** 2 + whole.height ** 2) / 2
  const [x0, y0] = [(x + 0.5 - whole.width / 2) / half, (y + 0.5 - whole.height / 2) / half]
  const far = (a: number, size: number) => Math.max(Math.abs(a), Math.abs(a + size / half)) ** 2
  const near = (a: number, size: number) =>
    a < 0 && a + size / half > 0 ? 0 : Math.min(Math.abs(a), Math.abs(a + size / half)) ** 2
  const first = Math.floor((near(x0, width) + near(y0, height)) * LEVELS)
  const last = Math.ceil((far(x0, width) + far(y0, height)) * LEVELS)
  const n = planeLength(raster)
  const part = scratch.take(n * 4)
  new Float32Array(scratch.memory.buffer, sharp, n).fill(0)
  for (let level = first; level <= last; level++) {
    run(level, part)
    kernels.add_level(
      ...([part, sharp, width, height, stride, x, y, whole.width / 2, whole.height / 2, 1 / half] as const),
      ...([level, LEVELS] as const),
    )
  }
  return gainOf(tapsAt(0))
}

/** The channels with the middle of the picture's blur undone gently: to three planes. @returns by how much noise grows */
function sharpenColours(tile: Tile, prepared: Prepared, target: number): number {
  const { raster, kernels, scratch, scale } = tile
  const { softness, radius, angle } = prepared.settings
  const { width, height, stride } = raster
  const reach = colourReach(radius * scale)
  const key = `${scale} colour`
  let taps = prepared.taps.get(key)
  if (!taps) {
    const blur = { softness, radius: Math.max(radius * scale, 0.2), angle }
    prepared.taps.set(key, (taps = inverseTaps(blur, COLOUR_FLOOR, reach)))
  }
  const at = scratch.floats(taps)
  planes(raster).forEach((p, c) =>
    kernels.convolve(p, target + c * planeLength(raster) * 4, width, height, stride, at, reach),
  )
  return gainOf(taps)
}

/** How much of each place is an edge: `strict` of it counts. */
export function edgesOf(
  { raster, kernels, scratch }: Tile,
  light: number,
  mask: number,
  noise: { a: number; b: number },
  strict: number,
): void {
  const mark = scratch.mark()
  const n = planeLength(raster)
  const { width, height, stride } = raster
  const [means, squares, work] = [0, 1, 2].map(() => scratch.take(n * 4))
  kernels.multiply(light, light, mask, n)
  kernels.box_sum(light, means, width, height, stride, WINDOW, work)
  kernels.box_sum(mask, squares, width, height, stride, WINDOW, work)
  const share = 1 / (2 * WINDOW + 1) ** 2
  kernels.edge_mask(means, squares, mask, n, share, 4 * noise.a, 4 * noise.b, FLAT, strict)
  scratch.release(mark)
}

/** White where all of the step acts, black where nothing of it does. */
export function showMask({ raster, scratch }: Tile, mask: number | undefined): void {
  const n = planeLength(raster)
  const values = new Float32Array(scratch.memory.buffer)
  for (const p of planes(raster))
    for (let i = 0; i < n; i++) {
      const v = mask === undefined ? 1 : values[mask / 4 + i]
      values[p / 4 + i] = v * v
    }
}
