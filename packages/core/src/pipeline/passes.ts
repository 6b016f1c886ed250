import { address, type Raster, type Scratch } from '../memory'
import { common, grown, type Rect } from '../raw/rect'
import { planeLength, type Tile } from '../steps'
import { loadWindow } from './load'
import { drawMasks, sensorMask, type MaskGround } from './masks'
import type { OpenPicture } from './picture'
import { masksOf, type PlannedStep } from './plan'

/** A mask in a tile. */
export interface TileMask {
  plane: Raster
  /** Where the tile's first pixel lies on it. */
  x: number
  y: number
  /** The part of the tile outside of which it holds nothing; its left end is a multiple of four. */
  box: Rect
}

/** The masks of a tile by their keys; those that hold nothing there are missing. */
export type TileMasks = ReadonlyMap<string, TileMask>

/** The masks of passes in a tile of the frame: those that have been drawn for the view are read, others are drawn. */
export function masksIn(steps: readonly PlannedStep[], tile: Tile, ground: MaskGround): TileMasks {
  const { kernels, scratch, x, y, whole } = tile
  const { width, height } = tile.raster
  const out = new Map<string, TileMask>()
  const masks = masksOf(steps)
  if (masks.size === 0) return out
  const put = (key: string, raster: Raster, left: number, top: number) => {
    const mark = scratch.mark()
    const plane = loadWindow(kernels, scratch, raster, x - left, y - top, width, height)
    const box = boxOf(scratch, plane)
    if (box) out.set(key, { plane, x: 0, y: 0, box: onFours(box) })
    else scratch.release(mark)
  }
  const inside = x >= 0 && y >= 0 && x + width <= whole.width && y + height <= whole.height
  for (const { key, drawn } of masks.values()) {
    if (!drawn?.box) continue
    // over the frame's edge a mask goes on as it ends there
    if (!inside) put(key, drawn.raster, drawn.x, drawn.y)
    else {
      const [left, top] = [x - drawn.x, y - drawn.y]
      const box = common(
        { ...drawn.box, x: drawn.box.x - left, y: drawn.box.y - top },
        { x: 0, y: 0, width, height },
      )
      if (box.width > 0 && box.height > 0)
        out.set(key, { plane: drawn.raster, x: left, y: top, box: onFours(box) })
    }
  }
  const missing = [...masks.values()].filter(({ drawn }) => !drawn)
  if (missing.length === 0) return out
  const rect = common({ x, y, width, height }, { x: 0, y: 0, ...whole })
  drawMasks(kernels, scratch, ground, missing, rect).forEach((plane, i) => {
    if (plane) put(missing[i].key, plane, rect.x, rect.y)
  })
  return out
}

/** The masks of passes in a tile of the sensor, by their maps. */
export function sensorMasks(steps: readonly PlannedStep[], tile: Tile, picture: OpenPicture): TileMasks {
  const out = new Map<string, TileMask>()
  for (const mask of masksOf(steps).values()) {
    const plane = sensorMask(tile.scratch, picture, mask, tile)
    const box = plane && boxOf(tile.scratch, plane)
    if (plane && box) out.set(mask.key, { plane, x: 0, y: 0, box: onFours(box) })
  }
  return out
}

/** The part of a plane outside of which all is 0; undefined where all of it is. */
export function boxOf({ memory }: Scratch, plane: Raster): Rect | undefined {
  const values = new Float32Array(memory.buffer, plane.offset, planeLength(plane))
  let [left, right, top, bottom] = [plane.width, -1, -1, -1]
  for (let y = 0; y < plane.height; y++) {
    const line = y * plane.stride
    let first = 0
    while (first < plane.width && values[line + first] === 0) first++
    if (first === plane.width) continue
    let last = plane.width - 1
    while (values[line + last] === 0) last--
    left = Math.min(left, first)
    right = Math.max(right, last)
    if (top < 0) top = y
    bottom = y
  }
  return right < 0 ? undefined : { x: left, y: top, width: right - left + 1, height: bottom - top + 1 }
}

/** A rectangle with its left end moved to a multiple of four, as kernels go by groups of four. */
function onFours({ x, y, width, height }: Rect): Rect {
  const left = x & ~3
  return { x: left, y, width: width + x - left, height }
}

/**
 * Runs a step on what a tile was before, and puts what it makes in place of what is there now as far as a mask lets
 * it in.
 * @param before the tile as it was; changed by the step
 * @param strength 0..1
 */
export function runInstead(
  tile: Tile,
  before: Raster,
  { plane, x, y, box }: TileMask,
  strength: number,
  run: (whole: Tile) => void,
): void {
  const { kernels, raster } = tile
  run({ ...tile, raster: before })
  const n = (box.width + 3) & ~3
  for (let p = 0; p < raster.planes; p++)
    for (let j = box.y; j < box.y + box.height; j++)
      kernels.blend_masked(
        address(raster, p, box.x, j),
        address(before, p, box.x, j),
        address(plane, 0, x + box.x, y + j),
        strength,
        n,
      )
}

/**
 * Runs a step in the part of a tile that a mask lets it into.
 * @param strength 0..3, of what the step makes against what was there
 * @param reach pixels of surroundings that the step needs
 * @param run the step on a tile, which it may change
 */
export function runMasked(
  tile: Tile,
  { plane, x, y, box }: TileMask,
  strength: number,
  reach: number,
  run: (part: Tile) => void,
): void {
  const { kernels, scratch, raster } = tile
  const mark = scratch.mark()
  const rect = onFours(common(grown(box, reach), { x: 0, y: 0, width: raster.width, height: raster.height }))
  const part = scratch.raster(rect.width, rect.height, 3)
  // lines end in whole groups of four, in the tile as in its part
  const count = part.stride
  for (let p = 0; p < 3; p++)
    for (let j = 0; j < rect.height; j++)
      scratch.copy(address(raster, p, rect.x, rect.y + j), address(part, p, 0, j), count * 4)
  const own: Tile = { ...tile, x: tile.x + rect.x, y: tile.y + rect.y, raster: part }
  run(own)
  const n = (box.width + 3) & ~3
  for (let p = 0; p < 3; p++)
    for (let j = 0; j < box.height; j++)
      kernels.blend_masked(
        address(raster, p, box.x, box.y + j),
        address(own.raster, p, box.x - rect.x, box.y - rect.y + j),
        address(plane, 0, x + box.x, y + box.y + j),
        strength,
        n,
      )
  scratch.release(mark)
}
