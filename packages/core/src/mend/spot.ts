import type { Kernels } from '../kernels/kernels'
import { sinCosDegrees, smoothStep } from '../math'
import type { Scratch } from '../memory'
import { grown, type Rect } from '../raw/rect'
import type { Patch } from '../steps/patches/schema'
import { fillIn, type FillBox, type FillMap } from './fill/fillMap'
import { cellsOf, FADE, filledAt } from './fill/filled'
import { continueLargely, type Three } from './membrane'
import type { Place } from './place'
import { boxAround, distancesIn, regionOf, type Region } from './region'
import { valueAt, type Window } from './window'

/** A patch in pixels of a picture; whole numbers are the middles of samples. */
export interface Spot {
  kind: Patch['kind']
  region: Region
  /** From the middle of the region to that of its source. */
  source: readonly [number, number]
  softness: number
  opacity: number
  turn: number
  mirror: boolean
  /** The part of the region that is carried out by itself; all of it where not said. */
  piece?: Rect
  /** Of a fill, where what it changes and the ring around that are taken from. */
  fill?: FillBox
}

/** Pixels around a region by which it is fitted in: at least, and as a share of the radius. */
const RING = { least: 3, share: 0.25, most: 12 } as const

/** Width of the ring around a region whose light is compared with that around its source, pixels. */
export const ringOf = (radius: number) =>
  Math.min(Math.max(Math.ceil(radius * RING.share), RING.least), RING.most)

/** The same of a spot: that of a fill is narrow, no wider than what is found for it. */
const ringAround = ({ kind, region }: Spot) => (kind === 'fill' ? RING.least : ringOf(region.radius))

/** A patch where it lies in a picture with so many pixels along its long edge. */
export function spotOf(patch: Patch, long: number, path?: readonly Place[]): Spot {
  const { kind, softness, opacity, turn, mirror } = patch
  const [dx, dy] = patch.source.map((v) => v * long)
  const straight = turn === 0 && !mirror
  return {
    ...{ kind, softness, opacity, turn, mirror },
    region: regionOf(patch, long, path),
    // between samples texture would lose its finest grain
    source: straight ? [Math.round(dx), Math.round(dy)] : [dx, dy],
  }
}

/** Longest side of what is carried out as one, and side of the pieces of what is longer, pixels. */
const PIECE = { most: 640, side: 448 } as const
/** What is looked at around a piece of a stroke, in radii and pixels at least: light from farther away counts little. */
const AROUND_PIECE = { radii: 6, least: 48 } as const

/** As `piecesOf`, with what a fill found. @param long the long edge of the picture, pixels */
export const piecesFilled = (spot: Spot, fill: FillMap, long: number): Spot[] =>
  piecesOf(spot).map((piece) => ({ ...piece, fill: fillIn(fill, grown(rectsOf(piece).seen, FADE), long) }))

/** A spot as what is carried out one by one: a long stroke in pieces, all else as it is. */
export function piecesOf(spot: Spot): Spot[] {
  const { shape, places, radius } = spot.region
  const box = boxAround(spot.region, 0)
  if (shape !== 'stroke' || !places || Math.max(box.width, box.height) <= PIECE.most) return [spot]
  const pieces: Spot[] = []
  for (let y = box.y; y < box.y + box.height; y += PIECE.side)
    for (let x = box.x; x < box.x + box.width; x += PIECE.side) {
      const width = Math.min(PIECE.side, box.x + box.width - x)
      const height = Math.min(PIECE.side, box.y + box.height - y)
      const piece = { x, y, width, height }
      if (distancesIn(spot.region, piece, radius).some((d) => d <= 1)) pieces.push({ ...spot, piece })
    }
  return pieces
}

const isStraight = ({ turn, mirror }: Spot) => turn === 0 && !mirror

/** What a spot changes, what it looks at there, and what it takes from, pixels; they may lie beyond the picture. */
export function rectsOf(spot: Spot): { target: Rect; seen: Rect; taken: readonly Rect[] } {
  const { kind, region, source, piece, fill } = spot
  const ring = ringAround(spot) + 1
  const around = ring + Math.ceil(Math.max(region.radius * AROUND_PIECE.radii, AROUND_PIECE.least))
  const seen = piece ? grown(piece, around) : boxAround(region, ring)
  const taken = kind !== 'fill' ? [takenFor(spot, seen, source)] : fill ? cellsOf(fill) : []
  return { target: piece ?? boxAround(region, 0), seen, taken }
}

