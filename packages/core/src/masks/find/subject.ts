import { boxMean } from '../planes'
import { all, isAtEnd, partsFrom } from './parts'
import { cut, regionsOf, type RegionTree } from './regions'
import type { Rough } from './rough'
import type { Seen } from './small'

/** Regions that are weighed against one another. */
const REGIONS = 32
/** Colours weigh as much as lightness. */
const COLOUR = 2.5
/** How far away other regions still count, and how far from the middle a subject may lie, long edges. */
const REACH = 0.35
const MIDDLE = 0.34
/** Largest share of the picture that stands out from the rest. */
const LARGEST = 0.45
/** Least share of it that is something. */
const LEAST = 0.002
/** How much of what stands out most something must stand out to belong to it. */
const BELONGS = 0.45
/** How much the most must stand out from the common for there to be a subject, and to be sure of it. */
const STANDS_OUT = { least: 1.9, sure: 4 } as const

/** What is known of a region. */
interface Region {
  size: number
  L: number
  a: number
  b: number
  x: number
  y: number
  /** Mean of the finest differences of lightness. */
  sharp: number
  /** Places at the picture's ends. */
  ends: number
}

function measure(seen: Seen, tree: RegionTree, of: Int32Array): Map<number, Region> {
  const { width, height, L, a, b } = seen
  const long = Math.max(width, height)
  const smooth = boxMean({ width, height, values: L }, 1)
  const regions = new Map<number, Region>()
  for (let i = 0; i < L.length; i++) {
    const id = of[tree.leaf[i]]
    let r = regions.get(id)
    if (!r) regions.set(id, (r = { size: 0, L: 0, a: 0, b: 0, x: 0, y: 0, sharp: 0, ends: 0 }))
    const [x, y] = [i % width, Math.floor(i / width)]
    r.size++
    r.L += L[i]
    r.a += a[i]
    r.b += b[i]
    r.x += x / long
    r.y += y / long
    r.sharp += Math.abs(L[i] - smooth[i])
    if (isAtEnd(seen, i)) r.ends++
  }
  for (const r of regions.values())
    for (const of of ['L', 'a', 'b', 'x', 'y', 'sharp'] as const) r[of] /= r.size
  return regions
}

/** How much each region stands out: in colour from those around it, by being sharp, and by where it lies. */
function salience(regions: ReadonlyMap<number, Region>, width: number, height: number): Map<number, number> {
  const long = Math.max(width, height)
  const all = [...regions.values()]
  const sharpest = Math.max(...all.map(({ sharp }) => sharp), 1e-6)
  const out = new Map<number, number>()
  for (const [id, r] of regions) {
    let [sum, weight] = [0, 0]
    for (const o of all) {
      if (o === r) continue
      const far = (o.x - r.x) ** 2 + (o.y - r.y) ** 2
      const w = o.size * Math.exp(-far / (2 * REACH * REACH))
      sum += w * Math.hypot(o.L - r.L, COLOUR * (o.a - r.a), COLOUR * (o.b - r.b))
      weight += w
    }
    const contrast = weight > 0 ? sum / weight : 0
    const aside = (r.x - width / long / 2) ** 2 + (r.y - height / long / 2) ** 2
    const middle = Math.exp(-aside / (2 * MIDDLE * MIDDLE))
    // what reaches out of the picture is what lies around things
    const inside = Math.exp((-4 * r.ends) / (2 * Math.sqrt(Math.PI * r.size)))
    const sharp = 0.4 + 0.6 * Math.sqrt(r.sharp / sharpest)
    const size = r.size / (width * height)
    const sized = size > LARGEST ? 0 : size < LEAST ? size / LEAST : 1
    out.set(id, contrast * middle * inside * sharp * sized * Math.sqrt(Math.min(size, 0.1)))
  }
  return out
}

/**
 * Finds what stands out from the rest: in colour from what is around it (region contrast, Cheng 2011), by sharpness, and
 * by its place.
 * @param seen small, about 320 pixels across
 * @param sky what is none of it, 0 or 1
 */
export function findSubject(seen: Seen, sky: Uint8Array): Rough {
  const { width, height } = seen
  const n = width * height
  const tree = regionsOf(seen)
  const of = cut(tree, REGIONS)
  const regions = measure(seen, tree, of)
  const within = new Map<number, number>()
  for (let i = 0; i < n; i++)
    if (sky[i]) within.set(of[tree.leaf[i]], (within.get(of[tree.leaf[i]]) ?? 0) + 1)
  for (const [id, count] of within) if (count > regions.get(id)!.size / 2) regions.delete(id)
  const stands = salience(regions, width, height)
  const most = Math.max(0, ...stands.values())
  let [sum, weight] = [0, 0]
  for (const [id, s] of stands) {
    sum += s * regions.get(id)!.size
    weight += regions.get(id)!.size
  }
  const ratio = most / Math.max(sum / Math.max(weight, 1), 1e-9)
  const confidence = Math.min(
    Math.max((ratio - STANDS_OUT.least) / (STANDS_OUT.sure - STANDS_OUT.least), 0),
    1,
  )
  if (confidence === 0) return { inside: new Uint8Array(n), confidence, end: 0 }
  const belongs = Uint8Array.from(tree.leaf, (leaf) =>
    (stands.get(of[leaf]) ?? 0) >= BELONGS * most ? 1 : 0,
  )
  // of what belongs, only that which hangs together with what stands out most
  const parts = partsFrom(seen, all(seen), (i) => belongs[i] === 1)
  const holds = (list: readonly number[]) => list.some((i) => stands.get(of[tree.leaf[i]]) === most)
  const inside = new Uint8Array(n)
  for (const list of parts.lists) if (holds(list)) for (const i of list) inside[i] = 1
  // and what is closed in by it
  for (const list of partsFrom(seen, all(seen), (i) => inside[i] === 0).lists) {
    if (!list.some((i) => isAtEnd(seen, i))) for (const i of list) inside[i] = 1
  }
  return { inside, confidence, end: 0.05 }
}
