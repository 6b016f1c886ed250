import { fbm2, fbm3, hash, noise2 } from '../render/noise'
import { box, cylinder, repeat, sphere } from '../render/solids'
import type { MarchedScene, Surface } from '../render/march'
import { clamp01, mix, normalise, smoothstep, type Vec3 } from '../render/vec'
import { boards, foliage, masonry, sunAt } from './materials'

/**
 * "The lock at noon": gates and stone sides of the canal lock, calm water that holds the whole sky, and thin cloud
 * whose brightest streaks lie at and just beyond what the sensor holds, in green before red and blue.
 */
const M = {
  land: 0,
  water: 1,
  stone: 2,
  gate: 3,
  white: 4,
  wall: 5,
  roof: 6,
  leaf: 7,
  wood: 8,
  red: 9,
  pane: 10,
}

const WATER = -0.5
const HALF = 2.9
const GATE_Z = 11

function land(x: number, z: number, fine: boolean): number {
  const off = Math.abs(x) - HALF - 1.6
  let h = 0.02 * smoothstep(0, 3, off)
  h += (noise2(x * 0.05, z * 0.05, 3) - 0.5) * 0.8 * smoothstep(4, 30, off)
  if (fine && off > 0) {
    const tuft = noise2(x * 11, z * 9, 5) * 0.6 + noise2(x * 33, z * 27, 6) * 0.4
    h += 0.07 * tuft * smoothstep(0, 0.5, off) * (1 - smoothstep(25, 60, z))
  }
  return h
}

/** Stone sides with coping, from in front of the camera to beyond the gates. */
function quay(x: number, y: number, z: number): number {
  const dx = Math.abs(x) - HALF - 0.85
  const side = box(dx, y + 1.6, z - 12, 0.85, 1.62, 30)
  const coping = box(dx + 0.45, y - 0.07, z - 12, 0.5, 0.09, 30)
  return Math.min(side, coping)
}

/** Two leaves that meet in a blunt V, and the walk along their top. */
function gate(x: number, y: number, z: number): { wood: number; white: number } {
  const ax = Math.abs(x)
  const c = Math.cos(0.32)
  const s = Math.sin(0.32)
  const dz = z - GATE_Z
  // frame of one leaf: from the side toward the middle
  const u = (HALF - ax) * c + dz * s
  const v = -(HALF - ax) * s + dz * c
  const long = HALF / c
  const leaf = box(u - long / 2, y + 0.75, v, long / 2, 1.35, 0.12)
  const beams = box(u - long / 2, repeat(y + 1.8, 0.6, 0, 3), v + 0.16, long / 2, 0.09, 0.08)
  const walk = box(u - long / 2, y - 0.62, v + 0.3, long / 2, 0.03, 0.28)
  const posts = box(repeat(u - 0.4, 0.75, 0, 3), y - 1.1, v + 0.5, 0.035, 0.46, 0.035)
  const rail = box(u - long / 2, Math.abs(y - 1.35) - 0.17, v + 0.5, long / 2 - 0.1, 0.03, 0.028)
  const balance = box(u + 1.7, y - 0.78, v, 2.2, 0.14, 0.15)
  const tip = box(u + 3.55, y - 0.78, v, 0.36, 0.15, 0.16)
  return { wood: Math.min(leaf, beams, walk, balance), white: Math.min(posts, rail, tip) }
}

function cottage(
  x: number,
  y: number,
  z: number,
): { wall: number; roof: number; white: number; pane: number } {
  const dx = x - 9.6
  const dz = z - 21
  const far = box(dx, y - 2.5, dz, 4, 3.2, 3.5)
  if (far > 2) return { wall: far, roof: far, white: far, pane: far }
  const slope = 0.85
  const n = 1 / Math.sqrt(1 + slope * slope)
  const ax = Math.abs(dx)
  const az = Math.abs(dz)
  const body = Math.max(box(dx, y - 1.35, dz, 3.3, 1.4, 2.6), -99)
  const gable = Math.max((y - 4.45 + slope * az) * n, ax - 3.3, az - 2.6, 2.6 - y)
  const roof = Math.max(Math.abs((y - 4.62 + slope * az) * n) - 0.07, ax - 3.6, az - 2.95)
  const chimney = box(dx - 2.2, y - 4.7, dz, 0.28, 0.85, 0.28)
  const wx = repeat(dx, 1.75, -1, 1)
  const frame = Math.max(
    box(wx, y - 1.55, dz + 2.6, 0.46, 0.62, 0.07),
    -box(wx, y - 1.55, dz + 2.6, 0.39, 0.55, 0.2),
  )
  const bars = Math.min(
    box(wx, y - 1.55, dz + 2.62, 0.02, 0.58, 0.03),
    box(wx, y - 1.55, dz + 2.62, 0.42, 0.02, 0.03),
  )
  const pane = box(wx, y - 1.55, dz + 2.6, 0.4, 0.56, 0.03)
  return { wall: Math.min(body, gable, chimney), roof, white: Math.min(frame, bars), pane }
}

