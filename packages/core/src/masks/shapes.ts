import { sinCosDegrees, smoothStep } from '../math'
import { boundsOf } from '../mend/place'
import type { DrawnShape } from './planned'
import { FITTED_PLANES, mixed } from './refine'
import { onMap, sampleMap, type MaskMap } from './map'
import { colourShare, toneSharer, type Guide } from './range'
import type { Shape } from './schema'
import {
  distanceFrom,
  piecesAlong,
  piecesBeside,
  piecesNear,
  turnsAround,
  type Box,
  type Piece,
} from './ways'

/** A piece of the frame in which a mask is drawn. */
export interface MaskWindow {
  width: number
  height: number
  /** Where the middles of its pixels lie, sensor coordinates, line by line. */
  us: Float32Array
  vs: Float32Array
  /** Side of a pixel in them. */
  pixel: number
  /** The picture, where a shape reads it. */
  guide?: () => Guide
  /** Where maps lie. */
  memory?: ArrayBufferLike
}

type Of<K extends Shape['kind']> = Extract<DrawnShape, { kind: K }>
/** How much of a shape there is at each pixel, 0..1; into `out`. */
type Draw<K extends Shape['kind']> = (shape: Of<K>, window: MaskWindow, out: Float32Array) => void

const held = (v: number) => (v < 0 ? 0 : v > 1 ? 1 : v)

function drawRamp({ from, to, middle }: Of<'ramp'>, { us, vs, pixel }: MaskWindow, out: Float32Array): void {
  let [dx, dy] = [to[0] - from[0], to[1] - from[1]]
  const long = Math.sqrt(dx * dx + dy * dy)
  // one without length is an edge across its place
  if (long === 0) [dx, dy] = [0, 1]
  const over = Math.max(long, pixel)
  const per = 1 / (over * (long || 1))
  for (let i = 0; i < out.length; i++) {
    const t = ((us[i] - from[0]) * dx + (vs[i] - from[1]) * dy) * per
    const half = t < middle ? (0.5 * t) / middle : 0.5 + (0.5 * (t - middle)) / (1 - middle)
    out[i] = 1 - smoothStep(held(half))
  }
}

/** Farthest that the inner ring's middle goes, a share of the way to where the rings touch. */
const SHIFT_MOST = 0.95

function drawOval(oval: Of<'oval'>, { us, vs, pixel }: MaskWindow, out: Float32Array): void {
  const { x, y, turn } = oval
  const [sine, cosine] = sinCosDegrees(turn)
  const edge = pixel / Math.min(oval.across, oval.down)
  // a hard edge is a pixel wide, half of it to either side
  const wider = oval.softness < edge ? 1 + edge / 2 : 1
  const [across, down] = [oval.across * wider, oval.down * wider]
  const soft = Math.min(Math.max(oval.softness, edge), 1)
  const inner = 1 - soft
  const far = Math.sqrt(oval.shift[0] ** 2 + oval.shift[1] ** 2)
  const hold = far > soft * SHIFT_MOST ? (soft * SHIFT_MOST) / far : 1
  const [sx, sy] = [oval.shift[0] * hold, oval.shift[1] * hold]
  // rings between the inner one and the oval: their middles go from the shift to 0, their radii from `inner` to 1
  const square = soft * soft - sx * sx - sy * sy
  for (let i = 0; i < out.length; i++) {
    const p = us[i] - x
    const q = vs[i] - y
    const along = (p * cosine + q * sine) / across
    const aside = (q * cosine - p * sine) / down
    if (along * along + aside * aside >= 1) {
      out[i] = 0
      continue
    }
    const u = along - sx
    const v = aside - sy
    const outside = u * u + v * v - inner * inner
    if (outside <= 0) {
      out[i] = 1
      continue
    }
    // |(u, v) + s (sx, sy)| = inner + s soft
    const half = u * sx + v * sy - inner * soft
    const s = (half + Math.sqrt(half * half + square * outside)) / square
    out[i] = s >= 1 ? 0 : 1 - smoothStep(s)
  }
}

const extents = new WeakMap<DrawnShape, { pixel: number; box: Box | undefined }>()

/** Beyond this a shape holds nothing; undefined where it may hold something anywhere. */
export function extentOf(shape: DrawnShape, pixel: number): Box | undefined {
  let found = extents.get(shape)
  if (found?.pixel !== pixel) extents.set(shape, (found = { pixel, box: findExtent(shape, pixel) }))
  return found.box
}

