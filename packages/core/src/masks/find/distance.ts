import { boxMean } from '../planes'
import { horizonOf } from './horizon'
import { cut, regionsOf } from './regions'
import type { Seen } from './small'

/** Regions each of which is about as far away all over. */
const REGIONS = 80
/** How much the place counts beside haze, where there is a sky whose colour that has. */
const PLACE = 0.65
/** Half the squares in which haze is looked at, and over which regions are let run into one another, long edges. */
const AROUND = 0.012
/** How many rows of the picture's foot up a region that stands ends, from its lowest: where it meets the ground. */
const BASE = 0.06
/** Without a sky what is said is less sure, and so where haze and place contradict each other. */
const SURE = { least: 0.2, alone: 0.35 } as const

export interface Distances {
  /** How far away each place is: 0 the nearest, 1 the sky. */
  far: Float32Array
  /** How sure that is, 0..1. */
  confidence: number
}

/** How much of the light of each place is that of the air before it: the dark channel (He 2009), as lightness allows. */
function hazeOf({ width, height, L, a, b }: Seen, sky: Uint8Array, r: number): Float32Array | undefined {
  let [light, u, v, count] = [0, 0, 0, 0]
  for (let i = 0; i < sky.length; i++)
    if (sky[i]) {
      light += L[i]
      u += a[i]
      v += b[i]
      count++
    }
  if (count === 0) return undefined
  const [sL, sa, sb] = [light / count, u / count, v / count]
  const like = Float32Array.from(L, (l, i) => {
    const bright = Math.min(l / Math.max(sL, 0.02), 1)
    const other = Math.hypot(a[i] - sa, b[i] - sb) / Math.max(sL, 0.02)
    return Math.max(bright - 2 * other, 0)
  })
  // what differs much nearby is near: the least of a square, seen through its mean and what it differs by
  const mean = boxMean({ width, height, values: like }, r)
  const square = boxMean({ width, height, values: like.map((x) => x * x) }, r)
  return mean.map((m, i) => Math.max(m - 1.5 * Math.sqrt(Math.max(square[i] - m * m, 0)), 0))
}

/** How alike two orders are, -1..1 (Pearson), over places that count. */
function correlation(p: Float32Array, q: Float32Array, counts: (i: number) => boolean): number {
  let [n, sp, sq, spp, sqq, spq] = [0, 0, 0, 0, 0, 0]
  for (let i = 0; i < p.length; i++) {
    if (!counts(i)) continue
    n++
    sp += p[i]
    sq += q[i]
    spp += p[i] * p[i]
    sqq += q[i] * q[i]
    spq += p[i] * q[i]
  }
  const [vp, vq] = [spp - (sp * sp) / n, sqq - (sq * sq) / n]
  return vp > 0 && vq > 0 ? (spq - (sp * sq) / n) / Math.sqrt(vp * vq) : 0
}

/**
 * A rough order of what is near and what is far: what stands meets the ground lower in the picture the nearer it is,
 * and what is far takes on the colour of the sky. No measure of length.
 * @param seen small, about 320 pixels across
 * @param sky 0 or 1
 */
export function distancesIn(seen: Seen, sky: Uint8Array): Distances {
  const { width, height } = seen
  const n = width * height
  const r = Math.max(Math.round(Math.max(width, height) * AROUND), 1)
  const { row: horizon, sure } = horizonOf(seen, sky)
  const tree = regionsOf(seen)
  const of = cut(tree, REGIONS)
  const counts = new Map<number, Int32Array>()
  for (let i = 0; i < n; i++) {
    const id = of[tree.leaf[i]]
    let rowsOf = counts.get(id)
    if (!rowsOf) counts.set(id, (rowsOf = new Int32Array(height)))
    rowsOf[Math.floor(i / width)]++
  }
  // the row at which each region ends below, but for its last bits
  const base = new Map<number, number>()
  for (const [id, rowsOf] of counts) {
    const size = rowsOf.reduce((s, v) => s + v, 0)
    let [y, below] = [height - 1, 0]
    while (below + rowsOf[y] < BASE * size) below += rowsOf[y--]
    base.set(id, y)
  }
  const at = (row: number) => 1 - Math.min(Math.max((row - horizon) / Math.max(height - horizon, 1), 0), 1)
  const place = new Float32Array(n)
  for (let i = 0; i < n; i++) {
    const y = Math.floor(i / width)
    const foot = base.get(of[tree.leaf[i]])!
    // what lies is as far away as its place, what stands as its foot
    place[i] = sky[i]
      ? 1
      : y >= horizon && foot === height - 1
        ? at(y)
        : 0.5 * at(foot) + 0.5 * at(Math.max(y, foot))
  }
  const haze = hazeOf(seen, sky, r)
  const far = place.slice()
  let confidence = SURE.alone * sure
  if (haze) {
    const agree = correlation(place, haze, (i) => sky[i] === 0)
    confidence = Math.min(Math.max(0.5 + 0.5 * agree, SURE.least), 1)
    for (let i = 0; i < n; i++) if (!sky[i]) far[i] = PLACE * place[i] + (1 - PLACE) * haze[i]
  }
  return { far: boxMean({ width, height, values: far }, 1), confidence }
}
