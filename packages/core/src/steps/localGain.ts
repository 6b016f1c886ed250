import { working } from '../colour'
import { LIGHTING, localBytes, mapsOf, SURFACES, surveyLocal, type Locality } from '../analysis/localTone'
import { exp2, log2 } from '../math'
import { address } from '../memory'
import { columnsFor, linesAt } from './localLines'
import type { StepSurvey, Surveyed, Tile } from './step'

/** Gains by local brightness: entries from FROM stops of scene light on, PER_STOP to the stop. */
const FROM = -14
const TO = 8
const PER_STOP = 32
const COUNT = (TO - FROM) * PER_STOP + 1
const LUMINANCE = working.toXyz.slice(3, 6)

/** Least stops out per stop in: tones never trade places, and never all become one. */
const LEAST_SLOPE = 0.12

/** Scene value of mid grey, as stops. */
export const GREY_STOPS = log2(0.18)

/**
 * The table of gains for a change in stops over local brightness in stops around mid grey. Where the change would
 * turn tones around, it gives way, outward from mid grey.
 */
export function gainTable(change: (stops: number) => number): Float32Array {
  const y = Array.from({ length: COUNT }, (_, i) => {
    const s = FROM + i / PER_STOP - GREY_STOPS
    return s + change(s)
  })
  const grey = Math.round((GREY_STOPS - FROM) * PER_STOP)
  const least = LEAST_SLOPE / PER_STOP
  for (let i = grey + 1; i < COUNT; i++) y[i] = Math.max(y[i], y[i - 1] + least)
  for (let i = grey - 1; i >= 0; i--) y[i] = Math.min(y[i], y[i + 1] - least)
  return Float32Array.from(y, (v, i) => exp2(v - (FROM + i / PER_STOP - GREY_STOPS)))
}

const survey = (locality: Locality): StepSurvey<unknown> => ({
  looks: true,
  key: () => '',
  bytes: (_, overview) => localBytes(overview),
  run: (overview, _, target, kernels, scratch) => surveyLocal(overview, locality, target, kernels, scratch),
})
export const surfaceSurvey = survey(SURFACES)
export const lightingSurvey = survey(LIGHTING)

/** Multiplies a tile by gains that depend on the brightness of the surfaces in it. */
export function applyLocal(tile: Tile, table: Float32Array, surveyed: Surveyed, from = FROM): void {
  const { raster, x, y, whole, kernels, scratch } = tile
  const mark = scratch.mark()
  const { width, height } = surveyed
  const { a, b } = mapsOf(surveyed.at, surveyed)
  const gains = scratch.floats(table)
  const weights = scratch.floats(LUMINANCE)
  const lineA = scratch.take(2 * (width + 4) * 4)
  const lineB = lineA + (width + 4) * 4
  const maps = [a / 4, b / 4]
  const memory = new Float32Array(scratch.memory.buffer)
  const step = width / whole.width
  const columns = columnsFor(tile, width)
  for (let j = 0; j < raster.height; j++) {
    linesAt(memory, maps, lineA / 4, width + 4, { width, height }, (y + j + 0.5) / whole.height, columns)
    kernels.local_gain_line(
      address(raster, 0, 0, j),
      address(raster, 1, 0, j),
      address(raster, 2, 0, j),
      raster.stride,
      lineA,
      lineB,
      width,
      x,
      step,
      gains,
      table.length,
      from,
      PER_STOP,
      weights,
      surveyed.lift ?? 0,
    )
  }
  scratch.release(mark)
}

/** Mean local brightness of the picture that was looked over, in stops around mid grey. */
export const meanStops = ({ scratch }: Tile, { at, lift }: Surveyed): number =>
  new Float32Array(scratch.memory.buffer, at, 1)[0] - GREY_STOPS + (lift ?? 0)
