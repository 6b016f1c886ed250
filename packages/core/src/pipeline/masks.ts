import type { Kernels } from '../kernels/kernels'
import { address, strideFor, type Raster, type Scratch } from '../memory'
import { RADIUS_ENTRIES } from '../geometry'
import { turned, uprightSize } from '../geometry/upright'
import { drawMask, drawRefined, mayHold } from '../masks/draw'
import { insideEdge } from '../masks/enclose'
import { followEdges } from '../masks/follow'
import type { PlannedMask } from '../masks/planned'
import { FITTED_PLANES, mixed, refineMask } from '../masks/refine'
import type { Guide } from '../masks/range'
import type { Box } from '../masks/ways'
import { bandOf, distancesFrom, drawShape, type MaskWindow } from '../masks/shapes'
import type { Rect } from '../raw'
import { cameraColour, planes, type Tile } from '../steps'
import { bringTo } from '../steps/colours'
import { loadWindow } from './load'
import type { EncloseTask, FollowTask, MaskTask, RefineMaskTask } from './tasks'
import type { OpenPicture } from './picture'
import { warpWindow, type Warp } from './warp'

/** What a mask is drawn from: a picture that no later setting changed, and how the frame is sampled from it. */
export interface MaskGround {
  picture: OpenPicture
  source: Raster
  warp?: Warp
}

/** Size of the picture standing upright in sensor coordinates. */
function extent({ context, orientation }: OpenPicture): [width: number, height: number] {
  const { width, height } = uprightSize(context.sensorSize, orientation)
  const long = Math.max(width, height)
  return [width / long, height / long]
}

/** Where the pixels of a part of the frame lie, sensor coordinates. */
function placesIn(
  kernels: Kernels,
  scratch: Scratch,
  { picture, source, warp }: MaskGround,
  { x, y, width, height }: Rect,
): Pick<MaskWindow, 'us' | 'vs'> {
  const [us, vs] = [new Float32Array(width * height), new Float32Array(width * height)]
  const [across, down] = extent(picture)
  const [perX, perY] = [across / source.width, down / source.height]
  if (!warp) {
    for (let j = 0; j < height; j++)
      for (let i = 0; i < width; i++) {
        us[j * width + i] = (x + i + 0.5) * perX
        vs[j * width + i] = (y + j + 0.5) * perY
      }
    return { us, vs }
  }
  const mark = scratch.mark()
  const n = strideFor(width)
  const places = scratch.take(7 * n * 4)
  const numbers = scratch.floats(warp.numbers)
  // green's places: where fringes are taken out, it is where things are
  const green = new Float32Array(scratch.memory.buffer, places + 2 * n * 4, 2 * n)
  for (let j = 0; j < height; j++) {
    kernels.map_line(numbers, warp.tables, RADIUS_ENTRIES, x, y + j, n, places, warp.channels)
    for (let i = 0; i < width; i++) {
      us[j * width + i] = green[i] * perX
      vs[j * width + i] = green[n + i] * perY
    }
  }
  scratch.release(mark)
  return { us, vs }
}

/** A part of the frame in the scene's light as the camera saw it. */
function guideIn(
  kernels: Kernels,
  scratch: Scratch,
  { picture, source, warp }: MaskGround,
  { x, y, width, height }: Rect,
): Guide {
  const mark = scratch.mark()
  const raster = warp
    ? warpWindow(kernels, scratch, source, warp, x, y, width, height)
    : loadWindow(kernels, scratch, source, x, y, width, height)
  const tile: Tile = {
    ...{ x, y, scale: 1, raster, colours: 'rgb', whole: { width: source.width, height: source.height } },
    ...{ kernels, scratch },
  }
  cameraColour.run(tile, cameraColour.prepare(cameraColour.neutral, picture.context))
  bringTo(tile, 'oklab')
  const [L, a, b] = planes(tile.raster).map((_, p) => {
    const plane = new Float32Array(width * height)
    for (let j = 0; j < height; j++)
      plane.set(new Float32Array(scratch.memory.buffer, address(tile.raster, p, 0, j), width), j * width)
    return plane
  })
  scratch.release(mark)
  return { L, a, b }
}

