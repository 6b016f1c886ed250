import { piecesOf } from '../pieces'
import { boxMean, extremeInSquare } from '../planes'
import { all, isAtEnd, isBeside, partsFrom } from './parts'
import { localMean, meanOf, type Local } from './local'
import { enlarged, reduced, reducedPlane, smoothed, type Seen } from './small'

/** Pixels beside a rough border in which the true one is looked for. */
const ZONE = 12
/** Pixels beside it within which it is as likely inside as outside, and how much more alike it must be beyond. */
const BESIDE = { pixels: 4, alike: 0.5 } as const
/** Long edge of the picture in which the colour inside is taken. */
const COARSE = 640
/** Half the windows in which the colour inside is taken: near where there is enough of it, else farther away. */
const NEAR = 5
const FAR = 20
/** Share of the near window that is enough. */
const ENOUGH = 0.1
/** Half the windows in which both colours are taken once it is known about where they are. */
const FINE = 5
const ROUNDS = 2
/** Lightness beside which a difference counts in full. */
const DIM = 0.35

/** Half the square that lies inside around what lies in the midst, and how much of it. */
const CORE = 3
const WHOLE = 0.98
/** Half the width of the widest that stands before it and is no part of the rough mask, pixels. */
const THIN = 8
/** Times the mean difference from the colour inside that is more than its grain. */
const GRAIN = 4
/** Half the largest squares over which grain is taken away. */
const SMOOTH = 3

/** What is missing of a place before it counts as none. */
const LEFT = 0.02

/** What of a mean is left by counting. */
const EVEN = 1e-4

const held = (v: number) => (v < 0 ? 0 : v > 1 ? 1 : v)

/** How far each place is from a local colour, as seen: Oklab over lightness. */
function farFrom({ L, a, b }: Seen, local: Local): Float32Array {
  const out = new Float32Array(L.length)
  for (let i = 0; i < out.length; i++) {
    const [p, q, r] = [L[i] - local.L[i], a[i] - local.a[i], b[i] - local.b[i]]
    out[i] = Math.sqrt(p * p + q * q + r * r) / (DIM + Math.max(local.L[i], 0))
  }
  return out
}

/** The mean of some places: near where there are enough of them there. */
function nearOrFar(seen: Seen, weights: Float32Array): Local {
  const near = localMean(seen, weights, NEAR)
  const far = localMean(seen, weights, FAR)
  for (let i = 0; i < weights.length; i++) {
    const k = held(near.share[i] / ENOUGH)
    near.L[i] = far.L[i] + k * (near.L[i] - far.L[i])
    near.a[i] = far.a[i] + k * (near.a[i] - far.a[i])
    near.b[i] = far.b[i] + k * (near.b[i] - far.b[i])
  }
  return near
}

/** What is thin and stands out from what is around it, dark or bright, as `farFrom` gives it. */
function thinOn({ width, height, L }: Seen, half: number): Float32Array {
  const by = (values: Float32Array, r: number) => extremeInSquare({ width, height, values }, r)
  const opened = by(by(L, -half), half)
  const closed = by(by(L, half), -half)
  const out = new Float32Array(L.length)
  for (let i = 0; i < out.length; i++)
    out[i] = Math.max(L[i] - opened[i], closed[i] - L[i]) / (DIM + Math.max(L[i], 0))
  return out
}

/** How much the picture differs from its local colour in the midst of a mask, as a mean. */
function grainIn(seen: Seen, core: Float32Array, inside: Local): number {
  const off = farFrom(seen, inside)
  let [sum, count] = [0, 0]
  for (let i = 0; i < off.length; i++)
    if (core[i] > WHOLE) {
      sum += off[i]
      count++
    }
  return sum / Math.max(count, 1)
}

/** Puts back what is closed in by a rough mask, and no darker than what it lies in: a cloud before the sky. */
function closeIn(seen: Seen, rough: Float32Array, mask: Float32Array, inside: Local): void {
  const { L } = seen
  const left = (i: number) => rough[i] > 0 && mask[i] < 1 - LEFT
  for (const list of partsFrom(seen, all(seen), left).lists) {
    let [sum, light, ends] = [0, 0, false]
    for (const i of list) {
      ends = isAtEnd(seen, i) || isBeside(seen, i, (j) => rough[j] === 0)
      if (ends) break
      sum += L[i]
      light += inside.L[i]
    }
    if (!ends && sum >= light) for (const i of list) mask[i] = 1
  }
}

/**
 * How much of each place is inside, from a rough mask of it: near the border and where something thin stands before it,
 * each place is taken for a mixture of the colours inside and outside that are near.
 * @param rough 0..1
 * @param end contrast of the edge that holds it, as `contrasts` gives them
 */
