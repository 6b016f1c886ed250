import type { DrawnScene, Seen } from '../render/march'
import { fbm2, hash, noise2 } from '../render/noise'
import { skyRadiance, type Sky } from '../render/sky'
import { add, clamp01, dot, mix, mul, normalise, scale, smoothstep, type Vec3 } from '../render/vec'
import { bond, sunAt } from './materials'

/**
 * "The lawn behind the second mill": mown grass with a path of bricks, a hedge and the sky. A hose lies across it, and
 * a wheelbarrow was left on it; both are not there in the truth behind the picture.
 */
const sky: Sky = {
  sun: sunAt(-0.9, 0.75),
  sunLight: [3.1, 3.0, 2.75],
  zenith: [0.17, 0.3, 0.62],
  horizon: [0.72, 0.83, 0.97],
  cover: 0.35,
  seed: 91,
}
const HEDGE = 11
const HEDGE_TOP = 1.75
/** The path: its middle, and half its width, metres. */
const PATH = { x: -1.15, half: 0.42 } as const

const lit = (n: Vec3, shade = 1): Vec3 => {
  const dome = add(scale(sky.zenith, 0.22), scale(sky.horizon, 0.2))
  return add(scale(sky.sunLight, Math.max(dot(n, sky.sun), 0) * 0.3 * shade), dome)
}

function grass(x: number, z: number): Vec3 {
  const wide = fbm2(x * 0.6, z * 0.6, 4, 3)
  const tuft = fbm2(x * 7, z * 7, 4, 5)
  // blades lean this way and that; far away they close up
  const far = clamp01(1 - z / 9)
  const blade = noise2(x * 95 + 14 * tuft, z * 26, 7) * 0.6 + noise2(x * 44, z * 70 + 9 * wide, 8) * 0.4
  const mown = Math.floor((x * 0.9 + z * 0.44) / 0.55) % 2 === 0 ? 0.06 : -0.06
  const tone = clamp01(
    0.42 + (wide - 0.5) * 0.5 + (tuft - 0.5) * 0.7 + (blade - 0.5) * (0.35 + 0.55 * far) + mown,
  )
  const dry = smoothstep(0.55, 0.8, fbm2(x * 1.1 + 7, z * 1.1, 3, 12))
  const green = mix([0.05, 0.085, 0.028], [0.21, 0.27, 0.09], tone)
  return mul(mix(green, [0.24, 0.22, 0.09], dry * 0.45), lit([0, 1, 0], 0.75 + 0.5 * tuft))
}

function bricks(x: number, z: number): Vec3 {
  const { joint, id } = bond(z + 40, x + 40, 0.21, 0.105, 0.012)
  const grain = fbm2(x * 50, z * 50, 3, 21)
  const albedo = mix([0.2, 0.09, 0.06], [0.38, 0.2, 0.13], clamp01(id * 0.7 + (grain - 0.5) * 0.6))
  return mul(mix(albedo, [0.1, 0.12, 0.05], joint * 0.8), lit([0, 1, 0]))
}

function ground(x: number, z: number): Vec3 {
  const off = Math.abs(x - PATH.x) - PATH.half
  const ragged = (fbm2(x * 9, z * 9, 3, 31) - 0.5) * 0.05
  return off + ragged < 0 ? bricks(x, z) : grass(x, z)
}

function hedge(x: number, y: number): Vec3 {
  const leaf = fbm2(x * 24, y * 24, 4, 41)
  const mass = fbm2(x * 2.2, y * 2.2, 3, 43)
  const tone = clamp01(0.5 + (leaf - 0.5) * 1.7 + (mass - 0.5) * 0.9)
  const n = normalise([(leaf - 0.5) * 1.6, 0.35 + (mass - 0.5), -1])
  return mul(mix([0.03, 0.05, 0.02], [0.16, 0.22, 0.085], tone), lit(n, 0.4 + tone))
}

/** Where the hose lies: its place across at a distance. */
const hoseAt = (z: number) => 0.55 + 1.25 * Math.sin(z * 0.92 + 0.6) - 0.22 * (z - 3)
const HOSE = 0.022

function hose(x: number, z: number): Vec3 | undefined {
  if (z < 1.2 || z > 6.4) return undefined
  const slope = (hoseAt(z + 0.01) - hoseAt(z - 0.01)) / 0.02
  const across = (x - hoseAt(z)) / Math.sqrt(1 + slope * slope) / HOSE
  if (Math.abs(across) > 1) return undefined
  const up = Math.sqrt(1 - across * across)
  const stripe = Math.abs(across - 0.25) < 0.14 ? ([0.55, 0.5, 0.1] as const) : ([0.42, 0.07, 0.03] as const)
  return mul(stripe, lit(normalise([across * 0.8, up, -0.2])))
}