function leaves(x: number, y: number, z: number): number {
  let d = 99
  const row = Math.round((x + 80) / 8)
  for (let i = row - 1; i <= row + 1; i++) {
    const cx = -80 + i * 8 + hash(i, 7) * 5
    if (Math.abs(cx) < 6) continue
    const cz = 74 + hash(i, 9) * 45
    const tall = 3.6 + hash(i, 3) * 4.5
    d = Math.min(d, sphere((x - cx) / 0.7, y - tall * 0.8, (z - cz) / 0.7, tall) * 0.7)
  }
  d = Math.min(d, sphere(x + 11.5, (y - 4) * 1.05, z - 25, 3.9), sphere(x + 17, (y - 3.4) * 1.1, z - 33, 3.4))
  d = Math.min(d, sphere((x - 16.5) * 0.8, y - 2.4, z - 29, 3))
  if (d > 2) return d
  return (
    (d + fbm3(x * 1.2, y * 1.2, z * 1.2, 2, 41) * 2 + fbm3(x * 5, y * 5, z * 5, 2, 43) * 0.7 - 1.2) * 0.55
  )
}

function nearest(x: number, y: number, z: number): [number, number] {
  let d = y - WATER
  let m = M.water
  const take = (value: number, material: number) => {
    if (value < d) {
      d = value
      m = material
    }
  }
  const off = Math.abs(x) - HALF - 0.4
  const ground = Math.max(y - land(x, z, y < 1), -off)
  take(off > 0 ? (y - land(x, z, y < 1)) * 0.6 : Math.max(ground, -off), M.land)
  take(quay(x, y, z), M.stone)
  const g = gate(x, y, z)
  take(g.wood, M.gate)
  take(g.white, M.white)
  const c = cottage(x, y, z)
  take(c.wall, M.wall)
  take(c.roof, M.roof)
  take(c.white, M.white)
  take(c.pane, M.pane)
  take(leaves(x, y, z), M.leaf)
  take(cylinder(x + 11.5, y - 1, z - 25, 0.34, 2), M.wood)
  // a bollard and a lifebuoy's post near the camera, both painted
  take(cylinder(x - 3.35, y - 0.35, z - 4.4, 0.11 + 0.03 * smoothstep(0.1, 0.3, y - 0.35), 0.3), M.red)
  const post = cylinder(x + 3.9, y - 0.8, z - 6.2, 0.05, 0.85)
  const ringR = Math.sqrt((x + 3.9) ** 2 + (y - 1.35) ** 2) - 0.3
  take(post, M.white)
  take(Math.sqrt(ringR * ringR + (z - 6.05) ** 2) - 0.075, M.red)
  return [d * 0.95, m]
}

function water(p: Vec3): Surface {
  const [x, , z] = p
  const e = 0.02
  const wave = (a: number, b: number) =>
    0.0035 * fbm2(a * 0.9, b * 0.5, 3, 33) + 0.0009 * noise2(a * 5 + 3, b * 2.2, 35)
  const h = wave(x, z)
  const nx = (h - wave(x + e, z)) / e
  const nz = (h - wave(x, z + e)) / e
  return {
    albedo: [0.014, 0.02, 0.014],
    normal: normalise([nx * 0.5, 1, nz * 0.5]),
    gloss: 1,
    translucent: 0,
  }
}

