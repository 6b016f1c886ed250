import { boxMean } from '../planes'
import type { Guide } from '../range'

/** A whole picture in the scene's light, standing upright. */
export interface Seen extends Guide {
  width: number
  height: number
}

/** A plane made smaller by a whole number: means of its squares; what is left over at its ends is dropped. */
export function reducedPlane(values: Float32Array, width: number, height: number, by: number): Float32Array {
  const [w, h] = [Math.floor(width / by), Math.floor(height / by)]
  const out = new Float32Array(w * h)
  const per = 1 / (by * by)
  for (let y = 0; y < h * by; y++) {
    const to = Math.floor(y / by) * w
    for (let x = 0; x < w * by; x++) out[to + Math.floor(x / by)] += values[y * width + x] * per
  }
  return out
}

/** By which whole number a picture is made about as small as that, and how large it is then. */
export function reducedSize(
  { width, height }: { width: number; height: number },
  longEdge: number,
): { width: number; height: number; by: number } {
  const by = Math.max(Math.round(Math.max(width, height) / longEdge), 1)
  return { width: Math.floor(width / by), height: Math.floor(height / by), by }
}

/** A picture made about as small as that. @returns also by how much */
export function reduced(seen: Seen, longEdge: number): { small: Seen; by: number } {
  const { width, height, by } = reducedSize(seen, longEdge)
  if (by === 1) return { small: seen, by }
  const of = (plane: Float32Array) => reducedPlane(plane, seen.width, seen.height, by)
  return { small: { width, height, L: of(seen.L), a: of(seen.a), b: of(seen.b) }, by }
}

/** What was made of a small picture at the size of the whole, between its places. */
export function enlarged(
  values: ArrayLike<number>,
  small: { width: number; height: number },
  by: number,
  { width, height }: { width: number; height: number },
): Float32Array {
  const out = new Float32Array(width * height)
  const [lefts, rights, shares] = [new Int32Array(width), new Int32Array(width), new Float32Array(width)]
  const place = (at: number, last: number) => Math.min(Math.max((at + 0.5) / by - 0.5, 0), last)
  for (let x = 0; x < width; x++) {
    const at = place(x, small.width - 1)
    lefts[x] = Math.floor(at)
    rights[x] = Math.min(lefts[x] + 1, small.width - 1)
    shares[x] = at - lefts[x]
  }
  for (let y = 0; y < height; y++) {
    const at = place(y, small.height - 1)
    const up = Math.floor(at) * small.width
    const down = Math.min(Math.floor(at) + 1, small.height - 1) * small.width
    const part = at - Math.floor(at)
    for (let x = 0; x < width; x++) {
      const [left, right, share] = [lefts[x], rights[x], shares[x]]
      const above = values[up + left] + share * (values[up + right] - values[up + left])
      const below = values[down + left] + share * (values[down + right] - values[down + left])
      out[y * width + x] = above + part * (below - above)
    }
  }
  return out
}

/** A picture without its grain. @param r half the squares whose means it takes */
export function smoothed(seen: Seen, r: number): Seen {
  const { width, height } = seen
  const [L, a, b] = [seen.L, seen.a, seen.b].map((values) => boxMean({ width, height, values }, r))
  return { width, height, L, a, b }
}
