import { contrasts } from '../contrast'
import type { Correction } from '../schema'
import { cut, regionsOf } from './regions'
import type { Rough } from './rough'
import type { Seen } from './small'

/** Regions that are weighed against one another. */
const REGIONS = 500
/** Colours weigh as much as lightness. */
const COLOUR = 2.5
/** Difference of colour at which a walk from one region to the next is hardly taken, and the least that is. */
const APART = 0.05
const LEAST = 0.002
/** How much what was found first holds against the strokes, per length of a border. */
const FIRST = 0.02
/** Difference from what was stroked within which a region is judged by its own colour, and how far away, long edges. */
const ALIKE = 0.07
const NEAR = 0.3
/** Rounds after which nothing changes any more. */
const ROUNDS = 300
/** Contrast of the edge that holds what is corrected. */
const END = 0.05

interface Region {
  size: number
  colour: [L: number, a: number, b: number]
  x: number
  y: number
  /** How much of it was found first, then how likely it belongs. */
  share: number
  /** Places that were stroked, as belonging and as not. */
  yes: number
  no: number
  beside: Map<number, { length: number; edge: number }>
}

/** The smaller places of each stroke, one after the other. */
function* placesOf(at: Correction['at'], { width, height }: Seen): Generator<number> {
  const long = Math.max(width, height)
  const index = (x: number, y: number) =>
    Math.min(Math.max(Math.floor(y), 0), height - 1) * width + Math.min(Math.max(Math.floor(x), 0), width - 1)
  for (let k = 0; k < at.length; k++) {
    const [x, y] = at[k]
    const [u, v] = at[Math.min(k + 1, at.length - 1)]
    const steps = Math.max(Math.ceil(Math.hypot(u - x, v - y) * long), 1)
    for (let s = 0; s < steps; s++)
      yield index((x + ((u - x) * s) / steps) * long, (y + ((v - y) * s) / steps) * long)
  }
}

function regionsIn(seen: Seen, inside: Uint8Array): { of: Int32Array; regions: Map<number, Region> } {
  const { width, height, L, a, b } = seen
  const long = Math.max(width, height)
  const tree = regionsOf(seen)
  const cuts = cut(tree, REGIONS)
  const of = tree.leaf.map((leaf) => cuts[leaf])
  const edges = contrasts({ width, height, values: L }, seen)
  const regions = new Map<number, Region>()
  const none = (): Region => ({
    ...{ size: 0, colour: [0, 0, 0], x: 0, y: 0, share: 0, yes: 0, no: 0 },
    beside: new Map(),
  })
  for (let i = 0; i < L.length; i++) {
    let r = regions.get(of[i])
    if (!r) regions.set(of[i], (r = none()))
    r.size++
    r.colour[0] += L[i]
    r.colour[1] += COLOUR * a[i]
    r.colour[2] += COLOUR * b[i]
    r.x += (i % width) / long
    r.y += Math.floor(i / width) / long
    r.share += inside[i]
  }
  for (const r of regions.values()) {
    r.colour = [r.colour[0] / r.size, r.colour[1] / r.size, r.colour[2] / r.size]
    for (const mean of ['x', 'y', 'share'] as const) r[mean] /= r.size
  }
  const meet = (i: number, j: number) => {
    if (of[i] === of[j]) return
    const edge = Math.max(edges[i], edges[j])
    for (const [p, q] of [
      [of[i], of[j]],
      [of[j], of[i]],
    ]) {
      const { beside } = regions.get(p)!
      const known = beside.get(q) ?? { length: 0, edge: 0 }
      beside.set(q, { length: known.length + 1, edge: known.edge + edge })
    }
  }
  for (let i = 0; i < L.length; i++) {
    if (i % width < width - 1) meet(i, i + 1)
    if (i < L.length - width) meet(i, i + width)
  }
  return { of, regions }
}

const apart = (p: Region['colour'], q: Region['colour']) => Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2])

/** Leans on the strokes where a region looks like what lies under those of one kind, and not of the other. */
function judge(regions: readonly Region[]): void {
  const [yes, no] = [regions.filter((r) => r.yes > r.no), regions.filter((r) => r.no > r.yes)]
  const nearest = (r: Region, strokes: readonly Region[]) => {
    let best = Infinity
    for (const s of strokes) {
      const away = Math.hypot(s.x - r.x, s.y - r.y) / NEAR
      best = Math.min(best, apart(r.colour, s.colour) + ALIKE * away * away)
    }
    return best
  }
  for (const r of regions) {
    const [like, unlike] = [nearest(r, yes), nearest(r, no)]
    const least = Math.min(like, unlike)
    if (least === Infinity) continue
    const lean = Math.exp(-((least / ALIKE) ** 2))
    // strokes of one kind alone say nothing of what is unlike them
    const towards = unlike === Infinity ? 1 : like === Infinity ? 0 : unlike / Math.max(like + unlike, 1e-9)
    r.share += lean * (towards - r.share)
  }
}

/**
 * Corrects what was found by strokes over what belongs to it and what does not: a random walk over the picture's regions
 * from each comes to one kind first (Grady 2006), or to what was found (Grady 2005, with priors).
 * @param seen small, about 320 pixels across
 */
export function corrected(seen: Seen, found: Rough, corrections: readonly Correction[]): Rough {
  if (corrections.length === 0) return found
  const { of, regions } = regionsIn(seen, found.inside)
  for (const { belongs, at } of corrections)
    for (const i of placesOf(at, seen)) regions.get(of[i])![belongs ? 'yes' : 'no']++
  const all = [...regions.values()]
  judge(all)
  const stroked = ({ yes, no }: Region) => (yes > no ? 1 : no > yes ? 0 : undefined)
  const now = new Map(all.map((r) => [r, stroked(r) ?? r.share]))
  const walks = all
    .filter((r) => stroked(r) === undefined)
    .map((r) => {
      let border = 0
      const ways = [...r.beside].map(([id, { length, edge }]) => {
        border += length
        const other = regions.get(id)!
        const far = apart(r.colour, other.colour) + edge / length
        return { other, weight: length * (Math.exp(-((far / APART) ** 2)) + LEAST) }
      })
      return { r, ways, first: FIRST * border }
    })
  for (let round = 0; round < ROUNDS; round++)
    for (const { r, ways, first } of walks) {
      let [sum, weight] = [0, 0]
      for (const { other, weight: w } of ways) {
        sum += w * now.get(other)!
        weight += w
      }
      now.set(r, (sum + first * r.share) / (weight + first))
    }
  const inside = Uint8Array.from(of, (id) => (now.get(regions.get(id)!)! > 0.5 ? 1 : 0))
  const some = inside.some((v) => v === 1)
  // what was said by hand is sure
  return { inside, confidence: some ? 1 : 0, end: found.end || END }
}
