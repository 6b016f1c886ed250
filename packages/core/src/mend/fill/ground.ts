import { common, grown, type Rect } from '../../raw/rect'
import { boxAround, distancesIn, type Region } from '../region'

/** A picture at one size, in which something is missing. */
export interface Level {
  width: number
  height: number
  /** Address of its pixels: square roots of light as R, G, B and a byte that is 0. */
  pixels: number
  /** 1 where something is missing. */
  hole: Uint8Array
  /** 1 where nothing may be taken from. */
  barred: Uint8Array
}

/** Side of a patch, pixels; as in the kernels. */
export const PATCH = 8
/** Pixels beyond the border of a region that are filled as well: what is to go has soft edges. */
export const BEYOND = 1.5
/** Most pixels that are missing where they are looked at one by one, and most in all that is looked at. */
const MOST = { missing: 700_000, seen: 5_500_000 } as const
/** The same for a rough fill. */
const ROUGH = { missing: 15_000, seen: 700_000 } as const
/** What is looked at around what is missing: so many times its longer side, or its half width, and pixels at least. */
const AROUND = { sides: 3, halves: 8, least: 240 } as const

/**
 * What is looked at for a fill, and how many of its pixels to a side become one.
 * @param half of what is missing at its widest, pixels
 * @param rough as small as is enough for a first look
 */
export function lookedAt(
  missing: Rect,
  half: number,
  picture: { width: number; height: number },
  rough = false,
): { part: Rect; by: number } {
  const most = rough ? ROUGH : MOST
  const around = grown(missing, 2 * PATCH)
  let by = Math.max(Math.ceil(Math.sqrt((around.width * around.height) / most.missing)), 1)
  const side = Math.min(Math.max(missing.width, missing.height), AROUND.halves * half)
  const within = (room: number) => common(grown(missing, room), { x: 0, y: 0, ...picture })
  const tooLarge = (room: number) => {
    const { width, height } = within(room)
    return (width / by) * (height / by) > most.seen
  }
  // at least as much around it as it is large, however small it must be made for that
  let room = Math.max(AROUND.sides * side, AROUND.least)
  while (room > side && tooLarge(room)) room = Math.max(Math.floor(room * 0.9), side)
  while (tooLarge(room)) by++
  const { x, y, width, height } = within(room)
  // whole cells; what is left over at the right and the bottom is not looked at
  return { by, part: { x, y, width: width - (width % by), height: height - (height % by) } }
}

/** Marks what a region covers in a rectangle made smaller, grown by so many pixels of full size. */
export function markRegion(
  marks: Uint8Array,
  region: Region,
  part: Rect,
  by: number,
  beyond: number,
  within: Rect = part,
): void {
  const across = Math.floor(part.width / by)
  const rect = common(common(boxAround(region, Math.ceil(beyond)), part), within)
  if (rect.width === 0 || rect.height === 0) return
  const distance = distancesIn(region, rect, beyond + 1)
  for (let j = 0; j < rect.height; j++)
    for (let i = 0; i < rect.width; i++)
      if (distance[j * rect.width + i] <= beyond)
        marks[Math.floor((rect.y + j - part.y) / by) * across + Math.floor((rect.x + i - part.x) / by)] = 1
}

/** A level of half the size: what is missing in a part is missing in the whole. */
export function halved(from: Level, memory: ArrayBufferLike, pixels: number): Level {
  const [width, height] = [from.width >> 1, from.height >> 1]
  const source = new Uint8Array(memory, from.pixels, from.width * from.height * 4)
  const out = new Uint8Array(memory, pixels, width * height * 4)
  const hole = new Uint8Array(width * height)
  const barred = new Uint8Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const a = 2 * y * from.width + 2 * x
      const b = a + from.width
      const to = y * width + x
      hole[to] = from.hole[a] | from.hole[a + 1] | from.hole[b] | from.hole[b + 1]
      barred[to] = from.barred[a] | from.barred[a + 1] | from.barred[b] | from.barred[b + 1]
      for (let c = 0; c < 3; c++)
        out[4 * to + c] =
          (source[4 * a + c] + source[4 * a + 4 + c] + source[4 * b + c] + source[4 * b + 4 + c] + 2) >> 2
      out[4 * to + 3] = 0
    }
  return { width, height, pixels, hole, barred }
}

/** Which patches lie wholly where something may be taken from: 1 for their first pixels. */
export function allowed({ width, height, hole, barred }: Level): Uint8Array {
  const out = new Uint8Array(width * height)
  // how many usable pixels end here along the line, and how many such lines above each other
  const along = new Uint8Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = width - 1, run = 0; x >= 0; x--) {
      const i = y * width + x
      run = hole[i] || barred[i] ? 0 : Math.min(run + 1, PATCH)
      along[i] = run
    }
  for (let x = 0; x < width; x++)
    for (let y = height - 1, run = 0; y >= 0; y--) {
      const i = y * width + x
      run = along[i] === PATCH ? run + 1 : 0
      if (run >= PATCH) out[i] = 1
    }
  return out
}
