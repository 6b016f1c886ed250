import type { DrawnScene, Seen } from '../render/march'
import { fbm2, hash } from '../render/noise'
import { add, clamp01, dot, mix, mul, normalise, scale, smoothstep, type Vec3 } from '../render/vec'
import { bond } from './materials'
import { meet, mirrored, type Rectangle } from './planes'

/**
 * "The boathouse": tarred boards under a grey sky with one line of light cloud, its door open on a dim room, a blue
 * boat beside a red one on still water. What each ray meets has a name, so that masks can be told right from wrong.
 */

/** Light from the grey sky, and a little more of it from one side. */
const AMBIENT: Vec3 = [0.5, 0.53, 0.57]
const SIDE = normalise([-0.6, 0.7, -0.4])
const lit = (albedo: Vec3, n: Vec3): Vec3 =>
  mul(albedo, scale(AMBIENT, 0.45 + 0.35 * n[1] + 0.4 * Math.max(dot(n, SIDE), 0)))

function sky(d: Vec3): Vec3 {
  const up = Math.max(d[1], 0)
  const flat = fbm2((d[0] / (up + 0.25)) * 2.2, 3 / (up + 0.25), 5, 17)
  const grey = mix([0.56, 0.59, 0.63], [0.36, 0.38, 0.42], clamp01(flat * 1.5 - 0.25))
  // the line of light cloud
  const line = 0.185 + 0.02 * (fbm2(d[0] * 3.5, 5, 4, 23) - 0.5) + 0.03 * d[0]
  const ragged = smoothstep(0.25, 0.6, fbm2(d[0] * 9, up * 70, 5, 29))
  const bright = smoothstep(0.02, 0.003, Math.abs(up - line)) * ragged
  return mix(grey, [1.12, 1.1, 1.05], clamp01(bright))
}

/** A wood on the far bank: height of its outline along it. */
const WOOD = 48
const woodTop = (x: number): number =>
  3.4 + 2.6 * fbm2(x / 7, 2, 3, 31) + 1.3 * (fbm2(x * 1.7, 4, 4, 37) - 0.4)

const FRONT = 13
const DOOR = { left: -5.7, right: -2.7, top: 2.7 } as const
const HOUSE = { left: -7.6, right: -0.9, eaves: 3.3, ridge: 5.9 } as const
const MIDDLE = (HOUSE.left + HOUSE.right) / 2
const roofAt = (x: number) =>
  HOUSE.ridge - ((HOUSE.ridge - HOUSE.eaves) * Math.abs(x - MIDDLE)) / (HOUSE.right - MIDDLE)

/** Boards of the front. */
function boarded(x: number, y: number): Vec3 {
  const { joint, id } = bond(y, x + 40, 4.1, 0.22, 0.014)
  const grain = fbm2(x * 42, y * 2.6, 4, 41)
  const body = mix([0.075, 0.062, 0.05], [0.16, 0.135, 0.108], clamp01(id * 0.6 + grain * 0.55 - 0.1))
  return mix(body, [0.012, 0.011, 0.01], joint * 0.9)
}

function roofed(x: number, y: number): Vec3 {
  const { joint, id } = bond(x + 30, y, 0.34, 0.26, 0.03)
  return mix(mix([0.17, 0.1, 0.075], [0.27, 0.15, 0.1], id), [0.05, 0.035, 0.03], joint * 0.8)
}

/** The room behind the door, by where the ray comes in: its back with a small window, its sides, floor and ceiling. */
function room(o: Vec3, d: Vec3, t: number): Vec3 {
  const walls: Rectangle[] = [
    { centre: [MIDDLE, 1.5, 21], across: [1, 0, 0], up: [0, 1, 0], half: [4, 2.2] },
    { centre: [-7.4, 1.5, 17], across: [0, 0, 1], up: [0, 1, 0], half: [4.2, 2.2] },
    { centre: [-1.1, 1.5, 17], across: [0, 0, 1], up: [0, 1, 0], half: [4.2, 2.2] },
    { centre: [MIDDLE, 0.15, 17], across: [1, 0, 0], up: [0, 0, 1], half: [4.2, 4.2] },
    { centre: [MIDDLE, 3.4, 17], across: [1, 0, 0], up: [0, 0, 1], half: [4.2, 4.2] },
  ]
  let near = Infinity
  let light: Vec3 = [0.004, 0.004, 0.004]
  walls.forEach((wall, i) => {
    const hit = meet(wall, o, d)
    if (!hit || hit.t < t || hit.t > near) return
    near = hit.t
    const plank = Math.floor((i < 3 ? hit.v : hit.u) / 0.3)
    const grain = fbm2(hit.u * 5, hit.v * 26, 3, 43 + i)
    const body = mix([0.2, 0.15, 0.1], [0.42, 0.32, 0.21], clamp01(hash(plank, i, 5) * 0.5 + grain * 0.6))
    // from the door it becomes darker inward; a window in the back gives a little
    const depth = smoothstep(22, 13, o[2] + d[2] * hit.t)
    light = scale(body, 0.012 + 0.035 * depth * depth)
    if (i === 0 && Math.abs(hit.u + 1.2) < 0.42 && Math.abs(hit.v - 0.6) < 0.34)
      light =
        Math.abs(hit.u + 1.2) < 0.03 || Math.abs(hit.v - 0.6) < 0.03
          ? [0.02, 0.018, 0.015]
          : [0.5, 0.52, 0.54]
    // oars that lean on the back, and a coil of rope
    if (i === 0 && Math.abs(hit.u + 2.4 - 0.18 * hit.v) < 0.035 && hit.v < 1.4) light = [0.05, 0.04, 0.026]
    if (i === 0 && Math.abs(Math.hypot(hit.u + 0.5, hit.v - 0.3) - 0.26) < 0.05) light = [0.034, 0.028, 0.019]
  })
  return light
}

