import { fbm2, hash, noise2 } from '../render/noise'
import { box, cylinder, repeat, sphere } from '../render/solids'
import type { Lamp, MarchedScene, Surface } from '../render/march'
import { clamp01, mix, normalise, scale, smoothstep, type Vec3 } from '../render/vec'
import { boards, masonry } from './materials'

/**
 * "In the kiln hall": a vaulted brick hall lit by three bare lamps, a fire behind a kiln mouth, and a tall window
 * at its end with the cool light of an overcast morning. Lamps, fire and window are beyond the sensor, each in
 * another colour; the corners are very dark.
 */
const M = {
  floor: 0,
  brick: 1,
  vault: 2,
  bulb: 3,
  iron: 4,
  pane: 5,
  fire: 6,
  stack: 7,
  wood: 8,
  cloth: 9,
  glaze: 10,
}

const HALF = 3.6
const SPRING = 2.6
const END = 19
const LAMPS: readonly Vec3[] = [
  [-0.7, 3.35, 5.2],
  [0.9, 3.45, 9.8],
  [-0.6, 3.4, 14.4],
]
/** Light of a filament, and of a fire. */
const FILAMENT: Vec3 = [1, 0.56, 0.17]
const EMBER: Vec3 = [1, 0.3, 0.035]
const MORNING: Vec3 = [0.72, 0.92, 1.3]

function hall(x: number, y: number, z: number): number {
  // inside of walls, vault and ends: distance to what encloses
  const wall = HALF - Math.abs(x)
  const up = y - SPRING
  const vault = up > 0 ? HALF - Math.sqrt(x * x + up * up) : wall
  let d = Math.min(wall, vault, END - z, z + 3)
  // ribs across the vault, on pillars
  const rz = repeat(z - 3, 4.6, -1, 3)
  const ring = up > 0 ? HALF - Math.sqrt(x * x + up * up) : wall
  d = Math.min(d, Math.max(Math.abs(rz) - 0.28, ring - 0.24))
  return d
}

/** Kiln mouths in the left wall: arched openings, one of them lit. */
function mouths(x: number, y: number, z: number): number {
  const rz = repeat(z - 5.3, 4.6, 0, 2)
  const arch = y > 1.1 ? Math.sqrt(rz * rz + (y - 1.1) ** 2) - 0.75 : Math.abs(rz) - 0.75
  return Math.max(arch, Math.abs(x + HALF) - 0.7)
}

const window = (x: number, y: number) =>
  Math.max(y > 3.6 ? Math.sqrt(x * x + (y - 3.6) ** 2) - 1.15 : Math.abs(x) - 1.15, 1.1 - y)

function windowBars(x: number, y: number, z: number): number {
  const across = Math.abs(repeat(x, 0.46, -2, 2)) - 0.022
  const up = Math.abs(repeat(y - 1.1, 0.52, 0, 7)) - 0.022
  return Math.max(Math.min(across, up), Math.abs(z - END - 0.12) - 0.03, window(x, y) - 0.05)
}

function stacks(x: number, y: number, z: number): number {
  let d = 99
  for (let i = 0; i < 4; i++) {
    const cz = 4.4 + i * 2.5
    const high = 0.55 + 0.32 * hash(i, 5)
    const skew = (hash(i, 8) - 0.5) * 0.3
    const dx = x - 2.65 - skew
    const dz = z - cz
    d = Math.min(d, box(dx, y - high, dz, 0.48, high, 0.72))
  }
  return d
}

function barrow(x: number, y: number, z: number): { wood: number; cloth: number } {
  const dx = x + 1.75
  const dz = z - 5.6
  const bed = Math.max(box(dx, y - 0.62, dz, 0.42, 0.2, 0.62), -box(dx, y - 0.72, dz, 0.38, 0.2, 0.58))
  const legs = box(Math.abs(dx) - 0.36, y - 0.3, dz + 0.4, 0.03, 0.3, 0.03)
  const shafts = box(Math.abs(dx) - 0.36, y - 0.55, dz + 1.05, 0.025, 0.03, 0.5)
  const wheel = Math.max(
    Math.abs(Math.sqrt((y - 0.3) ** 2 + (dz - 0.75) ** 2) - 0.26) - 0.04,
    Math.abs(dx) - 0.03,
  )
  const cloth = sphere(dx / 0.4, (y - 0.72) / 0.24, dz / 0.56, 1) * 0.22
  return { wood: Math.min(bed, legs, shafts, wheel), cloth: cloth + (noise2(x * 9, z * 9, 4) - 0.5) * 0.04 }
}

