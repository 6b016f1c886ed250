import { horizonOf } from './horizon'
import { partsFrom } from './parts'
import { cut, regionsOf } from './regions'
import type { Rough } from './rough'
import type { Seen } from './small'

/** Regions that are ground or not. */
const REGIONS = 60
/** Most of a region that may lie above the horizon. */
const ABOVE = 0.1
/** How much wider than high a region is that lies, where it does not reach the picture's foot. */
const LYING = 1.5
/** Least share of the picture, and of its foot, that is ground. */
const LEAST = { size: 0.03, foot: 0.25, wall: 0.3 } as const
const LARGE = 2
/** Nothing tells what lies from what stands for certain. */
const SUREST = 0.8

/**
 * Finds the ground: what lies below the horizon, reaches the picture's foot or lies flat on what does.
 * @param seen small, about 320 pixels across
 * @param sky, water what is none of it, 0 or 1
 */
export function findGround(seen: Seen, sky: Uint8Array, water: Uint8Array): Rough {
  const { width, height } = seen
  const n = width * height
  const { row: horizon, sure } = horizonOf(seen, sky)
  const tree = regionsOf(seen)
  const of = cut(tree, REGIONS)
  const known = new Map<
    number,
    { size: number; above: number; other: number; foot: number; box: [number, number, number, number] }
  >()
  for (let i = 0; i < n; i++) {
    const [x, y] = [i % width, Math.floor(i / width)]
    const id = of[tree.leaf[i]]
    let r = known.get(id)
    if (!r) known.set(id, (r = { size: 0, above: 0, other: 0, foot: 0, box: [x, y, x, y] }))
    r.size++
    if (y < horizon) r.above++
    if (sky[i] || water[i]) r.other++
    if (y === height - 1) r.foot++
    r.box = [Math.min(r.box[0], x), Math.min(r.box[1], y), Math.max(r.box[2], x), Math.max(r.box[3], y)]
  }
  const taken = new Set<number>()
  for (const [id, { size, above, other, foot, box }] of known) {
    if (above > ABOVE * size || other > size / 2) continue
    const lies = box[2] - box[0] > LYING * (box[3] - box[1])
    if (foot > 0 || lies) taken.add(id)
  }
  const feet = Array.from({ length: width }, (_, x) => n - width + x)
  const { part } = partsFrom(seen, feet, (i) => taken.has(of[tree.leaf[i]]))
  const inside = Uint8Array.from(part, (id) => (id >= 0 ? 1 : 0))
  let [size, foot] = [0, 0]
  for (let i = 0; i < n; i++) {
    size += inside[i]
    if (i >= n - width) foot += inside[i]
  }
  if (size < LEAST.size * n || foot < LEAST.foot * width)
    return { inside: new Uint8Array(n), confidence: 0, end: 0 }
  // the more of the picture it would be, the more likely there is a wall in it
  const wall = Math.max(1 - LARGE * Math.max(size / n - LEAST.wall, 0), 0)
  return { inside, confidence: SUREST * sure * (foot / width) * wall, end: 0.05 }
}
