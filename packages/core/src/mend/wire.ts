import { boundsOf, type Place } from './place'
import { valueAt, type Window } from './window'

/** A wire between two places of a picture, in its pixels. */
export interface FoundWire {
  places: readonly Place[]
  /** Half of what must be covered for nothing of it to be left. */
  radius: number
}

/** The way from one end to the other, and the strip along it in which a wire is looked for. */
export interface Strip {
  from: Place
  /** Steps of one pixel along and across. */
  along: readonly [number, number]
  length: number
  /** Pixels to each side. */
  reach: number
}

/** How far a wire may sag: parts of the way between its ends, and pixels at least and at most. */
const SAG = { share: 0.12, least: 10, most: 240 } as const
/** How far off its ends may be clicked, pixels. */
const OFF = 4
/** How far from the middle of a wire its ground begins, and how far its profile is looked at, pixels. */
const BESIDE = 3
const PROFILE = 5
/** A step aside costs so much of what the plainest wire gains a pixel. */
const ASIDE = 0.12
/** What counts half as much as the plainest wire: roots of light; noise lies below. */
const PLAIN = 0.02
/** Mean of that from which on there is a wire. */
const THERE = 0.24
/** Places along at which parabolas are looked at, about, and how far from the best one the wire may be, pixels. */
const LOOKED_AT = 240
const CLOSE = 4
/** Share of its depth at which a wire ends, and how far it is blurred beyond, pixels. */
const EDGE = 0.3
const SPREAD = 1.75
/** What it counts against a wire to stand out from one side more than from the other. */
const EDGES = 0.4
/** Over which length the way is made even to each side: pixels at least, and a share of all of it. */
const EVEN = { least: 9, share: 1 / 16 } as const

/** Where a wire between two places is looked for; undefined where they are one. */
export function stripBetween(from: Place, to: Place): Strip | undefined {
  const [dx, dy] = [to.x - from.x, to.y - from.y]
  const length = Math.floor(Math.sqrt(dx * dx + dy * dy))
  if (length < 4) return undefined
  const reach = Math.ceil(Math.min(Math.max(SAG.share * length, SAG.least), SAG.most))
  return { from, along: [dx / length, dy / length], length, reach }
}

/** A place of a strip in the picture. */
export const placeIn = ({ from, along: [u, v] }: Strip, t: number, s: number): Place => ({
  x: from.x + t * u - s * v,
  y: from.y + t * v + s * u,
})

/** The box of a part of a strip, with room for what lies between samples. */
export function boxOfStrip(strip: Strip, first: number, last: number) {
  const reach = strip.reach + PROFILE
  const corners = [first, last].flatMap((t) => [-reach, reach].map((s) => placeIn(strip, t, s)))
  const box = boundsOf(corners)
  const [x, y] = [Math.floor(box.x) - 2, Math.floor(box.y) - 2]
  return { x, y, width: Math.ceil(box.x + box.width) + 3 - x, height: Math.ceil(box.y + box.height) + 3 - y }
}

/** The strip made straight: roots of light, across by across, from the first step to before the last. */
export function readStrip(strip: Strip, window: Window, first: number, last: number): Float32Array {
  const across = acrossOf(strip)
  const out = new Float32Array((last - first) * across)
  const middle = (across - 1) / 2
  for (let t = first; t < last; t++)
    for (let k = 0; k < across; k++) {
      const { x, y } = placeIn(strip, t, k - middle)
      let sum = 0
      for (let c = 0; c < 3; c++) sum += valueAt(window, c, x, y)
      out[(t - first) * across + k] = Math.sqrt(Math.max(sum / 3, 0))
    }
  return out
}

/** Samples across a strip, those for the ground beside its edges included. */
export const acrossOf = ({ reach }: Strip) => 2 * (reach + PROFILE) + 1

/**
 * Follows a wire from one end of a strip to the other: where it stands out from both its sides, as one way that turns
 * little (dynamic programming, as Bellman 1957) close to how a wire hangs, a parabola.
 * @param light the strip made straight
 * @returns undefined where there is none
 */
export function followWire(strip: Strip, light: Float32Array): FoundWire | undefined {
  const found = [-1, 1].map((sign) => {
    const plain = plainness(strip, light, sign)
    return wayOf(strip, plain, hanging(strip, plain))
  })
  const best = found[0].mean >= found[1].mean ? 0 : 1
  const { way, mean } = found[best]
  if (mean < THERE) return undefined
  const even = evened(way)
  const radius = halfWidth(strip, light, even, best === 0 ? -1 : 1) + SPREAD
  const places = even.flatMap((s, t) => (t % 4 === 0 || t === even.length - 1 ? [placeIn(strip, t, s)] : []))
  return { places, radius }
}

/**
 * How plainly a wire darker (-1) or brighter (1) than its ground runs through each place: -1..1. Texture is as often
 * one as the other, so that along a way it comes to nothing.
 */