/** Glazed trial tiles on a board at the right wall: small saturated squares. */
const tiles = (x: number, y: number, z: number) => box(x - HALF + 0.03, y - 1.75, z - 6.6, 0.04, 0.42, 1)

function lampParts(x: number, y: number, z: number): { bulb: number; iron: number } {
  let bulb = 99
  let iron = 99
  for (const [lx, ly, lz] of LAMPS) {
    const dx = x - lx
    const dz = z - lz
    bulb = Math.min(bulb, sphere(dx, y - ly, dz, 0.075))
    const r = Math.sqrt(dx * dx + dz * dz)
    const shade = Math.max(Math.abs(y - ly - 0.2 + r * 0.45) - 0.012, r - 0.3, 0.03 - r)
    iron = Math.min(iron, shade, Math.max(r - 0.012, Math.abs(y - ly - 1.3) - 1.1))
  }
  return { bulb, iron }
}

function nearest(x: number, y: number, z: number): [number, number] {
  const shell = hall(x, y, z)
  const open = Math.min(mouths(x, y, z), Math.max(window(x, y), Math.abs(z - END) - 0.3))
  let d = Math.max(shell, -open)
  let m = y > SPRING && d === shell && Math.abs(x) < HALF - 0.05 && z < END - 0.05 ? M.vault : M.brick
  const take = (value: number, material: number) => {
    if (value < d) {
      d = value
      m = material
    }
  }
  take(y, M.floor)
  take(END + 0.28 - z, M.pane)
  take(x + HALF + 0.62, M.fire)
  take(windowBars(x, y, z), M.iron)
  const lamps = lampParts(x, y, z)
  take(lamps.bulb, M.bulb)
  take(lamps.iron, M.iron)
  if (x > 1.2) {
    take(stacks(x, y, z), M.stack)
    take(tiles(x, y, z), M.glaze)
  } else take(1.35 - x + 0.4, M.stack)
  if (z < 9) {
    const b = barrow(x, y, z)
    take(b.wood, M.wood)
    take(b.cloth, M.cloth)
  }
  const barrel = cylinder(x - 1.1, y - 0.4, z - 12.3, 0.36 - 0.3 * (y - 0.4) ** 2, 0.42)
  take(barrel, M.wood)
  return [d * 0.92, m]
}

const GLAZES: readonly Vec3[] = [
  [0.42, 0.045, 0.03],
  [0.5, 0.3, 0.02],
  [0.06, 0.28, 0.07],
  [0.03, 0.1, 0.38],
  [0.02, 0.22, 0.27],
  [0.3, 0.05, 0.22],
  [0.6, 0.58, 0.52],
  [0.045, 0.045, 0.05],
]