function surface(p: Vec3, n: Vec3, material: number, travelled: number): Surface {
  const [x, y, z] = p
  const fade = 1 - smoothstep(14, 45, travelled)
  switch (material) {
    case M.water:
      return water(p)
    case M.stone: {
      const top = Math.abs(n[1]) > 0.7
      const s = masonry(
        n,
        z,
        top ? x : y,
        { length: 0.9, height: 0.38, joint: 0.02 },
        {
          dark: [0.13, 0.125, 0.11],
          light: [0.34, 0.32, 0.28],
          joint: [0.09, 0.085, 0.07],
        },
        fade,
      )
      const wet = smoothstep(-0.05, -0.45, y)
      return { ...s, albedo: mix(s.albedo, [0.035, 0.05, 0.02], wet * 0.85) }
    }
    case M.gate: {
      const s = boards(p, n, x, 0.2, [0.04, 0.034, 0.028], [0.11, 0.09, 0.07])
      const wet = smoothstep(0.05, -0.45, y)
      return { ...s, albedo: mix(s.albedo, [0.02, 0.03, 0.015], wet * 0.7) }
    }
    case M.white: {
      const worn = fbm2((x + z) * 6, y * 6, 3, 71)
      return {
        albedo: mix([0.72, 0.72, 0.7], [0.42, 0.4, 0.36], smoothstep(0.6, 0.8, worn)),
        normal: n,
        gloss: 0.04,
        translucent: 0,
      }
    }
    case M.red:
      return {
        albedo:
          material === M.red && Math.sin(Math.atan2(y - 1.35, x + 3.9) * 4) > 0.3 && x < 0
            ? [0.7, 0.69, 0.66]
            : [0.46, 0.035, 0.02],
        normal: n,
        gloss: 0.06,
        translucent: 0,
      }
    case M.wall: {
      const s = masonry(
        n,
        Math.abs(n[0]) > 0.6 ? z : x,
        y,
        { length: 0.22, height: 0.075, joint: 0.009 },
        {
          dark: [0.16, 0.075, 0.05],
          light: [0.33, 0.17, 0.11],
          joint: [0.38, 0.36, 0.31],
        },
        fade,
      )
      return s
    }
    case M.pane:
      return { albedo: [0.02, 0.024, 0.03], normal: n, gloss: 0.5, translucent: 0 }
    case M.roof: {
      const rib = Math.sin((x / 0.24) * Math.PI * 2)
      const lip = (y * 1.6) / 0.22 - Math.floor((y * 1.6) / 0.22)
      const albedo = mix(
        [0.13, 0.06, 0.04],
        [0.29, 0.13, 0.085],
        hash(Math.floor(x / 0.24), Math.floor((y * 1.6) / 0.22), 5),
      )
      return {
        albedo,
        normal: normalise([n[0] + rib * 0.35, n[1], n[2] - lip * 0.25]),
        gloss: 0.03,
        translucent: 0,
      }
    }
    case M.leaf:
      return foliage(p, n, [0.03, 0.058, 0.014], [0.1, 0.15, 0.03])
    case M.wood:
      return boards(p, n, x + z, 0.14, [0.05, 0.045, 0.036], [0.14, 0.115, 0.085])
    default: {
      const patch = fbm2(x * 0.16, z * 0.1, 4, 21)
      const blade = noise2(x * 47, z * 29, 23) * 0.6 + noise2(x * 110, z * 70, 24) * 0.4
      const near = Math.exp(-travelled / 22)
      let albedo: Vec3 = mix(
        [0.045, 0.085, 0.02],
        [0.15, 0.17, 0.05],
        clamp01(patch * 1.5 - 0.3 + (blade - 0.5) * near),
      )
      const off = Math.abs(x) - HALF - 1.6
      albedo = mix(albedo, [0.26, 0.22, 0.16], (1 - smoothstep(0.3, 0.9, off + (blade - 0.5) * 0.5)) * 0.8)
      const flower = hash(Math.floor(x * 8), Math.floor(z * 8), 31)
      if (flower > 0.98 && off > 1.2 && travelled < 26)
        albedo = flower > 0.99 ? [0.6, 0.48, 0.03] : [0.62, 0.62, 0.6]
      return {
        albedo,
        normal: normalise([n[0] + (blade - 0.5) * near, n[1], n[2]]),
        gloss: 0,
        translucent: 0.25,
      }
    }
  }
}

const AZIMUTH = 0.62
const ELEVATION = 0.78

export const canalLock: MarchedScene = {
  id: 'canal-lock',
  title: 'The lock at noon',
  sky: {
    sun: sunAt(AZIMUTH, ELEVATION),
    sunLight: [3.7, 3.55, 3.25],
    zenith: [0.17, 0.3, 0.62],
    horizon: [0.78, 0.88, 1.0],
    cover: 0,
    veil: 0.95,
    seed: 23,
  },
  eye: [-0.7, 1.5, -6.5],
  pitch: 0.01,
  fieldOfView: 0.92,
  far: 300,
  hazeLength: 1400,
  objects: Object.keys(M),
  distance: (x, y, z) => nearest(x, y, z)[0],
  material: (x, y, z) => nearest(x, y, z)[1],
  surface,
}

/** Taken in passing: the camera leaned, and looked up a little. */
export const LEAN = 0.061
export const canalLeaning: MarchedScene = {
  ...canalLock,
  id: 'canal-leaning',
  title: 'The lock in passing',
  eye: [0.9, 1.6, -5.5],
  yaw: -0.16,
  pitch: 0.03,
  roll: LEAN,
  fieldOfView: 0.95,
}
