import { contrasts } from '../contrast'
import { boxMean } from '../planes'
import { localMean } from './local'
import { all, isBeside, partsFrom, type Parts } from './parts'
import type { Rough } from './rough'
import { smoothed, type Seen } from './small'

/** Contrasts of the edge at which a sky may end, as `contrasts` gives them. */
const ENDS = [0.025, 0.035, 0.05, 0.07, 0.1, 0.14] as const
/** Least share of the picture that is a sky. */
const LEAST = 0.004
/** Least that a part must be likely to be taken, and the best of them for there to be a sky at all. */
const LIKELY = { taken: 0.3, found: 0.58 } as const
/** How much less than the best is as good: the least contrast leaks least. */
const AS_GOOD = 0.9

const ramp = (value: number, none: number, whole: number) =>
  Math.min(Math.max((value - none) / (whole - none), 0), 1)

/** How likely a part that reaches the picture's top is sky. */
function likelihood(
  { width, height, L, a, b }: Seen,
  edges: Float32Array,
  { part, lists }: Parts,
  id: number,
  whole: number,
): number {
  const n = width * height
  const list = lists[id]
  let [light, u, v, calm, border, outside, low] = [0, 0, 0, 0, 0, 0, 0]
  for (const i of list) {
    light += L[i]
    u += a[i]
    v += b[i]
    calm += edges[i]
    if (i >= n - width) low++
  }
  for (let i = 0; i < n; i++) {
    if (part[i] >= 0 || !isBeside({ width, height }, i, (j) => part[j] === id)) continue
    border++
    outside += edges[i]
  }
  const size = list.length
  const rest = (whole - light) / Math.max(n - size, 1)
  const against = light / size / Math.max(rest, 0.02)
  const per = 1 / Math.max(light, 0.02 * size)
  const [green, blue] = [-u * per, -v * per]
  const within = border > 0 ? outside / border / Math.max(calm / size, 1e-3) : 0
  return (
    // calm, within an edge
    ramp(within, 1, 5) *
    // it does not reach down to the bottom
    ramp(low / width, 0.2, 0) *
    // neither as yellow nor as green as what grows or is lit by lamps
    ramp(-blue, 0.12, 0.05) *
    (blue < 0 ? ramp(green, 0.09, 0.04) : 1) *
    // brighter than the rest; at night it is blue, and darker than what lamps light
    ramp(against + 0.4 * ramp(blue, 0.06, 0.14), 0.9, 1.2)
  )
}

/** Darkest, brightest and farthest that something is of the sky's colour beside it, over its lightness. */
const ALIKE = { dark: 0.85, bright: 1.5, colour: 0.07 } as const
/** Half the windows in which the sky's colour is taken, parts of the long edge. */
const AROUND = 1 / 6
/** Times that a sky takes in what is like it. */
const ROUNDS = 3
/** How much of a part must be like the sky, and how much of what lies above it sky, to be taken in. */
const TAKEN_IN = { like: 0.8, above: 0.85 } as const
/** How much of what lies above a place at an edge must be sky, and how far such places are followed, pixels. */
const EDGE = { above: 0.6, far: 6 } as const
/** Largest and darkest that something in the midst of the sky is still a cloud. */
const CLOUD = { size: 0.2, dark: 0.7 } as const

/** Which places look like the sky around them. */
function looksAlike(seen: Seen, inside: Uint8Array): { like: Uint8Array; light: Float32Array } {
  const { width, height, L, a, b } = seen
  const r = Math.round(Math.max(width, height) * AROUND)
  const sky = localMean(seen, Float32Array.from(inside), r)
  const like = new Uint8Array(inside.length)
  for (let i = 0; i < like.length; i++) {
    if (L[i] <= ALIKE.dark * sky.L[i] || L[i] >= ALIKE.bright * sky.L[i]) continue
    const [p, q] = [a[i] - sky.a[i], b[i] - sky.b[i]]
    const most = ALIKE.colour * Math.max(sky.L[i], 0.02)
    like[i] = p * p + q * q < most * most ? 1 : 0
  }
  return { like, light: sky.L }
}

/** How much of what lies above each place passes. */
function above({ width, height }: Seen, passes: (i: number) => boolean): Float32Array {
  const out = new Float32Array(width * height)
  for (let x = 0; x < width; x++)
    for (let [y, i, count] = [0, x, 0]; y < height; y++, i += width) {
      out[i] = y === 0 ? 1 : count / y
      if (passes(i)) count++
    }
  return out
}