function takenFor(spot: Spot, seen: Rect, source: readonly [number, number]): Rect {
  if (isStraight(spot)) return { ...seen, x: seen.x + source[0], y: seen.y + source[1] }
  const corners = [0, 1].flatMap((i) =>
    [0, 1].map((j) => sourceOf(spot, seen.x + i * (seen.width - 1), seen.y + j * (seen.height - 1))),
  )
  const [xs, ys] = [corners.map((c) => c.x), corners.map((c) => c.y)]
  const [x, y] = [Math.floor(Math.min(...xs)), Math.floor(Math.min(...ys))]
  const [right, bottom] = [Math.ceil(Math.max(...xs)), Math.ceil(Math.max(...ys))]
  // room for the cubic between samples
  return grown({ x, y, width: right - x + 1, height: bottom - y + 1 }, 2)
}

/** Where what comes to a place of the picture is taken from. */
function sourceOf(spot: Spot, px: number, py: number): Place {
  const { region, source, turn, mirror } = spot
  if (isStraight(spot)) return { x: px + source[0], y: py + source[1] }
  const [sine, cosine] = sinCosDegrees(turn)
  const v = py - region.y
  const across = mirror ? region.x - px : px - region.x
  // back by the turn: what lies there comes here turned
  return {
    x: region.x + source[0] + cosine * across + sine * v,
    y: region.y + source[1] + cosine * v - sine * across,
  }
}

/** Pixels over which a spot fades out: one at least, none has steps. */
const fadeOf = ({ region, softness }: Pick<Spot, 'region' | 'softness'>) =>
  Math.max(softness * region.radius, 1)

/** How much a spot covers at a distance from its border, less than 0 within; 0..1. */
export const coverage = (spot: Pick<Spot, 'region' | 'softness'>, distance: number): number =>
  smoothStep(Math.min(Math.max((0.5 - distance) / fadeOf(spot), 0), 1))

/** Clipped light says nothing of what lies around it. */
const clipped = (window: Window, at: number, levels: readonly number[]) =>
  window.planes.some((p, c) => p[at] >= levels[c])

/**
 * What a spot makes of the picture.
 * @param seen the picture around it, `rectsOf(spot).seen`
 * @param taken the picture where it takes from, `rectsOf(spot).taken`
 * @param levels from which on each channel is clipped
 * @returns values for `rectsOf(spot).target`, line by line, by channel
 */
export function mendSpot(
  kernels: Kernels,
  scratch: Scratch,
  spot: Spot,
  seen: Window,
  taken: readonly Window[],
  levels: readonly [number, number, number],
): Three {
  const { region, kind, opacity } = spot
  const target = spot.piece ?? boxAround(region, 0)
  const ring = ringAround(spot)
  const { width } = seen
  const distance = distancesIn(region, seen, Math.max(ring, fadeOf(spot)) + 1)
  const wanted = (at: number) => distance[at] <= ring
  const from = spot.fill ? filledAt(spot.fill, seen, taken, wanted) : movedTo(spot, seen, taken[0], wanted)
  const goOn: Continued = (planes, known, most) =>
    continueLargely(kernels, scratch, planes, known, seen.width, seen.height, most)
  if (kind === 'heal') fitIn(from, seen, distance, ring, levels, region.shape === 'spot', goOn)
  if (kind === 'fill') matchLight(from, seen, distance, ring, levels, goOn)
  const out = threeOf(target.width * target.height)
  for (let j = 0; j < target.height; j++)
    for (let i = 0; i < target.width; i++) {
      const at = (target.y + j - seen.y) * width + target.x + i - seen.x
      const to = j * target.width + i
      const share = opacity * coverage(spot, distance[at])
      for (let c = 0; c < 3; c++) {
        const there = seen.planes[c][at]
        out[c][to] = share > 0 ? there + share * (from[c][at] - there) : there
      }
    }
  return out
}

/** `continueLargely` over the picture around a spot. */
type Continued = (planes: Three, known: Float32Array, most?: number) => Three

