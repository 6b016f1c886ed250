import type { Plane } from './planes'
import type { Guide } from './range'

/** Bins of each channel in which colours are counted. */
const BINS = 16
/** Beside the change of what a place looks like, what a step costs: a border without an edge lies half way. */
const STEP = 0.004
/** How much plain differences of the picture count beside those of what it is likely to be. */
const PLAIN = 0.5
const SWEEPS = 4
/** How far beyond the band colours are counted, bands. */
const NEAR = 3

/** Shares of each colour in two sets of places, and from them how likely each place is of the first. */
function likelihood(guide: Guide, first: Uint8Array, second: Uint8Array): Float32Array {
  const n = first.length
  const channels = [guide.L, guide.a, guide.b]
  const ends = channels.map((c) => {
    let [low, high] = [Infinity, -Infinity]
    for (let i = 0; i < n; i++) {
      low = Math.min(low, c[i])
      high = Math.max(high, c[i])
    }
    return [low, Math.max(high - low, 0.02)]
  })
  const binOf = (i: number) =>
    channels.reduce((at, c, k) => {
      const [low, over] = ends[k]
      return at * BINS + Math.min(Math.floor(((c[i] - low) / over) * BINS), BINS - 1)
    }, 0)
  const bins = new Uint16Array(n)
  const [own, other] = [new Float32Array(BINS ** 3), new Float32Array(BINS ** 3)]
  let [some, rest] = [0, 0]
  for (let i = 0; i < n; i++) {
    bins[i] = binOf(i)
    own[bins[i]] += first[i]
    other[bins[i]] += second[i]
    some += first[i]
    rest += second[i]
  }
  const [a, b] = [spread(own), spread(other)]
  const floor = 1e-3
  return Float32Array.from(bins, (bin) => {
    const p = a[bin] / Math.max(some, 1) + floor
    return p / (p + b[bin] / Math.max(rest, 1) + floor)
  })
}

/** Counts shared with the bins beside them. */
function spread(counts: Float32Array): Float32Array {
  let now = counts
  for (const by of [1, BINS, BINS * BINS]) {
    const next = new Float32Array(now.length)
    for (let i = 0; i < now.length; i++) {
      const at = Math.floor(i / by) % BINS
      next[i] = 2 * now[i] + (at > 0 ? now[i - by] : 0) + (at < BINS - 1 ? now[i + by] : 0)
    }
    now = next.map((v) => v / 4)
  }
  return now
}

/** Shortest way from some places to those seeds, where every change on it counts, by sweeps (Toivanen 1996). */
function wayFrom(
  seeds: Uint8Array,
  places: Int32Array,
  width: number,
  cost: (i: number, j: number) => number,
): Float32Array {
  const n = seeds.length
  const far = Float32Array.from(seeds, (s) => (s ? 0 : 1e9))
  const reach = (i: number, by: readonly number[]) => {
    const x = i % width
    for (const d of by) {
      const j = i + d
      if (j < 0 || j >= n || Math.abs((j % width) - x) > 1) continue
      const way = far[j] + cost(i, j)
      if (way < far[i]) far[i] = way
    }
  }
  const before = [-1, -width - 1, -width, 1 - width]
  const after = [1, width + 1, width, width - 1]
  for (let sweep = 0; sweep < SWEEPS; sweep++) {
    for (let k = 0; k < places.length; k++) reach(places[k], before)
    for (let k = places.length - 1; k >= 0; k--) reach(places[k], after)
  }
  return far
}

/**
 * Where a rough stroke belongs: its border is moved to the edge of the picture that is near it. What looks as the
 * stroke's middle is told from what looks as its surroundings, and places between go to the one with the shorter way
 * (geodesic matting, Bai and Sapiro 2007).
 * @param far of each place from the stroke's way; a large finite number where that is far
 * @param radius of the stroke, in the same terms
 * @param band how far its border may be moved
 * @returns how much of each place belongs to it, 0..1
 */
export function followEdges(far: Plane, guide: Guide, radius: number, band: number): Float32Array {
  const { width, values } = far
  const [inner, outer] = [radius - band, radius + band]
  const core = Uint8Array.from(values, (d) => (d <= inner ? 1 : 0))
  const around = Uint8Array.from(values, (d) => (d >= outer ? 1 : 0))
  // what lies farther away says nothing about the border
  const near = Uint8Array.from(values, (d) => (d >= inner - NEAR * band && d <= outer + NEAR * band ? 1 : 0))
  const both = (a: Uint8Array) => a.map((v, i) => v & near[i])
  const looks = likelihood(guide, both(core), both(around))
  const { L, a, b } = guide
  const cost = (i: number, j: number) =>
    Math.abs(looks[i] - looks[j]) +
    PLAIN * (Math.abs(L[i] - L[j]) + Math.abs(a[i] - a[j]) + Math.abs(b[i] - b[j])) +
    STEP
  const between: number[] = []
  for (let i = 0; i < values.length; i++) if (!core[i] && !around[i]) between.push(i)
  const places = Int32Array.from(between)
  const [from, to] = [wayFrom(core, places, width, cost), wayFrom(around, places, width, cost)]
  return Float32Array.from(values, (d, i) => {
    if (d <= inner) return 1
    if (d >= outer) return 0
    const share = to[i] / (from[i] + to[i] || 1)
    return Math.min(Math.max((share - 0.5) * 3 + 0.5, 0), 1)
  })
}

const FAR = 1e6

/** Distance of each place from the border of a mask, where it is a half; less than 0 within (chamfer, Borgefors 1986). */
function fromBorder({ width, height, values }: Plane): Float32Array {
  const to = (inside: boolean) => {
    const far = Float32Array.from(values, (v) => (v >= 0.5 === inside ? 0 : FAR))
    const reach = (i: number, x: number, by: readonly (readonly [number, number])[]) => {
      for (const [dx, dy] of by) {
        const j = i + dy * width + dx
        if (x + dx < 0 || x + dx >= width || j < 0 || j >= far.length) continue
        const way = far[j] + (dx !== 0 && dy !== 0 ? Math.SQRT2 : 1)
        if (way < far[i]) far[i] = way
      }
    }
    const before = [
      [-1, 0],
      [-1, -1],
      [0, -1],
      [1, -1],
    ] as const
    const after = before.map(([x, y]) => [-x, -y] as const)
    for (let i = 0; i < far.length; i++) if (far[i] > 0) reach(i, i % width, before)
    for (let i = width * height - 1; i >= 0; i--) if (far[i] > 0) reach(i, i % width, after)
    return far
  }
  const [out, within] = [to(true), to(false)]
  return out.map((d, i) => (d > 0 ? d - 0.5 : 0.5 - within[i]))
}

/** A mask whose border is moved to edges of the picture that are near it. @param band how far, pixels */
export function borderAtEdges(mask: Plane, guide: Guide, band: number): Float32Array {
  const far = fromBorder(mask)
  const belongs = followEdges({ ...mask, values: far }, guide, 0, band)
  // where a mask is soft, as much more or less of it
  return mask.values.map((v, i) => Math.min(Math.max(v + belongs[i] - (far[i] < 0 ? 1 : 0), 0), 1))
}