export function matte(given: Seen, rough: Float32Array, end: number): Float32Array {
  const { width, height } = given
  const n = rough.length
  const spread = boxMean({ width, height, values: rough }, ZONE)
  const beside = boxMean({ width, height, values: rough }, BESIDE.pixels)
  const core = boxMean({ width, height, values: rough }, CORE)
  const { inside, grain } = colourInside(given, rough, end)
  let most = Math.max(end, GRAIN * grain)
  let seen = given
  for (let r = 1; most > end && r <= SMOOTH; r++) {
    seen = smoothed(given, r)
    most = Math.max(end, GRAIN * grainIn(seen, core, inside))
  }
  const thin = thinOn(seen, THIN)
  const away = farFrom(seen, inside)
  const out = new Float32Array(n)
  for (let i = 0; i < n; i++) {
    if (spread[i] === 0) continue
    // what is wide in its midst is a cloud
    const off = core[i] > WHOLE ? Math.min(away[i], thin[i]) : away[i]
    out[i] = held(2 - off / (beside[i] > 0 ? most : most * BESIDE.alike))
  }
  const light = inLight(seen)
  for (let round = 0; round < ROUNDS; round++) mixAgain(light, seen, out, spread, most)
  closeIn(given, rough, out, inside)
  return out
}

/**
 * The border of a mask as a mixture of what is inside and outside of it, where the picture tells them apart; all else
 * stays as it is.
 * @param rough 0..1
 * @param reach pixels to either side of the border
 * @param end contrast of the edge there
 */
export function matteBorder(seen: Seen, rough: Float32Array, reach: number, end: number): Float32Array {
  const { width, height } = seen
  const zone = boxMean({ width, height, values: rough }, reach)
  for (let i = 0; i < zone.length; i++) if (zone[i] > 1 - EVEN || zone[i] < EVEN) zone[i] = 0
  const out = rough.slice()
  const light = inLight(seen)
  for (let round = 0; round < ROUNDS; round++) mixAgain(light, seen, out, zone, end)
  return out
}

/** The colour inside a rough mask, around each place, and how much what lies in its midst differs from it. */
function colourInside(given: Seen, rough: Float32Array, end: number): { inside: Local; grain: number } {
  const { small, by } = reduced(given, COARSE)
  const { width, height } = small
  const values = reducedPlane(rough, given.width, given.height, by)
  const core = Float32Array.from(boxMean({ width, height, values }, CORE >> 1), (v) => (v > WHOLE ? 1 : 0))
  let inside = nearOrFar(small, core)
  const grain = grainIn(small, core, inside)
  const most = Math.max(end, GRAIN * grain)
  // what is thin before it is not it
  const [thin, off] = [thinOn(small, THIN >> 1), farFrom(small, inside)]
  for (let i = 0; i < core.length; i++) if (Math.min(off[i], thin[i]) > most) core[i] = 0
  inside = nearOrFar(small, core)
  const [L, a, b, share] = [inside.L, inside.a, inside.b, inside.share].map((plane) =>
    enlarged(plane, small, by, given),
  )
  return { inside: { L, a, b, share }, grain }
}

/** A picture in linear light, in which things mix: the cones' responses behind Oklab (Ottosson 2020). */
function inLight({ width, height, L, a, b }: Seen): Seen {
  const n = L.length
  const [l, m, s] = [new Float32Array(n), new Float32Array(n), new Float32Array(n)]
  for (let i = 0; i < n; i++) {
    const p = L[i] + 0.3963377774 * a[i] + 0.2158037573 * b[i]
    const q = L[i] - 0.1055613458 * a[i] - 0.0638541728 * b[i]
    const r = L[i] - 0.0894841775 * a[i] - 1.291485548 * b[i]
    l[i] = p * p * p
    m[i] = q * q * q
    s[i] = r * r * r
  }
  return { width, height, L: l, a: m, b: s }
}

/** Takes each place for a mixture of the colours inside and outside around it, where those differ. */
function mixAgain(light: Seen, seen: Seen, mask: Float32Array, zone: Float32Array, most: number): void {
  const [squared, rest] = [mask.map((v) => v * v), mask.map((v) => (1 - v) * (1 - v))]
  const [common, other] = [meanOf(light, squared), meanOf(light, rest)]
  for (const { around, cut, each } of piecesOf(seen, FINE)) {
    let any = false
    each((i) => (any ||= zone[i] > 0))
    if (!any) continue
    const part = { ...around, L: cut(light.L), a: cut(light.a), b: cut(light.b) }
    const into = localMean(part, cut(squared), FINE, common)
    const outof = localMean(part, cut(rest), FINE, other)
    each((i, j) => {
      if (zone[i] === 0 || into.share[j] > 0.999) return
      const [p, q, r] = [into.L[j] - outof.L[j], into.a[j] - outof.a[j], into.b[j] - outof.b[j]]
      const apart = p * p + q * q + r * r
      const along =
        p * (light.L[i] - outof.L[j]) + q * (light.a[i] - outof.a[j]) + r * (light.b[i] - outof.b[j])
      // as far apart in light as it is in lightness
      const l = Math.max(seen.L[i], 0.05)
      const least = most * (DIM + l) * 3 * l * l
      // colours too near to one another say nothing
      const k = held(apart / (least * least) - 0.5)
      mask[i] += k * (held(along / Math.max(apart, 1e-9)) - mask[i])
    })
  }
}