interface Boat {
  name: 'blue boat' | 'red boat'
  centre: Vec3
  half: Vec3
  hull: Vec3
}

const BOATS: readonly Boat[] = [
  { name: 'blue boat', centre: [0.75, 0.12, 8.6], half: [1.55, 0.62, 0.7], hull: [0.035, 0.11, 0.36] },
  { name: 'red boat', centre: [3.15, 0.12, 9.4], half: [1.45, 0.58, 0.66], hull: [0.42, 0.045, 0.035] },
]
/** Height of the gunwale over the water, and how far it rises to the ends. */
const GUNWALE = { middle: 0.42, rise: 0.22 } as const

/** A hull from outside, or its inside over the gunwale. */
function boatSeen(
  { centre, half, hull, name }: Boat,
  o: Vec3,
  d: Vec3,
): { t: number; seen: Seen } | undefined {
  const [p, q] = [
    [0, 1, 2].map((k) => (o[k] - centre[k]) / half[k]),
    [0, 1, 2].map((k) => d[k] / half[k]),
  ] as unknown as [Vec3, Vec3]
  const [a, b, c] = [dot(q, q), dot(p, q), dot(p, p) - 1]
  const h = b * b - a * c
  if (h < 0) return undefined
  for (const [side, inside] of [
    [-1, false],
    [1, true],
  ] as const) {
    const t = (-b + side * Math.sqrt(h)) / a
    if (t <= 0) continue
    const at = add(o, scale(d, t))
    const along = (at[0] - centre[0]) / half[0]
    if (at[1] > GUNWALE.middle + GUNWALE.rise * along * along || at[1] < 0) continue
    const n = normalise([0, 1, 2].map((k) => (at[k] - centre[k]) / half[k] ** 2) as unknown as Vec3)
    const edge = GUNWALE.middle + GUNWALE.rise * along * along - at[1]
    const worn = fbm2(at[0] * 7, at[1] * 30, 4, 53)
    let body = inside
      ? mix([0.2, 0.15, 0.09], [0.32, 0.25, 0.16], worn)
      : mix(hull, scale(hull, 1.5), worn * 0.6)
    if (edge < 0.05) body = [0.5, 0.46, 0.38]
    else if (!inside && Math.abs((at[1] * 6.2) % 1) < 0.06) body = scale(body, 0.55)
    const light = scale(lit(body, inside ? scale(n, -1) : n), inside ? 0.4 : 1)
    return { t, seen: { object: name, light } }
  }
  return undefined
}

function front(o: Vec3, d: Vec3): { t: number; seen: Seen } | undefined {
  const t = (FRONT - o[2]) / d[2]
  const [x, y] = [o[0] + d[0] * t, o[1] + d[1] * t]
  if (!(t > 0) || y < 0 || x < HOUSE.left - 0.5 || x > HOUSE.right + 0.5) return undefined
  const below = roofAt(x)
  if (y > below) return undefined
  if (y > below - 0.42) return { t, seen: { object: 'roof', light: lit(roofed(x, y), [0, 0.7, -0.7]) } }
  if (x < HOUSE.left || x > HOUSE.right) return undefined
  if (x > DOOR.left && x < DOOR.right && y < DOOR.top)
    return { t, seen: { object: 'room', light: room(o, d, t) } }
  return { t, seen: { object: 'wall', light: lit(boarded(x, y), [0, 0, -1]) } }
}

/** What a ray meets above the water. */
function above(o: Vec3, d: Vec3): { t: number; seen: Seen } {
  const hits = BOATS.flatMap((boat) => boatSeen(boat, o, d) ?? [])
  const house = front(o, d)
  if (house) hits.push(house)
  const t = (WOOD - o[2]) / d[2]
  const x = o[0] + d[0] * t
  if (t > 0 && o[1] + d[1] * t < woodTop(x)) {
    const leaf = fbm2(x * 2.4, (o[1] + d[1] * t) * 2.4, 5, 59)
    const light = mix([0.016, 0.024, 0.014], [0.09, 0.11, 0.05], clamp01(leaf * 1.9 - 0.45))
    hits.push({ t, seen: { object: 'wood', light: mix(light, [0.45, 0.48, 0.52], 0.09) } })
  }
  return hits.reduce((a, b) => (b.t < a.t ? b : a), { t: Infinity, seen: { object: 'sky', light: sky(d) } })
}

function look(o: Vec3, d: Vec3): Seen {
  const { t, seen } = above(o, d)
  const down = d[1] < 0 ? -o[1] / d[1] : Infinity
  if (down >= t) return seen
  const at = add(o, scale(d, down))
  // still water: flat waves, finer with distance than a pixel
  const calm = 0.02 / (1 + down * 0.05)
  const wave = (seed: number) => (fbm2(at[0] * 1.6, at[2] * 0.8, 4, seed) - 0.5) * calm * 2
  const n = normalise([wave(61), 1, wave(67)])
  const r = mirrored(d, n)
  const seenIn = above(at, normalise([r[0], Math.abs(r[1]), r[2]])).seen.light
  const facing = Math.max(-dot(d, n), 0)
  const fresnel = 0.03 + 0.97 * Math.pow(1 - facing, 5)
  return { object: 'water', light: mix([0.012, 0.017, 0.014], seenIn, clamp01(fresnel * 1.3)) }
}

export const boathouse: DrawnScene = {
  id: 'boathouse',
  title: 'The boathouse',
  eye: [0, 1.7, 0],
  pitch: 0.05,
  fieldOfView: 0.92,
  radiance: (o, d) => look(o, d).light,
  object: (o, d) => look(o, d).object,
}
