import { working } from '../colour'
import { mapsOf } from '../analysis/localTone'
import { address } from '../memory'
import type { Surveyed, Tile } from './step'

const LUMINANCE = working.toXyz.slice(3, 6)

/**
 * A line of each map, interpolated downward.
 * @param maps where they start, `to` where the lines go, `apart` from one to the next; all in floats
 * @param place of the line, share of the whole height
 * @param columns of the maps that are wanted, the first and the last
 */
export function linesAt(
  memory: Float32Array,
  maps: readonly number[],
  to: number,
  apart: number,
  { width, height }: { width: number; height: number },
  place: number,
  [first, last]: readonly [number, number],
): void {
  const v = Math.min(Math.max(place * height - 0.5, 0), height - 1)
  const k = Math.min(Math.floor(v), Math.max(height - 2, 0))
  const f = v - k
  const next = Math.min(k + 1, height - 1)
  maps.forEach((map, n) => {
    const p = map + k * width
    const q = map + next * width
    const at = to + n * apart
    for (let i = first; i <= last; i++) memory[at + i] = memory[p + i] + f * (memory[q + i] - memory[p + i])
  })
}

/** The columns of maps that a tile's lines look at. @param width of the maps */
export function columnsFor({ raster, x, whole }: Tile, width: number): [first: number, last: number] {
  const at = (pixel: number) => ((pixel + 0.5) * width) / whole.width - 0.5
  const held = (column: number) => Math.min(Math.max(column, 0), width - 1)
  // one to either side, as the kernels round differently
  return [held(Math.floor(at(x)) - 1), held(Math.ceil(at(x + raster.stride)) + 1)]
}

/**
 * Runs a kernel over the lines of a tile, each with its lines of the maps, interpolated downward.
 * @param pairs addresses of surveys as `surveyLocal` leaves them
 * @param numbers what the kernel takes besides
 */
export function runLocal(
  tile: Tile,
  kernel: 'relief_line' | 'haze_line',
  pairs: readonly number[],
  { width, height }: Surveyed,
  numbers: readonly number[],
): void {
  const { raster, x, y, whole, kernels, scratch } = tile
  const mark = scratch.mark()
  const given = scratch.floats(numbers)
  const weights = scratch.floats(LUMINANCE)
  const maps = pairs.flatMap((at) => {
    const { a, b } = mapsOf(at, { width, height })
    return [a / 4, b / 4]
  })
  const size = width + 4
  const lines = scratch.take(maps.length * size * 4)
  const memory = new Float32Array(scratch.memory.buffer)
  const step = width / whole.width
  const columns = columnsFor(tile, width)
  for (let j = 0; j < raster.height; j++) {
    linesAt(memory, maps, lines / 4, size, { width, height }, (y + j + 0.5) / whole.height, columns)
    const line = (p: number) => address(raster, p, 0, j)
    kernels[kernel](line(0), line(1), line(2), raster.stride, lines, width, x, step, weights, given)
  }
  scratch.release(mark)
}