/** The picture around the source, by channel, where a spot comes to lie. @param wanted which places of it count */
function movedTo(spot: Spot, seen: Window, taken: Window, wanted: (at: number) => boolean): Three {
  const { width, height } = seen
  const from = threeOf(width * height)
  const straight = isStraight(spot) && Number.isInteger(spot.source[0]) && Number.isInteger(spot.source[1])
  // what is taken straight lies there in the same lines
  if (straight && taken.width === width && taken.height === height) {
    from.forEach((plane, c) => plane.set(taken.planes[c]))
    return from
  }
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const at = j * width + i
      if (!wanted(at)) continue
      const place = sourceOf(spot, seen.x + i, seen.y + j)
      for (let c = 0; c < 3; c++) from[c][at] = valueAt(taken, c, place.x, place.y)
    }
  return from
}

/**
 * Brings the source's light to that around the target: the differences along the ring, continued over the region
 * (Perez, Gangnet and Blake 2003). What differs much from what is expected there, an edge that meets the ring, counts
 * less.
 * @param small whether one value is expected all around
 */
function fitIn(
  from: readonly Float32Array[],
  seen: Window,
  distance: Float32Array,
  ring: number,
  levels: readonly [number, number, number],
  small: boolean,
  goOn: Continued,
): void {
  const n = seen.width * seen.height
  const known = new Float32Array(n)
  const onRing: number[] = []
  for (let i = 0; i < n; i++)
    if (distance[i] > 0 && distance[i] <= ring && !clipped(seen, i, levels)) {
      known[i] = 1
      onRing.push(i)
    }
  if (onRing.length === 0) return
  const differences = threeOf(n)
  differences.forEach((out, c) => {
    for (const i of onRing) out[i] = seen.planes[c][i] - from[c][i]
  })
  const total = onRing.map((i) => differences[0][i] + differences[1][i] + differences[2][i])
  let expected: (k: number) => number
  if (small) {
    const middle = median(total)
    expected = () => middle
  } else {
    // along something long the light may change: what is expected is what a first fit says
    const first = goOn(differences, known)
    expected = (k) => first.reduce((sum, plane) => sum + plane[onRing[k]], 0)
  }
  const off = total.map((v, k) => v - expected(k))
  const apart = Math.max(median(off.map(Math.abs)) * 4, 1e-6)
  onRing.forEach((i, k) => {
    const d = off[k] / apart
    known[i] = 1 / (1 + d * d)
  })
  goOn(differences, known).forEach((light, c) => {
    for (let i = 0; i < n; i++) if (distance[i] <= 0.5) from[c][i] += light[i]
  })
}

/** Share of the light by which what was filled may be off at its border for that to be light, and not another thing. */
const LIGHT_OFF = 0.06
/** Light of what was filled is smooth: it is continued in so many values. */
const LIGHT_VALUES = 60_000

/** Brings what was filled to the light around it where the two nearly meet; other differences are of shape. */
function matchLight(
  from: readonly Float32Array[],
  seen: Window,
  distance: Float32Array,
  ring: number,
  levels: readonly [number, number, number],
  goOn: Continued,
): void {
  const known = new Float32Array(seen.width * seen.height)
  const differences = threeOf(known.length)
  for (let i = 0; i < known.length; i++) {
    if (distance[i] <= 0 || distance[i] > ring || clipped(seen, i, levels)) continue
    let [most, light] = [0, 1e-6]
    from.forEach((plane, c) => {
      differences[c][i] = seen.planes[c][i] - plane[i]
      most = Math.max(most, Math.abs(differences[c][i]))
      light += Math.max(seen.planes[c][i], plane[i], 0) / 3
    })
    const off = most / light / LIGHT_OFF
    known[i] = 1 / (1 + off * off * off * off)
  }
  goOn(differences, known, LIGHT_VALUES).forEach((light, c) => {
    for (let i = 0; i < known.length; i++) if (distance[i] <= 0.5) from[c][i] += light[i]
  })
}

const threeOf = (n: number) => [new Float32Array(n), new Float32Array(n), new Float32Array(n)] as const

const median = (values: readonly number[]): number =>
  Float64Array.from(values).sort()[values.length >> 1] ?? 0
