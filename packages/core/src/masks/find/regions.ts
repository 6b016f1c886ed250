import { contrasts } from '../contrast'
import { boxMean } from '../planes'
import type { Seen } from './small'

/** A picture divided into small regions, and how those are put together to larger ones, the most alike first. */
export interface RegionTree {
  width: number
  height: number
  /** Of each place its smallest region. */
  leaf: Int32Array
  /** How many of those there are; regions made of two others follow them. */
  leaves: number
  /** Of each region the one that it becomes part of; -1 of the last. */
  parent: Int32Array
}

/** Levels of contrast that are told apart where regions begin to grow. */
const LEVELS = 128
/** Contrast beyond which all edges are as strong. */
const MOST = 0.3
/** Half the squares by which contrasts are made smooth before regions begin: no grain becomes one. */
const SMOOTH = 1
/** Places of the smallest region. */
const SMALLEST = 12
/** Colours weigh as much as lightness. */
const COLOUR = 2.5
/** How much the contrast between two regions counts beside how far their colours are apart. */
const BORDER = 6

/** Regions around the calmest places, which grow until they meet (watershed by flooding, Vincent and Soille 1991). */
function basins(seen: Seen): { leaf: Int32Array; count: number; edges: Float32Array } {
  const { width, height } = seen
  const n = width * height
  const edges = contrasts({ ...seen, values: seen.L }, seen)
  const level = Uint8Array.from(boxMean({ width, height, values: edges }, SMOOTH), (v) =>
    Math.min(Math.floor((v / MOST) * LEVELS), LEVELS - 1),
  )
  const leaf = new Int32Array(n).fill(-1)
  const lists = new Int32Array(LEVELS).fill(-1)
  const next = new Int32Array(n)
  const byLevel = new Int32Array(n)
  const starts = new Int32Array(LEVELS + 1)
  for (let i = 0; i < n; i++) starts[level[i] + 1]++
  for (let k = 0; k < LEVELS; k++) starts[k + 1] += starts[k]
  const fill = starts.slice()
  for (let i = 0; i < n; i++) byLevel[fill[level[i]]++] = i
  let count = 0
  const put = (i: number, id: number, at: number) => {
    leaf[i] = id
    next[i] = lists[at]
    lists[at] = i
  }
  const grow = (at: number) => {
    while (lists[at] >= 0) {
      const i = lists[at]
      lists[at] = next[i]
      const x = i % width
      for (let side = 0; side < 4; side++) {
        if (side === 0 ? x === 0 : side === 1 && x === width - 1) continue
        const j = side === 0 ? i - 1 : side === 1 ? i + 1 : side === 2 ? i - width : i + width
        if (j < 0 || j >= n || leaf[j] >= 0) continue
        put(j, leaf[i], Math.max(at, level[j]))
      }
    }
  }
  for (let at = 0; at < LEVELS; at++) {
    // those that are there grow first
    grow(at)
    for (let k = starts[at]; k < starts[at + 1]; k++) {
      if (leaf[byLevel[k]] >= 0) continue
      put(byLevel[k], count++, at)
      grow(at)
    }
  }
  return { leaf, count, edges }
}

interface Merging {
  size: number
  L: number
  a: number
  b: number
  /** Sums of the contrast along the border to others, and its length. */
  beside: Map<number, { sum: number; length: number }>
}

/** How unlike two regions are: what is lost by putting them together (Ward 1963), more where an edge is between them. */
function unlike(p: Merging, q: Merging, border: { sum: number; length: number }): number {
  const [l, a, b] = [p.L / p.size - q.L / q.size, p.a / p.size - q.a / q.size, p.b / p.size - q.b / q.size]
  const apart = l * l + COLOUR * COLOUR * (a * a + b * b)
  const edge = border.sum / border.length
  const few = Math.min(p.size, q.size)
  const size = few < SMALLEST ? few / SMALLEST / 10 : Math.sqrt((p.size * q.size) / (p.size + q.size))
  return (apart + BORDER * edge * edge) * size
}

interface Pair {
  cost: number
  p: number
  q: number
}

/** A heap of pairs, the cheapest on top. */
class Heap {
  private readonly pairs: Pair[] = []

