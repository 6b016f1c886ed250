import { z } from 'zod'
import { kernelWeights } from '../../math'
import { strideFor } from '../../memory'
import type { CfaPattern } from '../../raw'
import { bayerGreen, GREEN_REACH, phases } from '../demosaic/bayer'
import { BELL } from '../demosaic/large'
import { kneeOf } from '../demosaic/step'
import { definePart, type Tile } from '../step'

/**
 * How far red and blue lie from green on one sensor: shares of a radius, by green's radius. The pipeline makes it of
 * the settings and of what is known of the lens.
 */
const ApartSchema = z.object({
  /** The lens's axis, sensor pixels. */
  axis: z.tuple([z.number(), z.number()]),
  /** Pixels of radius from entry to entry. */
  spacing: z.number().positive(),
  red: z.array(z.number()).min(2),
  blue: z.array(z.number()).min(2),
})
export type Apart = z.infer<typeof ApartSchema>

interface Prepared {
  pattern: CfaPattern
  knee: number
  axis: readonly [number, number]
  per: number
  colours: readonly Shift[]
  /** Kernels of six samples and of four. */
  six: Float32Array
  four: Float32Array
}

/** One colour's image against green's: where it lies, and the other way round. */
interface Shift {
  colour: 0 | 2
  there: Float32Array
  back: Float32Array
}

/** Samples around a place that kernels read, in pixels of the mosaic: of one colour, of green. */
const FOUR = 4
const GREEN_SIX = 3
/** Of green along edges, and of a mean of differences, in a mosaic of 6 x 6. */
const ALONG = 6
const MEAN = 3

const NONE: Apart = { axis: [0, 0], spacing: 1, red: [0, 0], blue: [0, 0] }

/** The largest distance between a colour and green, pixels. */
const farthest = ({ spacing, red, blue }: Apart): number =>
  Math.ceil(
    Math.max(...[...red.keys()].map((i) => i * spacing * Math.max(Math.abs(red[i]), Math.abs(blue[i])))),
  )

/** What takes a colour's radius back to green's. */
function reversed(there: readonly number[]): Float32Array {
  return Float32Array.from(there, (_, i) => {
    let green = i
    for (let k = 0; k < 8; k++) green = i / (1 + valueAt(there, green))
    return i === 0 ? -there[0] / (1 + there[0]) : green / i - 1
  })
}

function valueAt(table: readonly number[], at: number): number {
  const i = Math.min(Math.floor(at), table.length - 2)
  return table[i] + Math.min(at - i, 1) * (table[i + 1] - table[i])
}

/**
 * Lays red and blue onto green while they are still a mosaic, so that the demosaic finds all three in one place: it
 * would else put green's drawing where red and blue have none. What is moved is the colours' difference to green, taken
 * where the sensor saw it and green is known in between; differences are smooth, so that moving them loses nothing.
 */
export const mosaicFringes = definePart({
  id: 'mosaicFringes',
  settingsOf: 'fringes',
  stage: 'square-up',
  schema: ApartSchema,
  neutral: NONE,
  essential: false,
  keep: false,
  takes: 'mosaic',
  yields: 'mosaic',
  spare: true,
  given: true,
  reach(apart, _scale, { pattern }) {
    const far = farthest(apart)
    return pattern.size === 2
      ? 3 * far + FOUR + GREEN_REACH + GREEN_SIX + FOUR
      : 2 * far + ALONG + GREEN_SIX + MEAN + GREEN_SIX
  },
  prepare({ axis, spacing, red, blue }, context): Prepared {
    const shift = (colour: 0 | 2, there: readonly number[]): Shift => ({
      ...{ colour, there: Float32Array.from(there) },
      back: reversed(there),
    })
    const colours = [shift(0, red), shift(2, blue)].filter(({ there }) => there.some((v) => v !== 0))
    // whole sixteenths of a pixel away from every place, so that it does not matter where a tile begins
    const [ax, ay] = axis.map((v) => Math.round(v * 16) / 16)
    return {
      ...{ pattern: context.pattern, knee: kneeOf(context), axis: [ax, ay], per: 1 / spacing, colours },
      ...{ six: kernelWeights(false, 1), four: kernelWeights(true, 1) },
    }
  },
  run(tile, prepared) {
    const mark = tile.scratch.mark()
    if (prepared.pattern.size === 2) layBayer(tile, prepared)
    else layLarge(tile, prepared)
    tile.scratch.release(mark)
  },
})

/** Samples planes of a tile at places of its pixels that another colour's image has. */
class Sampler {
  private readonly six: number
  private readonly four: number
  private readonly places: number
  private readonly ones: number

  constructor(
    private readonly tile: Tile,
    private readonly prepared: Prepared,
  ) {
    const { scratch, raster } = tile
    const n = strideFor(raster.width)
    this.six = scratch.floats(prepared.six)
    this.four = scratch.floats(prepared.four)
    this.places = scratch.take(2 * n * 4)
    this.ones = scratch.floats(new Float32Array(n).fill(1))
  }