/** A mask's map in a tile of the sensor; undefined where it holds nothing there. */
export function sensorMask(
  scratch: Scratch,
  picture: OpenPicture,
  { map, refined }: PlannedMask,
  { x, y, raster, whole }: Pick<Tile, 'x' | 'y' | 'raster' | 'whole'>,
): Raster | undefined {
  const { width, height } = raster
  const [across, down] = extent(picture)
  const [left, top] = [x - picture.picture.x, y - picture.picture.y]
  const upright = uprightSize(whole, picture.orientation)
  const at = (px: number, py: number) => turned(px, py, whole, picture.orientation)
  const [origin, right, below] = [at(0, 0), at(1, 0), at(0, 1)]
  const [us, vs] = [new Float32Array(width * height), new Float32Array(width * height)]
  const place = (axis: 0 | 1, px: number, py: number) =>
    origin[axis] + px * (right[axis] - origin[axis]) + py * (below[axis] - origin[axis]) + 0.5
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      us[j * width + i] = (place(0, left + i, top + j) / upright.width) * across
      vs[j * width + i] = (place(1, left + i, top + j) / upright.height) * down
    }
  const window = { width, height, us, vs, pixel: across / upright.width, memory: scratch.memory.buffer }
  const drawn = drawRefined(map!, refined, window)
  if (!drawn) return undefined
  const plane = emptyPlane(scratch, { x, y, width, height })
  putPlane(scratch, plane, 0, drawn)
  return plane
}

/** Side of the pieces in which masks are drawn, pixels: many of them lie out of reach of a mask's shapes. */
const CELL = 64

/** Room around the corners of a piece of the frame for what bulges between them, shares of its size. */
const BULGE = 0.1

/** A box on the sensor that holds a small piece of the frame, from its corners. */
function boxAround(
  kernels: Kernels,
  scratch: Scratch,
  ground: MaskGround,
  { x, y, width, height }: Rect,
): Box {
  const [left, right] = [x, x + width - 1]
  const corners = [left, right].flatMap((i) =>
    [y, y + height - 1].map((j) => placesIn(kernels, scratch, ground, { x: i, y: j, width: 1, height: 1 })),
  )
  const [us, vs] = [corners.map((c) => c.us[0]), corners.map((c) => c.vs[0])]
  const ends = (all: number[]) => [Math.min(...all), Math.max(...all)] as const
  const [[u0, u1], [v0, v1]] = [ends(us), ends(vs)]
  const room = BULGE * Math.max(u1 - u0, v1 - v0)
  return { left: u0 - room, right: u1 + room, top: v0 - room, bottom: v1 + room }
}

/** Draws masks in a part of the frame that lies within it. @returns a plane for each; none for those empty there */
export function drawMasks(
  kernels: Kernels,
  scratch: Scratch,
  ground: MaskGround,
  masks: readonly PlannedMask[],
  rect: Rect,
): (Raster | undefined)[] {
  const { warp, source, picture } = ground
  const [across] = extent(picture)
  const perPixel = across / uprightSize(picture.context.sensorSize, picture.orientation).width
  const pixel = warp ? (picture.context.width / warp.frame.width) * perPixel : across / source.width
  const planes: (Raster | undefined)[] = masks.map(() => undefined)
  for (let y = 0; y < rect.height; y += CELL)
    for (let x = 0; x < rect.width; x += CELL) {
      const [width, height] = [Math.min(CELL, rect.width - x), Math.min(CELL, rect.height - y)]
      const part = { x: rect.x + x, y: rect.y + y, width, height }
      const box = boxAround(kernels, scratch, ground, part)
      const reached = masks.map((mask) => mask.map !== undefined || mayHold(mask, box, pixel))
      if (!reached.includes(true)) continue
      let guide: Guide | undefined
      const window: MaskWindow = {
        ...{ width, height, pixel, ...placesIn(kernels, scratch, ground, part) },
        guide: () => (guide ??= guideIn(kernels, scratch, ground, part)),
        memory: scratch.memory.buffer,
      }
      masks.forEach((mask, k) => {
        if (!reached[k]) return
        const drawn = mask.map ? drawRefined(mask.map, mask.refined, window) : drawMask(mask, window)
        if (!drawn) return
        const plane = (planes[k] ??= emptyPlane(scratch, rect))
        for (let j = 0; j < height; j++)
          new Float32Array(scratch.memory.buffer, address(plane, 0, x, y + j), width).set(
            drawn.subarray(j * width, (j + 1) * width),
          )
      })
    }
  return planes
}

function emptyPlane(scratch: Scratch, { width, height }: Rect): Raster {
  const plane = scratch.raster(width, height, 1)
  new Float32Array(scratch.memory.buffer, plane.offset, plane.stride * height).fill(0)
  return plane
}

/** Lines at once: a guide is three pictures wide and more. */
const LINES = 64