/** Takes in what is cut off from a sky and looks like it: behind branches, beyond clouds, in lattices. */
function takeIn(seen: Seen, edges: Float32Array, end: number, inside: Uint8Array): void {
  const calm = partsFrom(seen, all(seen), (i) => edges[i] <= end).lists
  for (let round = 0; round < ROUNDS; round++) {
    const { like } = looksAlike(seen, inside)
    const over = above(seen, (i) => inside[i] + like[i] > 0)
    let grew = false
    for (const list of calm) {
      if (inside[list[0]]) continue
      let [likes, overs] = [0, 0]
      for (const i of list) {
        likes += like[i]
        overs += over[i]
      }
      if (likes <= TAKEN_IN.like * list.length || overs <= TAKEN_IN.above * list.length) continue
      for (const i of list) inside[i] = 1
      grew = true
    }
    for (let far = 0; far < EDGE.far; far++)
      for (let i = 0; i < inside.length; i++)
        if (!inside[i] && like[i] && over[i] >= EDGE.above && isBeside(seen, i, (j) => inside[j] === 1))
          inside[i] = 1
    if (!grew) return
  }
}

/** Takes in clouds: what is closed in by the sky, and not dark. */
function takeClouds(seen: Seen, inside: Uint8Array): void {
  const { width, height, L } = seen
  const n = width * height
  const { light } = looksAlike(seen, inside)
  for (const list of partsFrom(seen, all(seen), (i) => !inside[i]).lists) {
    if (list.length > CLOUD.size * n || list.some((i) => i >= n - width)) continue
    let sum = 0
    for (const i of list) sum += L[i]
    if (sum > CLOUD.dark * list.length * light[list[0]]) for (const i of list) inside[i] = 1
  }
}

/**
 * Finds the sky: what is reached from the picture's top without crossing an edge, if that is calm, bright and of no
 * colour of the ground; at the contrast of edges at which that holds best.
 * @param seen small, about 320 pixels across
 */
export function findSky(seen: Seen): Rough {
  const found = lookForSky(seen)
  // grain may hide its edge
  return found.confidence > 0 ? found : lookForSky(smoothed(seen, 1))
}

function lookForSky(seen: Seen): Rough {
  const n = seen.width * seen.height
  const edges = contrasts({ ...seen, values: seen.L }, seen)
  const whole = seen.L.reduce((s, v) => s + v, 0)
  const top = Array.from({ length: seen.width }, (_, x) => x)
  const tries = ENDS.map((end) => {
    const parts = partsFrom(seen, top, (i) => edges[i] <= end)
    const likely = parts.lists.map(({ length }, id) =>
      length < LEAST * n ? 0 : likelihood(seen, edges, parts, id, whole),
    )
    return { end, parts, likely, most: Math.max(0, ...likely) }
  })
  const most = Math.max(...tries.map((t) => t.most))
  if (most < LIKELY.found) return { inside: new Uint8Array(n), confidence: 0, end: 0 }
  const { end, parts, likely } = tries.find((t) => t.most >= AS_GOOD * most)!
  const inside = Uint8Array.from(parts.part, (id) => (id >= 0 && likely[id] >= LIKELY.taken ? 1 : 0))
  takeIn(seen, edges, end, inside)
  takeClouds(seen, inside)
  return { inside, confidence: most, end }
}

/** Half the squares by which what was found coarsely is drawn in, and let out, before it is found more finely. */
const AGAIN = { inner: 4, outer: 6 } as const

/**
 * Finds the sky's border more finely than in a smaller picture, with what is cut off from it by thin things.
 * @param rough what was found there, at this picture's size, 0..1
 */
export function findSkyAgain(seen: Seen, rough: Float32Array, end: number): Uint8Array {
  const { width, height } = seen
  const n = width * height
  const edges = contrasts({ ...seen, values: seen.L }, seen)
  const spread = (r: number) => boxMean({ width, height, values: rough }, r)
  const core = spread(AGAIN.inner)
  let [sum, count] = [0, 0]
  const seeds: number[] = []
  for (let i = 0; i < n; i++) {
    if (core[i] < 0.999) continue
    seeds.push(i)
    sum += edges[i]
    count++
  }
  // where grain is as strong as the edge, finer is not better
  if (count === 0 || sum > (end * count) / 2) return Uint8Array.from(rough, (v) => (v >= 0.5 ? 1 : 0))
  const near = spread(AGAIN.outer)
  const { part } = partsFrom(seen, seeds, (i) => edges[i] <= end && near[i] > 0)
  const inside = Uint8Array.from(part, (id) => (id >= 0 ? 1 : 0))
  takeIn(seen, edges, end, inside)
  takeClouds(seen, inside)
  return inside
}