const known = new WeakMap<DrawnShape, { pieces: readonly Piece[]; box: Box }>()

/** The way of a shape in pieces, and the box around it; made once for each shape. */
function wayOf(shape: Of<'stroke'> | Of<'outline'>): { pieces: readonly Piece[]; box: Box } {
  let found = known.get(shape)
  if (!found) {
    const places = shape.places ?? [shape]
    const { x, y, width, height } = boundsOf(places)
    const box = { left: x, top: y, right: x + width, bottom: y + height }
    known.set(shape, (found = { pieces: piecesAlong(places, shape.kind === 'outline'), box }))
  }
  return found
}
const piecesOf = (shape: Of<'stroke'> | Of<'outline'>) => wayOf(shape).pieces

function findExtent(shape: DrawnShape, pixel: number): Box | undefined {
  if (shape.invert) return undefined
  const around = ({ left, top, right, bottom }: Box, by: number): Box => ({
    ...{ left: left - by, top: top - by },
    ...{ right: right + by, bottom: bottom + by },
  })
  if (shape.kind === 'oval') {
    const { x, y } = shape
    return around(
      { left: x, top: y, right: x, bottom: y },
      Math.max(shape.across, shape.down) * 1.01 + 2 * pixel,
    )
  }
  if (shape.kind === 'stroke') {
    const more = shape.follow ? bandOf(shape) : 0
    return around(wayOf(shape).box, shape.radius + more + 2 * pixel)
  }
  if (shape.kind === 'outline') return around(wayOf(shape).box, shape.softness + 2 * pixel)
  return undefined
}

/** Side of the blocks in which pieces of a way are looked up, pixels. */
const BLOCK = 16

/** Calls with each block of a window: the pixels that are its first, its size, and where it lies. */
function eachBlock(
  { width, height, us, vs }: MaskWindow,
  visit: (at: number, across: number, down: number, box: Box) => void,
): void {
  for (let y = 0; y < height; y += BLOCK)
    for (let x = 0; x < width; x += BLOCK) {
      const [across, down] = [Math.min(BLOCK, width - x), Math.min(BLOCK, height - y)]
      const box = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity }
      for (let j = 0; j < down; j++)
        for (let i = 0; i < across; i++) {
          const at = (y + j) * width + x + i
          box.left = Math.min(box.left, us[at])
          box.right = Math.max(box.right, us[at])
          box.top = Math.min(box.top, vs[at])
          box.bottom = Math.max(box.bottom, vs[at])
        }
      visit(y * width + x, across, down, box)
    }
}

/** Distance of each pixel from the way of a stroke, as far as `end`, more where it was pressed less; Infinity beyond. */
export function distancesFrom(
  stroke: Of<'stroke'>,
  window: Pick<MaskWindow, 'us' | 'vs' | 'width' | 'height' | 'pixel'>,
  end: number,
  out: Float32Array,
): void {
  const { width, us, vs } = window
  const pieces = piecesOf(stroke)
  out.fill(Infinity)
  eachBlock(window, (first, across, down, box) => {
    const near = piecesNear(pieces, box, end)
    if (near.length === 0) return
    for (let j = 0; j < down; j++)
      for (let i = 0; i < across; i++) {
        const at = first + j * width + i
        out[at] = distanceFrom(near, us[at], vs[at], stroke.radius)
      }
  })
}

/** How far the border of a stroke that follows edges may be moved, long edges: a share of its radius, and at most. */
const BAND = { share: 0.5, most: 0.03 } as const
export const bandOf = ({ radius }: Of<'stroke'>): number => Math.min(BAND.share * radius, BAND.most)

/** Leaves of a shape what a map lets in. */
function keepOnMap(map: MaskMap, { us, vs, memory }: MaskWindow, out: Float32Array): void {
  const share = new Float32Array(out.length)
  sampleMap(memory!, map, 0, us, vs, share)
  for (let i = 0; i < out.length; i++) out[i] *= onMap(map, us[i], vs[i]) ? smoothStep(share[i]) : 0
}

function drawStroke(stroke: Of<'stroke'>, window: MaskWindow, out: Float32Array): void {
  const { radius, softness, flow, followed } = stroke
  const { pixel } = window
  const fade = Math.max(softness * radius, pixel)
  // a hard one ends at its radius
  const hard = softness * radius < pixel ? pixel / 2 : 0
  const end = Math.max(radius, fade) + hard + (followed ? bandOf(stroke) : 0)
  distancesFrom(stroke, window, end, out)
  for (let i = 0; i < out.length; i++) out[i] = flow * smoothStep(held((end - out[i]) / fade))
  if (followed) keepOnMap(followed, window, out)
}

