import { boxMean } from '../planes'
import { partsFrom } from './parts'
import { cut, regionsOf } from './regions'
import type { Rough } from './rough'
import { enlarged, reduced, type Seen } from './small'

/** Long edge at which mirrored things are compared: waves are no more to be seen. */
const COARSE = 160
/** Half the squares in which they are compared. */
const AROUND = 4
/** Where the shore may lie, shares of the height. */
const SHORE = { from: 0.15, to: 0.92 } as const
/** Least difference of lightness, squared, in a square that can be compared. */
const FLAT = 1e-4
/** Regions that are water or not. */
const REGIONS = 60
/** Least correlation of a region with what it mirrors, and of all of them, to be water. */
const ALIKE = { region: 0.35, beside: 0.1, found: 0.44, sure: 0.75 } as const
/** How much of what hangs together must be alike for certain. */
const SURE = 0.15
/** Least share of the picture that is water. */
const LEAST = 0.02

/** Half the length along a line over which its mean is taken off: what goes straight across is no mirror image. */
const ACROSS = 24

/** A plane without what goes straight across. */
function upright({ width, height }: Seen, plane: Float32Array): Float32Array {
  const out = new Float32Array(plane.length)
  for (let y = 0; y < height; y++) {
    const values = plane.subarray(y * width, (y + 1) * width)
    const mean = boxMean({ width, height: 1, values }, ACROSS)
    for (let x = 0; x < width; x++) out[y * width + x] = values[x] - mean[x]
  }
  return out
}

/** How well each place below a shore matches what lies as high above it, -1..1, and how much there is to be compared. */
function mirrored(
  { width, height }: Seen,
  L: Float32Array,
  shore: number,
): { match: Float32Array; weight: Float32Array } {
  const n = width * height
  const rows = Math.min(shore, height - shore)
  const size = width * rows
  const [low, high] = [new Float32Array(size), new Float32Array(size)]
  for (let d = 0; d < rows; d++)
    for (let x = 0; x < width; x++) {
      low[d * width + x] = L[(shore + d) * width + x]
      high[d * width + x] = L[(shore - 1 - d) * width + x]
    }
  const mean = (values: Float32Array) => boxMean({ width, height: rows, values }, AROUND)
  const times = (p: Float32Array, q: Float32Array) => p.map((v, i) => v * q[i])
  const [p, q, pp, qq, pq] = [low, high, times(low, low), times(high, high), times(low, high)].map(mean)
  const [match, weight] = [new Float32Array(n), new Float32Array(n)]
  for (let i = 0; i < size; i++) {
    const [vp, vq] = [pp[i] - p[i] * p[i], qq[i] - q[i] * q[i]]
    const at = shore * width + i
    if (vq < FLAT) continue
    match[at] = (pq[i] - p[i] * q[i]) / Math.sqrt(Math.max(vp, FLAT / 4) * vq)
    weight[at] = Math.min(Math.sqrt(vq), 0.2)
  }
  return { match, weight }
}

/**
 * Finds water by what it mirrors: below some line across the picture regions that look like what lies as high above it.
 * @param seen small, about 320 pixels across
 */
export function findWater(seen: Seen): Rough {
  const { width, height } = seen
  const n = width * height
  const { small, by } = reduced(seen, COARSE)
  const plain = upright(small, small.L)
  const empty = new Float32Array(0)
  let best: { gain: number; shore: number; match: Float32Array; weight: Float32Array } = {
    ...{ gain: 0, shore: 0, match: empty, weight: empty },
  }
  for (let y = Math.ceil(SHORE.from * small.height); y < SHORE.to * small.height; y++) {
    const { match, weight } = mirrored(small, plain, y)
    let gain = 0
    for (let i = 0; i < match.length; i++) gain += Math.max(match[i] - ALIKE.region, 0) * weight[i]
    // all that lies below should be water
    gain /= Math.sqrt((small.height - y) * Math.sqrt(small.height - y))
    if (gain > best.gain) best = { gain, shore: y, match, weight }
  }
  const none = { inside: new Uint8Array(n), confidence: 0, end: 0 }
  if (best.gain === 0) return none
  const [match, weight] = [best.match, best.weight].map((plane) => enlarged(plane, small, by, seen))
  const tree = regionsOf(seen)
  const of = cut(tree, REGIONS)
  const sums = new Map<number, { sum: number; weight: number; size: number; above: number }>()
  for (let i = 0; i < n; i++) {
    const id = of[tree.leaf[i]]
    let s = sums.get(id)
    if (!s) sums.set(id, (s = { sum: 0, weight: 0, size: 0, above: 0 }))
    s.sum += match[i] * weight[i]
    s.weight += weight[i]
    s.size++
    if (i < best.shore * by * width) s.above++
  }
  const isAt = (i: number, least: number) => {
    const s = sums.get(of[tree.leaf[i]])!
    return s.above <= 0.2 * s.size && s.sum >= least * s.weight
  }
  // it lies at the picture's foot, with what is not unlike it
  const foot = Array.from({ length: width }, (_, x) => n - width + x)
  const { lists } = partsFrom(seen, foot, (i) => isAt(i, ALIKE.beside))
  const inside = new Uint8Array(n)
  let [sum, all, size] = [0, 0, 0]
  for (const list of lists) {
    const sure = list.reduce((count, i) => count + (isAt(i, ALIKE.region) && weight[i] > 0 ? 1 : 0), 0)
    if (sure < SURE * list.length) continue
    for (const i of list) {
      inside[i] = 1
      size++
      sum += match[i] * weight[i]
      all += weight[i]
    }
  }
  const alike = all > 0 ? sum / all : 0
  if (size < LEAST * n || alike < ALIKE.found) return none
  return { inside, confidence: Math.min(alike / ALIKE.sure, 1), end: 0.05 }
}