/** Draws some lines of a mask. */
export function drawMaskLines(kernels: Kernels, scratch: Scratch, task: MaskTask): null {
  const { mask, rect, from, to, target } = task
  for (let y = from; y < to; y += LINES) {
    const mark = scratch.mark()
    const height = Math.min(LINES, to - y)
    const part = { x: rect.x, y: rect.y + y, width: rect.width, height }
    const [plane] = drawMasks(kernels, scratch, task, [mask], part)
    for (let j = 0; j < height; j++) {
      const to = address(target, 0, 0, y + j)
      if (plane) scratch.copy(address(plane, 0, 0, j), to, plane.stride * 4)
      else new Float32Array(scratch.memory.buffer, to, target.stride).fill(0)
    }
    scratch.release(mark)
  }
  return null
}

/** A part of the picture as it was taken, in the scene's light, whatever its size. */
export function wideGuide(kernels: Kernels, scratch: Scratch, ground: MaskGround, rect: Rect): Guide {
  const { width, height } = rect
  const [L, a, b] = [0, 1, 2].map(() => new Float32Array(width * height))
  for (let y = 0; y < height; y += LINES) {
    const part = { ...rect, y: rect.y + y, height: Math.min(LINES, height - y) }
    const lines = guideIn(kernels, scratch, ground, part)
    L.set(lines.L, y * width)
    a.set(lines.a, y * width)
    b.set(lines.b, y * width)
  }
  return { L, a, b }
}

/** A plane of a raster, without room between its lines. */
export function planeOf({ memory }: Scratch, raster: Raster, plane: number): Float32Array {
  const { width, height } = raster
  const out = new Float32Array(width * height)
  for (let y = 0; y < height; y++)
    out.set(new Float32Array(memory.buffer, address(raster, plane, 0, y), width), y * width)
  return out
}

/** Writes numbers without room between their lines into a plane of a raster. */
export function putPlane({ memory }: Scratch, raster: Raster, plane: number, values: Float32Array): void {
  const { width, height } = raster
  for (let y = 0; y < height; y++)
    new Float32Array(memory.buffer, address(raster, plane, 0, y), width).set(
      values.subarray(y * width, (y + 1) * width),
    )
}

/** Refines a mask that has been drawn for the whole picture. */
export function refineDrawn(kernels: Kernels, scratch: Scratch, task: RefineMaskTask): null {
  const { target, refined, guided } = task
  const { width, height } = target
  const rect = { x: 0, y: 0, width, height }
  const guide = guided ? wideGuide(kernels, scratch, task, rect) : undefined
  const mask = { width, height, values: planeOf(scratch, target, 0) }
  let planes = refineMask(mask, refined, Math.max(width, height), guide)
  // where it cannot be fitted to what it lies on, it is as fine as the map
  if (planes.length > target.planes)
    planes = [mixed(planes[0], planes.slice(1, FITTED_PLANES), guide!), ...planes.slice(FITTED_PLANES)]
  planes.forEach((plane, p) => putPlane(scratch, target, p, plane))
  return null
}

/** Finds where a rough stroke belongs, in a part of the whole picture. */
export function followStroke(kernels: Kernels, scratch: Scratch, task: FollowTask): null {
  const { stroke, rect, target, picture, source } = task
  const window = {
    ...{ width: rect.width, height: rect.height, pixel: extent(picture)[0] / source.width },
    ...placesIn(kernels, scratch, task, rect),
  }
  const band = bandOf(stroke)
  const far = new Float32Array(rect.width * rect.height)
  distancesFrom(stroke, window, stroke.radius + 4 * band, far)
  const guide = wideGuide(kernels, scratch, task, rect)
  const plane = { width: rect.width, height: rect.height, values: far }
  putPlane(scratch, target, 0, followEdges(plane, guide, stroke.radius, band))
  return null
}

/** Finds what of a shape lies inside an edge, in a part of the whole picture. */
export function encloseShape(kernels: Kernels, scratch: Scratch, task: EncloseTask): null {
  const { shape, contrast, rect, target, picture, source } = task
  const { width, height } = rect
  const window = {
    ...{ width, height, pixel: extent(picture)[0] / source.width, memory: scratch.memory.buffer },
    ...placesIn(kernels, scratch, task, rect),
  }
  const values = new Float32Array(width * height)
  drawShape(shape, window, values)
  const guide = wideGuide(kernels, scratch, task, rect)
  putPlane(scratch, target, 0, insideEdge({ width, height, values }, guide, contrast))
  return null
}