  /**
   * A line sampled from a plane.
   * @param from the plane: its size, and the pixels of the tile that its samples are: first and step
   * @param to the line: tile pixels of its samples, first and step, how many, and where it is put
   */
  line(
    from: { at: number; stride: number; width: number; height: number; x: number; y: number; step: number },
    to: { x: number; y: number; step: number; n: number; at: number },
    table: number,
    kernel: 4 | 6,
  ): void {
    const { kernels, x, y } = this.tile
    const { axis, per, colours } = this.prepared
    const { step } = from
    kernels.places_apart(
      ...([x + to.x - axis[0], y + to.y - axis[1], to.step, to.n] as const),
      ...([table, per, colours[0].there.length - 1.001] as const),
      ...([(to.x - from.x) / step, (to.y - from.y) / step, to.step / step, 1 / step] as const),
      ...([from.width, from.height, this.places] as const),
    )
    kernels.sample_line(
      ...([from.at, from.stride, 0, 0, 1, 0, this.places, this.places + to.n * 4, to.n] as const),
      ...([
        kernel === 6 ? this.six : this.four,
        kernel,
        from.width,
        from.height,
        this.ones,
        to.at,
        0,
      ] as const),
    )
  }
}

function layBayer(tile: Tile, prepared: Prepared): void {
  const { raster, kernels, scratch } = tile
  const { knee, pattern, colours } = prepared
  const { width: w, height: h, stride } = raster
  const bytes = stride * h * 4
  const [light, moved, green] = [0, 1, 2].map(() => scratch.take(bytes + 64))
  const place = phases(pattern, tile)
  const sampler = new Sampler(tile, prepared)
  kernels.to_log(raster.offset, light, stride * h, knee)
  scratch.copy(light, moved, bytes)

  const [width, height] = [w >> 1, h >> 1]
  const n = strideFor(width)
  /** A colour's own samples close together, and the lines of the tile that they are from. */
  const planes = colours.map(({ colour, there, back }) => {
    const at = colour === 0 ? place.red : place.blue
    const [x, y] = [at & 1, at >> 1]
    const plane = { at: scratch.take(n * height * 4 + 64), stride: n, width, height, x, y, step: 2 }
    const line = (j: number, of: number) => of + ((2 * j + y) * stride + x) * 4
    for (let j = 0; j < height; j++) kernels.every_second(line(j, light), plane.at + j * n * 4, n)
    return { plane, line, there: scratch.floats(there), back: scratch.floats(back) }
  })
  const out = scratch.take(n * 4)

  // green is estimated with the others about where they belong
  for (const { plane, line, there } of planes)
    for (let j = 0; j < height; j++) {
      sampler.line(plane, { x: plane.x, y: 2 * j + plane.y, step: 2, n, at: out }, there, 4)
      kernels.to_every_second(out, line(j, moved), width)
    }
  bayerGreen(tile, moved, place.green, green)
  const whole = { at: green, stride, width: w, height: h, x: 0, y: 0, step: 1 }
  for (const { plane, line, there, back } of planes) {
    // what the sensor saw, less green of the same place of the scene
    for (let j = 0; j < height; j++) {
      sampler.line(whole, { x: plane.x, y: 2 * j + plane.y, step: 2, n, at: out }, back, 6)
      kernels.subtract(plane.at + j * n * 4, out, plane.at + j * n * 4, n)
    }
    const greens = scratch.take(n * 4)
    for (let j = 0; j < height; j++) {
      sampler.line(plane, { x: plane.x, y: 2 * j + plane.y, step: 2, n, at: out }, there, 4)
      kernels.every_second(line(j, green), greens, n)
      kernels.sum(out, greens, out, n)
      kernels.from_log(out, n, knee)
      kernels.to_every_second(out, line(j, raster.offset), width)
    }
  }
}

function layLarge(tile: Tile, { pattern, knee, ...rest }: Prepared): void {
  const { raster, kernels, scratch, x, y } = tile
  const { width: w, height: h, stride } = raster
  const size = stride * h
  const [light, known, green, value, apart, mean, weight, moved] = [0, 1, 2, 3, 4, 5, 6, 7].map(() =>
    scratch.take(size * 4 + 64),
  )
  const colours = scratch.bytes(Uint8Array.from(pattern.colours))
  const period = pattern.size
  const [px, py] = [x, y].map((v) => ((v % period) + period) % period)
  const sampler = new Sampler(tile, { pattern, knee, ...rest })
  const only = (from: number, to: number, colour: number) =>
    kernels.mask_colour(from, to, known, w, h, stride, colours, period, px, py, colour, 0)
  kernels.to_log(raster.offset, light, size, knee)
  only(light, value, 1)
  kernels.green_along(light, known, green, w, h, stride)
  const whole = { stride, width: w, height: h, x: 0, y: 0, step: 1 }
  const sampled = (at: number, to: number, table: number) => {
    for (let j = 0; j < h; j++)
      sampler.line({ ...whole, at }, { x: 0, y: j, step: 1, n: stride, at: to + j * stride * 4 }, table, 6)
  }
  for (const shift of rest.colours) {
    // what the sensor saw, less green of the same place of the scene
    sampled(green, apart, scratch.floats(shift.back))
    kernels.subtract(light, apart, apart, size)
    only(apart, value, shift.colour)
    for (const [from, to] of [
      [value, mean],
      [known, weight],
    ]) {
      kernels.taps7(from, moved, w, h, stride, 1, ...BELL)
      kernels.taps7(moved, to, w, h, stride, stride, ...BELL)
    }
    kernels.divide(mean, weight, mean, size)
    // it changes from there to here as its mean does
    sampled(mean, moved, scratch.floats(shift.there))
    kernels.subtract(moved, mean, moved, size)
    kernels.sum(apart, moved, apart, size)
    kernels.sum(apart, green, apart, size)
    kernels.from_log(apart, size, knee)
    kernels.let_in(raster.offset, apart, raster.offset, known, 1, size)
  }
}