  push(pair: Pair): void {
    const { pairs } = this
    let at = pairs.length
    pairs.push(pair)
    while (at > 0) {
      const up = (at - 1) >> 1
      if (pairs[up].cost <= pair.cost) break
      pairs[at] = pairs[up]
      at = up
    }
    pairs[at] = pair
  }

  pop(): Pair | undefined {
    const { pairs } = this
    const top = pairs[0]
    const last = pairs.pop()
    if (last === undefined || pairs.length === 0) return top
    let at = 0
    for (;;) {
      let down = 2 * at + 1
      if (down >= pairs.length) break
      if (down + 1 < pairs.length && pairs[down + 1].cost < pairs[down].cost) down++
      if (pairs[down].cost >= last.cost) break
      pairs[at] = pairs[down]
      at = down
    }
    pairs[at] = last
    return top
  }
}

/**
 * Divides a picture into regions (binary partition tree, Salembier and Garrido 2000).
 * @param seen small, some 320 to 640 pixels across
 */
export function regionsOf(seen: Seen): RegionTree {
  const { width, height, L, a, b } = seen
  const n = width * height
  const { leaf, count, edges } = basins(seen)
  const regions = Array.from({ length: count }, (): Merging => ({
    ...{ size: 0, L: 0, a: 0, b: 0 },
    beside: new Map(),
  }))
  for (let i = 0; i < n; i++) {
    const r = regions[leaf[i]]
    r.size++
    r.L += L[i]
    r.a += a[i]
    r.b += b[i]
  }
  const meet = (p: number, q: number, edge: number) => {
    if (p === q) return
    for (const [one, other] of [
      [p, q],
      [q, p],
    ]) {
      const known = regions[one].beside.get(other)
      if (known) {
        known.sum += edge
        known.length++
      } else regions[one].beside.set(other, { sum: edge, length: 1 })
    }
  }
  for (let i = 0; i < n; i++) {
    if (i % width < width - 1) meet(leaf[i], leaf[i + 1], Math.max(edges[i], edges[i + 1]))
    if (i < n - width) meet(leaf[i], leaf[i + width], Math.max(edges[i], edges[i + width]))
  }
  const parent = new Int32Array(2 * count - 1).fill(-1)
  const heap = new Heap()
  regions.forEach((r, p) =>
    r.beside.forEach((border, q) => {
      if (p < q) heap.push({ cost: unlike(r, regions[q], border), p, q })
    }),
  )
  for (let pair = heap.pop(); pair; pair = heap.pop()) {
    const { p, q } = pair
    if (parent[p] >= 0 || parent[q] >= 0) continue
    const id = regions.length
    const [one, two] = [regions[p], regions[q]]
    parent[p] = parent[q] = id
    const whole: Merging = {
      ...{ size: one.size + two.size, L: one.L + two.L, a: one.a + two.a, b: one.b + two.b },
      beside: new Map(),
    }
    regions.push(whole)
    for (const side of [one, two])
      side.beside.forEach((border, other) => {
        if (other === p || other === q) return
        const known = whole.beside.get(other)
        whole.beside.set(
          other,
          known ? { sum: known.sum + border.sum, length: known.length + border.length } : { ...border },
        )
      })
    whole.beside.forEach((border, other) => {
      const { beside } = regions[other]
      beside.delete(p)
      beside.delete(q)
      beside.set(id, border)
      heap.push({ cost: unlike(whole, regions[other], border), p: other, q: id })
    })
    one.beside.clear()
    two.beside.clear()
  }
  return { width, height, leaf, leaves: count, parent }
}

/**
 * Which region each smallest one belongs to, where the picture has so many of them.
 * @param count of regions, at least 1
 */
export function cut({ leaves, parent }: Pick<RegionTree, 'leaves' | 'parent'>, count: number): Int32Array {
  // the last ones to be put together are taken apart again
  const whole = 2 * leaves - Math.min(Math.max(count, 1), leaves)
  const of = new Int32Array(parent.length)
  for (let i = parent.length - 1; i >= 0; i--) of[i] = parent[i] < 0 || parent[i] >= whole ? i : of[parent[i]]
  return of.subarray(0, leaves)
}
