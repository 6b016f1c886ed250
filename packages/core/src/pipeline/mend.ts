import type { Kernels } from '../kernels/kernels'
import { address, type Raster, type Scratch } from '../memory'
import { findSources, reachFor, type FoundSource } from '../mend/source'
import { mendSpot, rectsOf } from '../mend/spot'
import type { Window } from '../mend/window'
import type { Rect } from '../raw/rect'
import { loadWindow } from './load'
import { planeOf } from './looking'
import type { CopyTask, MendTask, SourcesTask } from './tasks'

/** A piece of a picture as numbers; beyond the picture its edge is repeated. */
function windowOf(kernels: Kernels, scratch: Scratch, source: Raster, { x, y, width, height }: Rect): Window {
  // what lies far outside is the edge, repeated: no need to go there
  const mark = scratch.mark()
  const raster = loadWindow(kernels, scratch, source, x, y, width, height)
  const [r, g, b] = [0, 1, 2].map((p) => planeOf(scratch, raster, p))
  scratch.release(mark)
  return { x, y, width, height, planes: [r, g, b] }
}

/** Moves a rectangle so that its middle lies in the picture: all that is beyond the edge repeats it. */
function near({ x, y, width, height }: Rect, source: Raster): Rect {
  const hold = (at: number, side: number, whole: number) => Math.min(Math.max(at, 1 - side), whole - 1)
  return { x: hold(x, width, source.width), y: hold(y, height, source.height), width, height }
}

/** Carries out one patch where it lies in the picture. */
export function mend(kernels: Kernels, scratch: Scratch, { picture, spot, levels }: MendTask): null {
  const { target, seen, taken } = rectsOf(spot)
  const [left, top] = [Math.max(target.x, 0), Math.max(target.y, 0)]
  const right = Math.min(target.x + target.width, picture.width)
  const bottom = Math.min(target.y + target.height, picture.height)
  if (left >= right || top >= bottom) return null
  const around = windowOf(kernels, scratch, picture, seen)
  const from = { ...windowOf(kernels, scratch, picture, near(taken, picture)), x: taken.x, y: taken.y }
  const mended = mendSpot(spot, around, from, levels)
  // the groups of four that hold it are read, changed and written as a whole
  const start = left & ~3
  const count = (right - start + 3) & ~3
  const line = scratch.take(count * 4)
  for (let p = 0; p < 3; p++)
    for (let y = top; y < bottom; y++) {
      const at = address(picture, p, start, y)
      if (picture.format === 'f16') kernels.f16_to_f32(at, line, count)
      else scratch.copy(at, line, count * 4)
      const from = (y - target.y) * target.width + left - target.x
      new Float32Array(scratch.memory.buffer, line, count).set(
        mended[p].subarray(from, from + right - left),
        left - start,
      )
      if (picture.format === 'f16') kernels.f32_to_f16(line, at, count)
      else scratch.copy(line, at, count * 4)
    }
  return null
}

/** Copies a rectangle from one picture to its place in another of the same shape. */
export function copyRect(scratch: Scratch, { source, target, rect }: CopyTask): null {
  for (let p = 0; p < source.planes; p++)
    for (let j = 0; j < rect.height; j++) {
      const from = address(source, p, rect.x, rect.y + j)
      const bytes = address(source, p, rect.x + rect.width, rect.y + j) - from
      scratch.copy(from, address(target, p, rect.x, rect.y + j), bytes)
    }
  return null
}

/** Sources for a spot, the best first. */
export function lookForSources(
  kernels: Kernels,
  scratch: Scratch,
  { picture, spot, levels, covered }: SourcesTask,
): FoundSource[] {
  const reach = reachFor(spot.radius)
  const [x, y] = [Math.round(spot.x) - reach, Math.round(spot.y) - reach]
  const left = Math.max(x, 0)
  const top = Math.max(y, 0)
  const width = Math.min(x + 2 * reach + 1, picture.width) - left
  const height = Math.min(y + 2 * reach + 1, picture.height) - top
  if (width < 8 || height < 8) return []
  const window = windowOf(kernels, scratch, picture, { x: left, y: top, width, height })
  const free = (u: number, v: number) =>
    covered.every((c) => Math.hypot(c.x - u, c.y - v) > c.radius + spot.radius)
  return findSources(spot, window, levels, free)
}