function drawOutline(outline: Of<'outline'>, window: MaskWindow, out: Float32Array): void {
  const { width, us, vs, pixel } = window
  const places = outline.places ?? []
  out.fill(0)
  if (places.length < 3) return
  const over = Math.max(outline.softness, pixel)
  const pieces = piecesOf(outline)
  eachBlock(window, (first, across, down, box) => {
    const beside = piecesBeside(pieces, box)
    const near = piecesNear(pieces, box, over / 2)
    if (beside.length + near.length === 0) return
    for (let j = 0; j < down; j++)
      for (let i = 0; i < across; i++) {
        const at = first + j * width + i
        const inside = turnsAround(beside, us[at], vs[at]) !== 0
        const d = near.length > 0 ? distanceFrom(near, us[at], vs[at]) : Infinity
        out[at] = smoothStep(held(0.5 + (inside ? d : -d) / over))
      }
  })
}

/** A map in a window, as fine as what it was fitted to is there. */
export function sampleFitted(map: MaskMap, window: MaskWindow): Float32Array {
  const { us, vs, memory } = window
  const sample = (plane: number) => {
    const out = new Float32Array(us.length)
    sampleMap(memory!, map, plane, us, vs, out)
    return out
  }
  const mask = sample(0)
  return map.raster.planes >= FITTED_PLANES ? mixed(mask, [1, 2, 3, 4].map(sample), window.guide!()) : mask
}

/** Shares so near to none or all are what fitting leaves beside a border. */
const REST = 0.04

function drawFound({ found }: DrawnShape, window: MaskWindow, out: Float32Array): void {
  const share = sampleFitted(found!, window)
  for (let i = 0; i < out.length; i++) out[i] = held((share[i] - REST) / (1 - 2 * REST))
}

function drawDistance(shape: Of<'distance'>, window: MaskWindow, out: Float32Array): void {
  const { from, to, softness } = shape
  out.set(sampleFitted(shape.found!, window))
  const over = Math.max(softness, 1e-3)
  // at its ends it is open
  const low = from <= 0 ? -Infinity : from
  const high = to >= 1 ? Infinity : to
  for (let i = 0; i < out.length; i++) {
    const v = out[i]
    out[i] = smoothStep(held(1 - (low - v) / over)) * smoothStep(held(1 - (v - high) / over))
  }
}

function drawTones({ range }: Of<'tones'>, { guide }: MaskWindow, out: Float32Array): void {
  const { L } = guide!()
  const share = toneSharer(range)
  for (let i = 0; i < out.length; i++) out[i] = share(L[i])
}

function drawColours({ range }: Of<'colours'>, { guide }: MaskWindow, out: Float32Array): void {
  const { L, a, b } = guide!()
  for (let i = 0; i < out.length; i++) out[i] = colourShare(range, L[i], a[i], b[i])
}

const DRAW: { [K in Shape['kind']]: Draw<K> } = {
  ramp: drawRamp,
  oval: drawOval,
  stroke: drawStroke,
  outline: drawOutline,
  tones: drawTones,
  colours: drawColours,
  found: drawFound,
  distance: drawDistance,
  alike: drawFound,
  regions: drawFound,
}

/** How much of a shape there is at each pixel of a window, without what it does to others; into `out`. */
export function drawShape(shape: DrawnShape, window: MaskWindow, out: Float32Array): void {
  const draw = DRAW[shape.kind] as unknown as (...all: Parameters<typeof drawShape>) => void
  draw(shape, window, out)
  if (shape.invert) for (let i = 0; i < out.length; i++) out[i] = 1 - out[i]
  const { tones, colours, enclosed, resembles } = shape
  if (enclosed) keepOnMap(enclosed, window, out)
  if (resembles) {
    const share = sampleFitted(resembles, window)
    for (let i = 0; i < out.length; i++) out[i] *= share[i]
  }
  if ((!tones && !colours) || out.every((v) => v === 0)) return
  const { L, a, b } = window.guide!()
  if (tones) {
    const share = toneSharer(tones)
    for (let i = 0; i < out.length; i++) if (out[i] > 0) out[i] *= share(L[i])
  }
  if (colours)
    for (let i = 0; i < out.length; i++) if (out[i] > 0) out[i] *= colourShare(colours, L[i], a[i], b[i])
}