function surface(p: Vec3, n: Vec3, material: number, travelled: number): Surface {
  const [x, y, z] = p
  const fade = 1 - smoothstep(9, 24, travelled)
  const brick = {
    dark: [0.12, 0.058, 0.04] as Vec3,
    light: [0.31, 0.155, 0.1] as Vec3,
    joint: [0.36, 0.33, 0.28] as Vec3,
  }
  const size = { length: 0.22, height: 0.075, joint: 0.009 }
  switch (material) {
    case M.floor: {
      const flags = masonry(
        n,
        x,
        z,
        { length: 0.62, height: 0.45, joint: 0.014 },
        {
          dark: [0.1, 0.09, 0.075],
          light: [0.2, 0.18, 0.15],
          joint: [0.06, 0.052, 0.045],
        },
        fade,
      )
      const dust = fbm2(x * 1.3, z * 0.9, 4, 91)
      const worn = smoothstep(1.6, 0.2, Math.abs(x + 0.1)) * 0.3
      return {
        ...flags,
        albedo: mix(flags.albedo, [0.3, 0.2, 0.15], clamp01(dust * 0.75 - worn)),
        gloss: 0.05 + worn,
      }
    }
    case M.brick: {
      const end = Math.abs(n[2]) > 0.7
      return masonry(n, end ? x : z, y, size, brick, fade)
    }
    case M.vault: {
      const turn = Math.atan2(x, Math.max(y - SPRING, 0.001)) * HALF
      return masonry(n, z, turn, size, { ...brick, light: [0.36, 0.21, 0.14] }, fade)
    }
    case M.bulb:
      return { albedo: [0, 0, 0], normal: n, gloss: 0, translucent: 0, glow: scale(FILAMENT, 26) }
    case M.pane: {
      const soft = 0.75 + 0.5 * fbm2(x * 0.9, y * 0.7, 4, 13)
      const high = 1.25 + 0.55 * (y - 2)
      return { albedo: [0, 0, 0], normal: n, gloss: 0, translucent: 0, glow: scale(MORNING, high * soft) }
    }
    case M.fire: {
      const lit = Math.abs(z - 9.9) < 1.2
      const flame = fbm2(z * 3.1, y * 2.3 - 3, 5, 17)
      const heat = lit ? 7 * Math.pow(clamp01(flame * 1.7 - 0.25 * y), 2) + 0.25 : 0.004
      return { albedo: [0.02, 0.015, 0.012], normal: n, gloss: 0, translucent: 0, glow: scale(EMBER, heat) }
    }
    case M.stack: {
      const side = Math.abs(n[0]) > 0.6 ? z : x
      const flat = Math.abs(n[1]) > 0.7
      return masonry(
        n,
        side,
        flat ? z : y,
        { ...size, joint: 0.006 },
        {
          dark: [0.2, 0.085, 0.05],
          light: [0.42, 0.2, 0.125],
          joint: [0.03, 0.02, 0.015],
        },
        1,
      )
    }
    case M.wood:
      return boards(p, n, x + z, 0.11, [0.06, 0.045, 0.03], [0.2, 0.14, 0.085])
    case M.cloth: {
      const thread = noise2(x * 190, z * 190, 61)
      return {
        albedo: mix([0.015, 0.06, 0.15], [0.03, 0.11, 0.25], thread),
        normal: normalise([n[0], n[1] + 0.1, n[2]]),
        gloss: 0.01,
        translucent: 0,
      }
    }
    case M.glaze: {
      const u = (z - 5.6) / 0.25
      const v = (y - 1.33) / 0.21
      const i = Math.floor(u) * 3 + Math.floor(v) * 5
      const inside = Math.min(
        u - Math.floor(u),
        1 - u + Math.floor(u),
        v - Math.floor(v),
        1 - v + Math.floor(v),
      )
      const albedo = inside < 0.06 ? ([0.16, 0.12, 0.09] as Vec3) : GLAZES[((i % 8) + 8) % 8]
      return { albedo, normal: n, gloss: 0.08, translucent: 0 }
    }
    default:
      return { albedo: [0.03, 0.03, 0.032], normal: n, gloss: 0.05, translucent: 0 }
  }
}

/** The window's light, from four places of it. */
const windowLight: Lamp[] = [-0.55, 0.55].flatMap((x) =>
  [2, 3.6].map((y) => ({
    at: [x, y, END - 0.05] as Vec3,
    power: scale(MORNING, 2.6),
    facing: [0, 0, -1] as Vec3,
    radius: 0.6,
  })),
)

export const kilnHall: MarchedScene = {
  id: 'kiln-hall',
  title: 'In the kiln hall',
  sky: { sun: [0, 1, 0], sunLight: [0, 0, 0], zenith: MORNING, horizon: MORNING, cover: 0, seed: 1 },
  eye: [0.45, 1.55, 0],
  pitch: 0.075,
  fieldOfView: 1.32,
  far: 60,
  hazeLength: 1e9,
  indoors: [0.021, 0.016, 0.0115],
  lamps: [
    ...LAMPS.map((at) => ({ at, power: scale(FILAMENT, 3.2), radius: 0.09, shaded: 0.5 })),
    ...[-0.35, 0.35].map((dz) => ({
      at: [-HALF + 0.1, 0.7, 9.9 + dz] as Vec3,
      power: scale(EMBER, 0.55),
      radius: 0.25,
    })),
    ...windowLight,
  ],
  objects: Object.keys(M),
  distance: (x, y, z) => nearest(x, y, z)[0],
  material: (x, y, z) => nearest(x, y, z)[1],
  surface,
}
