import { sumOver, summed, type Sums } from '../analysis/summed'
import type { Window } from './window'

/** A spot that may be dust on the sensor, in pixels; whole numbers are the middles of samples. */
export interface DustSpot {
  x: number
  y: number
  radius: number
  /** Part of the light that it takes. */
  depth: number
  /** How sure it is, 0..1. */
  confidence: number
}

/** Radii that are looked for at each size of the picture, pixels of that size, and how often it is halved. */
const RADII = [2.6, 3.6] as const
const HALVINGS = 3
/** Pixels around a place that have a say in whether it is dust. */
export const DUST_REACH = 160

/** Least part of the light that a spot takes. */
const LEAST_DEPTH = 0.012
/** How often a spot must stand out of what is around it for a closer look. */
const STANDS_OUT = 4.5
/** Sectors into which the ring around a spot is divided. */
const SECTORS = 12

interface Plane {
  width: number
  height: number
  values: Float32Array
}

/** Sum over a square around a place. */
const boxSum = (sums: Sums, x: number, y: number, r: number): number =>
  sumOver(sums, x - r, y - r, x + r + 1, y + r + 1)

const side = (r: number) => 2 * r + 1

function halved({ width, height, values }: Plane): Plane {
  const [w, h] = [width >> 1, height >> 1]
  const out = new Float32Array(w * h)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const at = 2 * y * width + 2 * x
      out[y * w + x] = (values[at] + values[at + 1] + values[at + width] + values[at + width + 1]) / 4
    }
  return { width: w, height: h, values: out }
}

interface Candidate {
  x: number
  y: number
  radius: number
  score: number
}

/** Places that are darker than what is around them by more than such differences are there in general. */
function darkPlaces(plane: Plane, radius: number): Candidate[] {
  const { width, height } = plane
  const sums = summed(width, height, (at) => plane.values[at])
  const inner = Math.max(Math.round(radius * 0.7), 1)
  const [near, far] = [Math.round(radius * 1.5), Math.round(radius * 2.3)]
  const [hole, around] = [Math.round(radius * 3), Math.round(radius * 8)]
  const ringArea = side(far) ** 2 - side(near) ** 2
  const dark: Plane = { width, height, values: new Float32Array(width * height) }
  for (let y = far; y < height - far; y++)
    for (let x = far; x < width - far; x++) {
      const ring = boxSum(sums, x, y, far) - boxSum(sums, x, y, near)
      dark.values[y * width + x] = ring / ringArea - boxSum(sums, x, y, inner) / side(inner) ** 2
    }
  const squares = summed(width, height, (at) => dark.values[at] * dark.values[at])
  const area = side(around) ** 2 - side(hole) ** 2
  const out: Candidate[] = []
  for (let y = around; y < height - around; y++)
    for (let x = around; x < width - around; x++) {
      const at = y * width + x
      const d = dark.values[at]
      if (d < LEAST_DEPTH) continue
      let top = true
      for (let j = -1; j <= 1 && top; j++)
        for (let i = -1; i <= 1; i++) if (dark.values[at + j * width + i] > d) top = false
      if (!top) continue
      const spread = Math.sqrt((boxSum(squares, x, y, around) - boxSum(squares, x, y, hole)) / area)
      const score = d / (spread + 0.0015)
      if (score > STANDS_OUT) out.push({ x, y, radius, score })
    }
  return out
}

/** Sum and count of a plane over part of a ring. */
interface Mean {
  sum: number
  count: number
}
const none = (): Mean => ({ sum: 0, count: 0 })
const add = (mean: Mean, value: number): void => {
  mean.sum += value
  mean.count++
}
const meanOf = ({ sum, count }: Mean) => (count > 0 ? sum / count : 0)

const directionOf = (sector: number) => ((sector + 0.5) / SECTORS) * 2 * Math.PI

