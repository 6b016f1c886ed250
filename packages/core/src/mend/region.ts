import type { Rect } from '../raw/rect'
import type { Patch } from '../steps/patches/schema'
import { simplified } from './pathData'
import { boundsOf, type Place } from './place'

/** What a patch covers in a picture, in pixels; whole numbers are the middles of samples. */
export interface Region {
  shape: Patch['shape']
  /** What the source is turned about. */
  x: number
  y: number
  /** Of a spot, half the width of a stroke; of an outline half the lesser side of its box, of which softness is a share. */
  radius: number
  /** The way of a stroke, the corners of an outline. */
  places?: readonly Place[]
}

/** Least radius, pixels: what is smaller falls between samples. */
const LEAST = 0.75
/** How far a path may be off where it is made simpler, pixels. */
const TOLERANCE = 0.1

/**
 * Where a patch lies in a picture with so many pixels along its long edge.
 * @param path of a stroke or an outline, long edges from the middle of the patch
 */
export function regionOf(
  { shape, x, y, radius }: Pick<Patch, 'shape' | 'x' | 'y' | 'radius'>,
  long: number,
  path?: readonly Place[],
): Region {
  const middle = { x: x * long - 0.5, y: y * long - 0.5 }
  if (shape === 'spot' || !path) return { shape: 'spot', ...middle, radius: Math.max(radius * long, LEAST) }
  const all = path.map((p) => ({ x: middle.x + p.x * long, y: middle.y + p.y * long }))
  // an outline is closed: its last corner is no end
  const places = all.length > 2 ? simplified(all, TOLERANCE) : all
  if (shape === 'stroke') return { shape, ...middle, radius: Math.max(radius * long, LEAST), places }
  const box = boundsOf(places)
  return { shape, ...middle, radius: Math.max(Math.min(box.width, box.height) / 2, LEAST), places }
}

/** The whole pixels within some distance of a region. */
export function boxAround({ shape, x, y, radius, places }: Region, room: number): Rect {
  const box = places ? boundsOf(places) : { x, y, width: 0, height: 0 }
  const r = (shape === 'outline' ? 0 : radius) + room
  const [left, top] = [Math.floor(box.x - r), Math.floor(box.y - r)]
  const [right, bottom] = [Math.ceil(box.x + box.width + r), Math.ceil(box.y + box.height + r)]
  return { x: left, y: top, width: right - left + 1, height: bottom - top + 1 }
}

/**
 * How far the pixels of a rectangle lie from the border of a region: less than 0 within.
 * @param most where something is farther away than this it may as well be at any distance beyond
 * @returns line by line
 */
export function distancesIn({ shape, x, y, radius, places }: Region, rect: Rect, most: number): Float32Array {
  const { width, height } = rect
  const out = new Float32Array(width * height)
  if (shape === 'spot' || !places) {
    for (let j = 0; j < height; j++)
      for (let i = 0; i < width; i++) {
        const [u, v] = [rect.x + i - x, rect.y + j - y]
        out[j * width + i] = Math.sqrt(u * u + v * v) - radius
      }
    return out
  }
  const reach = (shape === 'stroke' ? radius : 0) + most + 1
  out.fill(reach * reach)
  const closed = shape === 'outline'
  const count = closed ? places.length : Math.max(places.length - 1, 1)
  for (let k = 0; k < count; k++) nearest(out, rect, places[k], places[(k + 1) % places.length], reach)
  if (!closed) for (let i = 0; i < out.length; i++) out[i] = Math.sqrt(out[i]) - radius
  else {
    const inside = windingIn(places, rect)
    for (let i = 0; i < out.length; i++) out[i] = (inside[i] ? -1 : 1) * Math.sqrt(out[i])
  }
  return out
}

/** Lowers squared distances to those from a line between two places, where they are within reach. */
function nearest(out: Float32Array, rect: Rect, a: Place, b: Place, reach: number): void {
  const left = Math.max(Math.ceil(Math.min(a.x, b.x) - reach), rect.x)
  const right = Math.min(Math.floor(Math.max(a.x, b.x) + reach), rect.x + rect.width - 1)
  const top = Math.max(Math.ceil(Math.min(a.y, b.y) - reach), rect.y)
  const bottom = Math.min(Math.floor(Math.max(a.y, b.y) + reach), rect.y + rect.height - 1)
  const [dx, dy] = [b.x - a.x, b.y - a.y]
  const long = dx * dx + dy * dy
  for (let j = top; j <= bottom; j++)
    for (let i = left; i <= right; i++) {
      const [u, v] = [i - a.x, j - a.y]
      const t = long === 0 ? 0 : Math.min(Math.max((u * dx + v * dy) / long, 0), 1)
      const [p, q] = [u - t * dx, v - t * dy]
      const at = (j - rect.y) * rect.width + i - rect.x
      const d = p * p + q * q
      if (d < out[at]) out[at] = d
    }
}

/** Which pixels of a rectangle a closed path goes around; where it crosses itself, what it goes around at all counts. */
function windingIn(places: readonly Place[], { x, y, width, height }: Rect): Uint8Array {
  const inside = new Uint8Array(width * height)
  const crossings: { at: number; way: number }[][] = Array.from({ length: height }, () => [])
  places.forEach((a, k) => {
    const b = places[(k + 1) % places.length]
    const [top, bottom, way] = a.y < b.y ? [a, b, 1] : [b, a, -1]
    const last = Math.min(Math.ceil(bottom.y) - 1, y + height - 1)
    for (let line = Math.max(Math.ceil(top.y), y); line <= last; line++) {
      const at = top.x + ((line - top.y) / (bottom.y - top.y)) * (bottom.x - top.x)
      crossings[line - y].push({ at, way })
    }
  })
  crossings.forEach((line, j) => {
    line.sort((a, b) => a.at - b.at)
    let around = 0
    line.forEach(({ at, way }, k) => {
      around += way
      if (around === 0) return
      const from = Math.max(Math.ceil(at - x), 0)
      const to = Math.min(Math.floor(line[k + 1].at - x), width - 1)
      if (to >= from) inside.fill(1, j * width + from, j * width + to + 1)
    })
  })
  return inside
}

/** A region of a picture in one that is smaller by a whole number to a side. */
export function regionMadeSmall(region: Region, by: number): Region {
  const at = (v: number) => (v - (by - 1) / 2) / by
  return {
    ...region,
    ...{ x: at(region.x), y: at(region.y), radius: region.radius / by },
    ...(region.places && { places: region.places.map((p) => ({ x: at(p.x), y: at(p.y) })) }),
  }
}
