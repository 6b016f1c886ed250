import type { Kernels } from '../kernels/kernels'
import { address, type Raster, type Scratch } from '../memory'
import { DUST_REACH, findDust, type DustSpot } from '../mend/dust'
import { regionMadeSmall } from '../mend/region'
import { findSources, searchedFor, type FoundSource } from '../mend/source'
import { mendSpot, rectsOf, type Spot } from '../mend/spot'
import type { Window } from '../mend/window'
import type { Rect } from '../raw/rect'
import { loadWindow } from './load'
import { planeOf } from './looking'
import { acrossOf, boxOfStrip, followWire, readStrip, type FoundWire } from '../mend/wire'
import type { CopyTask, DustTask, MendTask, SourcesTask, WireTask } from './tasks'

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

/** Carries out patches where they lie in the picture. */
export function mend(kernels: Kernels, scratch: Scratch, { picture, spots, levels }: MendTask): null {
  const mark = scratch.mark()
  for (const spot of spots) {
    mendOne(kernels, scratch, picture, spot, levels)
    scratch.release(mark)
  }
  return null
}

function mendOne(
  kernels: Kernels,
  scratch: Scratch,
  picture: Raster,
  spot: Spot,
  levels: MendTask['levels'],
): void {
  const { target, seen, taken } = rectsOf(spot)
  const [left, top] = [Math.max(target.x, 0), Math.max(target.y, 0)]
  const right = Math.min(target.x + target.width, picture.width)
  const bottom = Math.min(target.y + target.height, picture.height)
  if (left >= right || top >= bottom) return
  const around = windowOf(kernels, scratch, picture, seen)
  const from = taken.map((rect) => ({
    ...windowOf(kernels, scratch, picture, near(rect, picture)),
    ...{ x: rect.x, y: rect.y },
  }))
  const mended = mendSpot(kernels, scratch, spot, around, from, levels)
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

/** Most pixels in which a source is looked for; where there are more, the picture is made smaller. */
const MOST_SEARCHED = 2_250_000
/** Lines that are read at once. */
const BAND = 256

/** A piece of a picture, smaller by a whole number to a side; its corner is a multiple of that. */
function smallWindowOf(kernels: Kernels, scratch: Scratch, source: Raster, rect: Rect, by: number): Window {
  if (by === 1) return windowOf(kernels, scratch, source, rect)
  const [x, y] = [Math.floor(rect.x / by), Math.floor(rect.y / by)]
  const width = Math.floor((rect.x + rect.width) / by) - x
  const height = Math.floor((rect.y + rect.height) / by) - y
  const lines = Math.max(Math.floor(BAND / by), 1)
  const out = [0, 1, 2].map(() => new Float32Array(width * height))
  for (let first = 0; first < height; first += lines) {
    const count = Math.min(lines, height - first)
    const part = { x: x * by, y: (y + first) * by, width: width * by, height: count * by }
    windowOf(kernels, scratch, source, part).planes.forEach((plane, c) => {
      for (let j = 0; j < count * by; j++) {
        const line = (first + Math.floor(j / by)) * width
        for (let i = 0; i < part.width; i++)
          out[c][line + Math.floor(i / by)] += plane[j * part.width + i] / (by * by)
      }
    })
  }
  const [r, g, b] = out
  return { x, y, width, height, planes: [r, g, b] }
}

/** Sources for a region, the best first. */
export function lookForSources(
  kernels: Kernels,
  scratch: Scratch,
  { picture, region, levels, covered }: SourcesTask,
): FoundSource[] {
  const box = searchedFor(region)
  const left = Math.max(box.x, 0)
  const top = Math.max(box.y, 0)
  const width = Math.min(box.x + box.width, picture.width) - left
  const height = Math.min(box.y + box.height, picture.height) - top
  if (width < 8 || height < 8) return []
  const by = Math.ceil(Math.sqrt((width * height) / MOST_SEARCHED))
  const window = smallWindowOf(kernels, scratch, picture, { x: left, y: top, width, height }, by)
  if (by === 1) return findSources(region, window, levels, covered)
  const small = covered.map((r) => regionMadeSmall(r, by))
  return findSources(regionMadeSmall(region, by), window, levels, small).map(({ source, score }) => ({
    ...{ source: [source[0] * by, source[1] * by] as const, score },
  }))
}

/** Longest edge of a picture whose dust is looked for pixel by pixel: in larger ones it is larger too. */
const LARGEST = 4000

/** Dust in a part of a picture. */
export function lookForDust(kernels: Kernels, scratch: Scratch, { picture, part }: DustTask): DustSpot[] {
  const by = Math.ceil(Math.max(picture.width, picture.height) / LARGEST)
  const room = DUST_REACH * by
  const rect = {
    ...{ x: part.x - room, y: part.y - room },
    ...{ width: part.width + 2 * room, height: part.height + 2 * room },
  }
  const at = (v: number) => v * by + (by - 1) / 2
  return findDust(smallWindowOf(kernels, scratch, picture, rect, by))
    .map((d) => ({ ...d, x: at(d.x), y: at(d.y), radius: d.radius * by }))
    .filter(({ x, y }) => x >= part.x && y >= part.y && x < part.x + part.width && y < part.y + part.height)
}

/** Steps of a strip that are read at once. */
const STRIP = 256

/** A wire along a strip. */
export function lookForWire(
  kernels: Kernels,
  scratch: Scratch,
  { picture, strip }: WireTask,
): FoundWire | null {
  const light = new Float32Array(strip.length * acrossOf(strip))
  for (let first = 0; first < strip.length; first += STRIP) {
    const last = Math.min(first + STRIP, strip.length)
    const box = boxOfStrip(strip, first, last)
    const window = { ...windowOf(kernels, scratch, picture, near(box, picture)), x: box.x, y: box.y }
    light.set(readStrip(strip, window, first, last), first * acrossOf(strip))
  }
  return followWire(strip, light) ?? null
}