/** The wheelbarrow stands upright, seen from its side, at this distance. */
const BARROW = { x: 1.3, z: 4.3 } as const

/** Its colour at a place from its foot, metres; undefined where it lets through. */
function barrow(u: number, v: number): Vec3 | undefined {
  if (v < 0) return undefined
  const wheel = Math.sqrt((u + 0.52) ** 2 + (v - 0.19) ** 2)
  if (wheel < 0.19) {
    const spoke =
      wheel > 0.13 || wheel < 0.035 || hash(Math.floor(Math.atan2(v - 0.19, u + 0.52) * 1.3), 0) > 0.6
    if (wheel > 0.13) return mul([0.03, 0.03, 0.032], lit([0, 0.3, -0.95]))
    if (spoke) return mul([0.3, 0.3, 0.3], lit([0, 0.2, -0.98]))
  }
  const left = -0.45 + (0.62 - v) * 0.45
  const right = 0.42 + (v - 0.62) * 0.15
  if (v > 0.3 && v < 0.62 && u > left && u < right) {
    const dent = (fbm2(u * 7, v * 7, 3, 61) - 0.5) * 0.5
    const rust = smoothstep(0.55, 0.75, fbm2(u * 5, v * 9, 4, 62))
    return mul(mix([0.05, 0.14, 0.3], [0.25, 0.1, 0.04], rust), lit(normalise([dent, 0.3 + dent, -1])))
  }
  const handle = Math.abs(v - (0.27 + (u + 0.5) * 0.24)) < 0.02 && u > -0.5 && u < 0.95
  const leg = Math.abs(u - 0.3 - (0.3 - v) * 0.12) < 0.018 && v < 0.42
  if (handle || leg) return mul([0.3, 0.2, 0.11], lit([0, 0.6, -0.8]))
  return undefined
}

/** How much of the sun reaches the ground beside the wheelbarrow. */
const shadow = (x: number, z: number) => {
  const [u, v] = [(x - BARROW.x - 0.45 * (BARROW.z - z) * -1) / 0.62, (z - BARROW.z - 0.2) / 0.3]
  return 1 - 0.55 * (1 - smoothstep(0.75, 1.05, Math.sqrt(u * u + v * v)))
}

function look(things: boolean): (o: Vec3, d: Vec3) => Seen {
  return (o, d) => {
    if (things && d[2] > 0) {
      const t = (BARROW.z - o[2]) / d[2]
      const seen = barrow(o[0] + d[0] * t - BARROW.x, o[1] + d[1] * t)
      if (seen) return { object: 'barrow', light: seen }
    }
    if (d[1] < 0) {
      const t = -o[1] / d[1]
      const [x, z] = [o[0] + d[0] * t, o[2] + d[2] * t]
      if (z < HEDGE) {
        const under = smoothstep(0, 0.5, HEDGE - z)
        const lying = (things && hose(x, z)) || undefined
        const light = scale(lying ?? ground(x, z), (0.35 + 0.65 * under) * (things ? shadow(x, z) : 1))
        return { object: lying ? 'hose' : 'ground', light }
      }
    }
    const t = (HEDGE - o[2]) / d[2]
    const [x, y] = [o[0] + d[0] * t, o[1] + d[1] * t]
    if (y < HEDGE_TOP + (fbm2(x * 3, 1, 4, 71) - 0.5) * 0.16) return { object: 'hedge', light: hedge(x, y) }
    return { object: 'sky', light: skyRadiance(sky, d) }
  }
}

const seen = { eye: [0, 1.62, 0], pitch: -0.3, yaw: 0.04, fieldOfView: 0.98 } as const

export const lawn: DrawnScene = {
  ...seen,
  id: 'lawn',
  title: 'The lawn behind the second mill',
  radiance: (o, d) => look(true)(o, d).light,
  object: (o, d) => look(true)(o, d).object,
}
/** The same without the hose and the wheelbarrow. */
export const lawnBare: DrawnScene = {
  ...lawn,
  id: 'lawn-bare',
  radiance: (o, d) => look(false)(o, d).light,
  object: (o, d) => look(false)(o, d).object,
}