/** A closer look at a place: how deep it is, all around and in each colour, and how large. */
function lookAt(
  mean: Plane,
  light: Window['planes'],
  { x, y, radius, score }: Candidate,
): DustSpot | undefined {
  const { width, height } = mean
  const r = Math.ceil(radius * 2.6)
  if (x - r < 0 || y - r < 0 || x + r >= width || y + r >= height) return undefined
  // by radius: where it is half as deep as in its middle
  const bins: Mean[] = Array.from({ length: r + 1 }, none)
  for (let j = -r; j <= r; j++)
    for (let i = -r; i <= r; i++) {
      const d = Math.round(Math.sqrt(i * i + j * j))
      if (d > r) continue
      add(bins[d], mean.values[(y + j) * width + x + i])
    }
  const profile = bins.map(meanOf)
  const inmost = Math.max(Math.round(radius * 0.45), 1)
  const middle = profile.slice(0, inmost + 1).reduce((a, b) => a + b) / (inmost + 1)
  const outer = profile.slice(-Math.max(Math.round(radius * 0.5), 1))
  const outside = outer.reduce((a, b) => a + b) / outer.length
  const depth = outside - middle
  if (depth < LEAST_DEPTH) return undefined
  const half = profile.findIndex((v) => v > middle + depth / 2)
  if (half < 1) return undefined
  const size = half - 0.5

  const [from, to] = [size * 1.35 + 0.5, size * 2.1 + 1.5]
  const reach = Math.ceil(to)
  if (x - reach < 0 || y - reach < 0 || x + reach >= width || y + reach >= height) return undefined
  const sectors: Mean[] = Array.from({ length: SECTORS }, none)
  const core = none()
  // of each colour
  const rings = light.map(none)
  const cores = light.map(none)
  const quarters: Mean[] = Array.from({ length: 4 }, none)
  const within = Math.max(size * 0.65, 1)
  for (let j = -reach; j <= reach; j++)
    for (let i = -reach; i <= reach; i++) {
      const d = Math.sqrt(i * i + j * j)
      const at = (y + j) * width + x + i
      if (d > from && d <= to) {
        const turn = (Math.atan2(j, i) / (2 * Math.PI) + 1) % 1
        add(sectors[Math.floor(turn * SECTORS) % SECTORS], mean.values[at])
        light.forEach((plane, c) => add(rings[c], plane[at]))
      } else if (d <= within) {
        add(core, mean.values[at])
        light.forEach((plane, c) => add(cores[c], plane[at]))
        add(quarters[(j < 0 ? 2 : 0) + (i < 0 ? 1 : 0)], mean.values[at])
      }
    }
  const inside = meanOf(core)
  const depths = sectors.map((s) => meanOf(s) - inside)
  const whole = depths.reduce((a, b) => a + b) / depths.length
  if (whole < LEAST_DEPTH) return undefined
  // a sky that grows lighter to one side does so within and around dust alike
  const [right, down] = [Math.cos, Math.sin].map(
    (of) => (2 / SECTORS) * depths.reduce((sum, d, k) => sum + d * of(directionOf(k)), 0),
  )
  const even = depths.map((d, k) => d - right * Math.cos(directionOf(k)) - down * Math.sin(directionOf(k)))
  const least = Math.min(...even)
  const uneven = Math.sqrt(even.reduce((sum, d) => sum + (d - whole) ** 2, 0) / even.length) / whole
  // middles of the quarters of a disc
  const across = (0.424 * within * 2) / (from + to)
  const flat =
    Math.max(
      ...quarters.map((q, k) => {
        const slope = across * ((k & 1 ? -right : right) + (k & 2 ? -down : down))
        return q.count > 0 ? Math.abs(meanOf(q) - inside - slope) : 0
      }),
    ) / whole
  // dust takes from every colour alike
  const shares = light.map((_, c) =>
    Math.log(Math.max(meanOf(rings[c]), 1e-5) / Math.max(meanOf(cores[c]), 1e-5)),
  )
  const coloured = Math.max(...shares.map((share) => Math.abs(share / whole - 1)))
  // the smaller, the more places there are that may look like it by chance
  const seldom = 2 + 10 / radius
  const sure =
    fade(score, seldom, seldom + 3.5) *
    fade(least / whole, 0.3, 0.6) *
    fade(-uneven, -0.4, -0.2) *
    fade(-flat, -0.7, -0.3) *
    fade(-coloured, -0.6, -0.3) *
    // it lets some light through, and it is more than a grain
    fade(-whole, -0.7, -0.4) *
    fade(size, 1.5, 3)
  return { x, y, radius: size, depth: 1 - Math.exp(-whole), confidence: sure }
}

/** From 0 to 1 between two values. */
const fade = (v: number, from: number, to: number) => Math.min(Math.max((v - from) / (to - from), 0), 1)

/**
 * Looks for dust on the sensor: small round places that take the same part of the light in every colour, and stand out
 * of what is around them. Squares of several sizes are compared with what lies around them by summed tables (Viola and
 * Jones 2001); what stands out is looked at by radius, direction and colour.
 * @param window linear light; places closer than `DUST_REACH` to its edge are not judged
 * @returns spots, the surest first
 */
export function findDust(window: Window): DustSpot[] {
  const { width, height } = window
  const [r, g, b] = window.planes
  const values = new Float32Array(width * height)
  for (let at = 0; at < values.length; at++) values[at] = Math.log(Math.max(r[at] + g[at] + b[at], 3e-5) / 3)
  const mean: Plane = { width, height, values }
  const candidates: Candidate[] = []
  let plane = mean
  for (let k = 0; k <= HALVINGS; k++) {
    const by = 2 ** k
    for (const radius of RADII)
      for (const c of darkPlaces(plane, radius))
        candidates.push({
          ...{ x: Math.round((c.x + 0.5) * by - 0.5), y: Math.round((c.y + 0.5) * by - 0.5) },
          ...{ radius: c.radius * by, score: c.score },
        })
    plane = halved(plane)
  }
  candidates.sort((a, b) => b.score - a.score)
  const found: DustSpot[] = []
  for (const candidate of candidates) {
    const { x, y } = candidate
    if (found.some((d) => Math.hypot(d.x - x, d.y - y) < d.radius + candidate.radius)) continue
    const spot = lookAt(mean, window.planes, candidate)
    if (spot && spot.confidence > 0) found.push(spot)
  }
  return found
    .map((spot) => ({ ...spot, x: spot.x + window.x, y: spot.y + window.y }))
    .sort((a, b) => b.confidence - a.confidence)
}