function plainness(strip: Strip, light: Float32Array, sign: number): Float32Array {
  const across = acrossOf(strip)
  const { length, reach } = strip
  const width = 2 * reach + 1
  const edge = (across - width) / 2
  const out = new Float32Array(length * width)
  for (let t = 0; t < length; t++) {
    const line = light.subarray(t * across, (t + 1) * across)
    for (let k = 0; k < width; k++) {
      const at = edge + k
      const inside = (line[at - 1] + 2 * line[at] + line[at + 1]) / 4
      const left = (line[at - BESIDE] + line[at - BESIDE - 1]) / 2
      const right = (line[at + BESIDE] + line[at + BESIDE + 1]) / 2
      const [one, other] = [sign * (inside - left), sign * (inside - right)]
      // what stands out from one side alone is an edge
      const off = (one + other - EDGES * Math.abs(one - other)) / 2
      out[t * width + k] = off / (Math.abs(off) + PLAIN)
    }
  }
  return out
}

/** The parabola from one end to the other that is plainest, by its places across from the middle. */
function hanging({ length, reach }: Strip, plain: Float32Array): (t: number) => number {
  const width = 2 * reach + 1
  const step = Math.max(length / LOOKED_AT, 1)
  const at = (t: number, s: number) => {
    const k = Math.round(s) + reach
    return k < 0 || k >= width ? 0 : plain[t * width + k]
  }
  let best = { score: -1, first: 0, last: 0, sag: 0 }
  for (let first = -OFF; first <= OFF; first += 2)
    for (let last = -OFF; last <= OFF; last += 2)
      for (let sag = -reach; sag <= reach; sag++) {
        let score = 0
        for (let t = 0; t < length; t += step) {
          const u = t / length
          score += at(Math.floor(t), first + (last - first) * u + 4 * sag * u * (1 - u))
        }
        if (score > best.score) best = { score, first, last, sag }
      }
  const { first, last, sag } = best
  return (t) => {
    const u = t / length
    return first + (last - first) * u + 4 * sag * u * (1 - u)
  }
}

/** The plainest way through a strip near another, by its places across from the middle, and how plain it is in the mean. */
function wayOf(
  { length, reach }: Strip,
  plain: Float32Array,
  near: (t: number) => number,
): { way: number[]; mean: number } {
  const width = 2 * reach + 1
  const cameFrom = new Int8Array(length * width)
  let best = new Float64Array(width).fill(-Infinity)
  for (let k = Math.max(reach - OFF, 0); k <= reach + OFF && k < width; k++) best[k] = plain[k]
  for (let t = 1; t < length; t++) {
    const next = new Float64Array(width)
    for (let k = 0; k < width; k++) {
      let [most, step] = [best[k], 0]
      if (k > 0 && best[k - 1] - ASIDE > most) [most, step] = [best[k - 1] - ASIDE, -1]
      if (k < width - 1 && best[k + 1] - ASIDE > most) [most, step] = [best[k + 1] - ASIDE, 1]
      next[k] = Math.abs(k - reach - near(t)) > CLOSE ? -Infinity : most + plain[t * width + k]
      cameFrom[t * width + k] = step
    }
    best = next
  }
  let end = reach
  for (let k = Math.max(reach - OFF, 0); k <= reach + OFF && k < width; k++) if (best[k] > best[end]) end = k
  const way: number[] = []
  let sum = 0
  for (let t = length - 1, k = end; t >= 0; k += cameFrom[t * width + k], t--) {
    way.push(k - reach)
    sum += plain[t * width + k]
  }
  return { way: way.reverse(), mean: sum / length }
}

/** A way without its steps: lines through so many of its places. */
function evened(way: readonly number[]): number[] {
  const reach = Math.max(EVEN.least, Math.round(EVEN.share * way.length))
  return way.map((_, t) => {
    const r = Math.min(reach, t, way.length - 1 - t)
    let sum = 0
    for (let i = -r; i <= r; i++) sum += way[t + i]
    return sum / (2 * r + 1)
  })
}

/** Half the width over which a wire differs from its ground in the mean, pixels. */
function halfWidth(strip: Strip, light: Float32Array, way: readonly number[], sign: number): number {
  const across = acrossOf(strip)
  const middle = (across - 1) / 2
  const most = PROFILE
  const profile = new Float64Array(2 * most + 1)
  way.forEach((s, t) => {
    for (let i = -most; i <= most; i++) profile[i + most] += light[t * across + Math.round(middle + s) + i]
  })
  const ground = (profile[0] + profile[2 * most]) / 2
  const depth = sign * (profile[most] - ground)
  let far = 0
  while (far + 1 < most) {
    const beside = (profile[most + far + 1] + profile[most - far - 1]) / 2
    if (sign * (beside - ground) <= EDGE * depth) break
    far++
  }
  return far + 0.5
}
