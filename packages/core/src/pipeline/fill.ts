import type { Kernels } from '../kernels/kernels'
import { address, type Raster, type Scratch } from '../memory'
import { complete } from '../mend/fill/complete'
import type { FoundFill } from '../mend/fill/fillMap'
import { BEYOND, lookedAt, markRegion, type Level } from '../mend/fill/ground'
import { barStrange } from '../mend/fill/strange'
import { boxAround } from '../mend/region'
import { common, type Rect } from '../raw/rect'
import { loadWindow } from './load'
import type { FillTask } from './tasks'

/** Bytes that the brightest light of what is looked at becomes; a little beyond stays apart. */
const BRIGHTEST = 240
/** Share of pixels that may be brighter than that. */
const BEYOND_BRIGHTEST = 0.005

/**
 * Where a part of a region is to be taken from.
 * @returns null where there is nothing to take from
 */
export function findFill(
  kernels: Kernels,
  scratch: Scratch,
  { picture, region, part, barred, levels, seed, rough }: FillTask,
  onProgress?: (share: number) => void,
): FoundFill | null {
  const box = boxAround(region, Math.ceil(BEYOND))
  const missing = common(common(box, part), { x: 0, y: 0, width: picture.width, height: picture.height })
  if (missing.width === 0 || missing.height === 0) return null
  const { part: seen, by } = lookedAt(missing, region.radius + BEYOND, picture, rough)
  const level = levelOf(kernels, scratch, picture, seen, by, levels)
  markRegion(level.hole, region, seen, by, BEYOND, missing)
  // what of the region lies elsewhere is as little known
  markRegion(level.barred, region, seen, by, BEYOND)
  for (const other of barred) markRegion(level.barred, other, seen, by, BEYOND)
  const half = (region.radius + BEYOND) / by
  barStrange(level, scratch.memory.buffer, half)
  const taken = complete(kernels, scratch, level, half, seed, onProgress)
  if (!taken) return null
  const { right, down, width, height } = taken
  const corner = { x: seen.x / by + taken.x, y: seen.y / by + taken.y }
  return { by, box: { ...corner, width, height, right, down } }
}

/** A part of a picture as square roots of its light in bytes, with what is clipped barred. */
function levelOf(
  kernels: Kernels,
  scratch: Scratch,
  picture: Raster,
  part: Rect,
  by: number,
  clipped: readonly [number, number, number],
): Level {
  const [width, height] = [part.width / by, part.height / by]
  const pixels = scratch.take(width * height * 4 + 64)
  const barred = new Uint8Array(width * height)
  const light = [0, 1, 2].map(() => new Float32Array(width * height))
  for (let y = 0; y < height; y++) addLine(kernels, scratch, picture, part, by, y, light)
  let bright = 0
  light.forEach((plane, c) => {
    const level = clipped[c]
    for (let i = 0; i < plane.length; i++)
      if (plane[i] >= level && !barred[i]) {
        barred[i] = 1
        bright++
      }
  })
  // where most is clipped, clipped light is what fits
  if (bright > barred.length / 2) barred.fill(0)
  const scale = BRIGHTEST / Math.sqrt(brightest(light))
  const out = new Uint8Array(scratch.memory.buffer, pixels, width * height * 4)
  out.fill(0)
  light.forEach((plane, c) => {
    for (let i = 0; i < plane.length; i++) {
      const v = plane[i] > 0 ? Math.sqrt(plane[i]) * scale + 0.5 : 0
      out[4 * i + c] = v < 255 ? v : 255
    }
  })
  return { width, height, pixels, hole: new Uint8Array(width * height), barred }
}

/** Means of squares of a picture, one line of them, by channel. */
function addLine(
  kernels: Kernels,
  scratch: Scratch,
  picture: Raster,
  part: Rect,
  by: number,
  y: number,
  light: readonly Float32Array[],
): void {
  const width = part.width / by
  const mark = scratch.mark()
  const window = loadWindow(kernels, scratch, picture, part.x, part.y + y * by, part.width, by)
  const share = 1 / (by * by)
  light.forEach((plane, c) => {
    const out = plane.subarray(y * width, (y + 1) * width)
    for (let j = 0; j < by; j++) {
      const line = new Float32Array(scratch.memory.buffer, address(window, c, 0, j), part.width)
      if (by === 1) out.set(line)
      else
        for (let i = 0, at = 0; i < width; i++) {
          let sum = 0
          for (let k = 0; k < by; k++) sum += line[at++]
          out[i] += sum * share
        }
    }
  })
  scratch.release(mark)
}

/** Every so many pixels are looked at for how bright a picture is. */
const EVERY = 61

/** The light that few pixels exceed. */
function brightest(light: readonly Float32Array[]): number {
  const some: number[] = []
  for (const plane of light) for (let i = 0; i < plane.length; i += EVERY) some.push(plane[i])
  const sorted = Float32Array.from(some).sort()
  return Math.max(sorted[Math.floor((1 - BEYOND_BRIGHTEST) * (sorted.length - 1))], 1e-6)
}
