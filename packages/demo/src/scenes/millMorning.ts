import { fbm2, fbm3, hash, noise2 } from '../render/noise'
import { box, cylinder, repeat, sphere, tower } from '../render/solids'
import type { MarchedScene, Surface } from '../render/march'
import { foliage, sunAt } from './materials'
import { clamp01, mix, normalise, smoothstep, type Vec3 } from '../render/vec'

/**
 * "Morning at the second mill": the tower mill against a bright sky, the lock-keeper's brick shed in deep
 * shade in front, the canal between. The sun stands behind the shed's roof, so that the range from the shed
 * wall to the cloud rims is far more than a JPEG holds.
 */
const M = { ground: 0, water: 1, brick: 2, wood: 3, tiles: 4, mill: 5, cap: 6, sail: 7, leaf: 8, white: 9 }

const MILL = { x: 18.5, z: 62 }
const WATER = -0.75
const SAIL_TURN = 0.5
const HUB_Y = 18.4

const canalCentre = (z: number) => 2.7 + 0.15 * z - 0.0018 * Math.max(0, z - 25) ** 2

function groundHeight(x: number, z: number, fine: boolean): number {
  const off = Math.abs(x - canalCentre(z)) - 2.6
  const bank = smoothstep(-0.5, 1.5, off)
  const rolling = (noise2(x * 0.06, z * 0.06, 3) - 0.5) * 0.5 * smoothstep(2, 14, off)
  let h = -1.6 + bank * 1.6 + rolling
  if (fine && off > -0.3) {
    const reed = smoothstep(-0.2, 0.5, off) * (1 - smoothstep(0.9, 2.6, off))
    const near = 1 - smoothstep(45, 90, z)
    const tuft = noise2(x * 9, z * 7, 5) * 0.6 + noise2(x * 31, z * 24, 6) * 0.4
    h += (0.1 + 0.55 * reed * noise2(x * 0.7, z * 0.35, 8)) * tuft * near
  }
  return h
}

const SHED = { x: -6.6, z: 9.6, hx: 3.3, hz: 3.4, eaves: 2.7, ridge: 4.9 }

function shed(x: number, y: number, z: number): number {
  const dx = x - SHED.x
  const dz = z - SHED.z
  const body = box(dx, y - SHED.eaves / 2, dz, SHED.hx, SHED.eaves / 2, SHED.hz)
  const door = box(dx - SHED.hx, y - 1, dz + 1.3, 0.12, 1.05, 0.52)
  const pane = box(dx - SHED.hx, y - 1.5, dz - 1.5, 0.12, 0.5, 0.42)
  return Math.max(body, -Math.min(door, pane))
}

function shedRoof(x: number, y: number, z: number): number {
  const dx = Math.abs(x - SHED.x)
  const dz = Math.abs(z - SHED.z)
  const slope = (SHED.ridge - SHED.eaves) / (SHED.hx + 0.35)
  const n = 1 / Math.sqrt(1 + slope * slope)
  const plane = (y - SHED.ridge + slope * dx) * n
  return Math.max(Math.abs(plane + 0.09) - 0.09, dz - SHED.hz - 0.3, dx - SHED.hx - 0.4)
}

function shedGable(x: number, y: number, z: number): number {
  const dx = Math.abs(x - SHED.x)
  const dz = Math.abs(z - SHED.z)
  const slope = (SHED.ridge - SHED.eaves) / (SHED.hx + 0.35)
  const n = 1 / Math.sqrt(1 + slope * slope)
  return Math.max((y - SHED.ridge + 0.2 + slope * dx) * n, dz - SHED.hz, SHED.eaves - 0.05 - y, dx - SHED.hx)
}

function shedTimber(x: number, y: number, z: number): number {
  const dx = x - SHED.x
  const dz = z - SHED.z
  const door = box(dx - SHED.hx + 0.09, y - 1, dz + 1.3, 0.03, 1.05, 0.52)
  const bar = Math.min(
    box(dx - SHED.hx + 0.05, y - 1.5, dz - 1.5, 0.03, 0.5, 0.025),
    box(dx - SHED.hx + 0.05, y - 1.5, dz - 1.5, 0.03, 0.025, 0.42),
    box(dx - SHED.hx, y - 0.97, dz - 1.5, 0.06, 0.035, 0.5),
    box(dx - SHED.hx - 0.28, y - 0.45, dz - 1.5, 0.2, 0.03, 0.9),
    box(dx - SHED.hx - 0.28, y - 0.2, Math.abs(dz - 1.5) - 0.7, 0.14, 0.24, 0.03),
  )
  const px = x + 2.4
  const pz = repeat(z - 16, 3, -1, 12)
  const post = box(px, y - 0.5, pz, 0.06, 0.62, 0.06)
  const rails = z > 12.6 && z < 53 ? box(px, Math.abs(y - 0.7) - 0.2, z - 32, 0.025, 0.045, 20) : 9
  const barrel = cylinder(x + 2.35, y - 0.42, z - 7.2, 0.36 - 0.28 * (y - 0.42) ** 2, 0.46)
  return Math.min(door, bar, post, rails, barrel)
}

function mill(x: number, y: number, z: number): number {
  const dx = x - MILL.x
  const dz = z - MILL.z
  const far = Math.sqrt(dx * dx + dz * dz) - 6.5
  if (far > 3) return Math.max(far, 0)
  const body = tower(dx, y, dz, 4.9, 2.75, 17)
  const r = Math.sqrt(dx * dx + dz * dz)
  const deck = Math.max(Math.abs(y - 6.2) - 0.09, r - 6.1)
  const turn = Math.atan2(dz, dx)
  const around = repeat(turn, Math.PI / 12, -12, 12) * r
  const railPost = Math.max(Math.abs(r - 5.95) - 0.05, Math.abs(around) - 0.05, Math.abs(y - 6.75) - 0.55)
  const rail = Math.max(Math.abs(r - 5.95) - 0.05, Math.abs(Math.abs(y - 6.95) - 0.3) - 0.04)
  return Math.min(body, deck, railPost, rail)
}

function cap(x: number, y: number, z: number): number {
  const dx = x - MILL.x
  const dz = z - MILL.z
  const dome = (sphere(dx / 2.9, (y - 16.9) / 2.7, dz / 3.5, 1) * 2.6) as number
  const body = Math.max(dome, 16.8 - y)
  const axle = box(dx, y - HUB_Y, dz + 3.9, 0.28, 0.28, 1.1)
  const tail = box(dx, y - 12.3 - (dz - 5.5) * -0.62, dz - 5.5, 0.14, 0.2, 4)
  return Math.min(body, axle, tail)
}

/** Four sails of lattice with a strip of canvas on two of them. */
function sails(x: number, y: number, z: number): { wood: number; canvas: number } {
  const dx = x - MILL.x
  const dy = y - HUB_Y
  const dz = z - (MILL.z - 4.9)
  const reach = Math.max(Math.sqrt(dx * dx + dy * dy) - 12, Math.abs(dz) - 0.6)
  if (reach > 2) return { wood: reach, canvas: reach }
  let wood = box(dx, dy, dz, 0.35, 0.35, 0.35)
  let canvas = 99
  for (let k = 0; k < 4; k++) {
    const a = SAIL_TURN + (k * Math.PI) / 2
    const c = Math.cos(a)
    const s = Math.sin(a)
    const u = dx * c + dy * s
    const v = -dx * s + dy * c
    if (u < -0.5) continue
    wood = Math.min(wood, box(u - 5.9, v, dz, 5.9, 0.14, 0.14))
    const bar = repeat(u - 6.6, 0.42, -11, 11)
    wood = Math.min(wood, box(bar, v - 0.95, dz, 0.03, 1, 0.04))
    const row = v - 0.95 - Math.min(Math.max(Math.round((v - 0.95) / 0.48), -1), 2) * 0.48
    wood = Math.min(wood, box(u - 6.6, row, dz, 4.8, 0.03, 0.03))
    if (k % 2 === 0) canvas = Math.min(canvas, box(u - 6.7, v - 0.75, dz - 0.08, 4.4, 0.62, 0.015))
  }
  return { wood, canvas }
}

function leaves(x: number, y: number, z: number): number {
  let d = 99
  const row = Math.round((x + 60) / 9)
  for (let i = row - 1; i <= row + 1; i++) {
    if (i < -14 || i > 34) continue
    const cx = -60 + i * 9 + hash(i, 7) * 5
    const cz = 118 + hash(i, 9) * 40 - 12 * Math.sin(i)
    const tall = 4.2 + hash(i, 3) * 5.5
    const slim = hash(i, 4) > 0.55 ? 0.34 : 0.72
    d = Math.min(d, sphere((x - cx) / slim, y - tall * 0.85, (z - cz) / slim, tall) * slim)
  }
  const willow = sphere((x + 10.5) * 0.9, (y - 3.7) * 1.1, z - 37, 3.5)
  const second = sphere(x + 14.5, (y - 3.3) * 1.05, z - 41, 3.2)
  const bush = sphere((x - 26) * 0.7, y - 0.9, z - 55, 2.1)
  d = Math.min(d, willow, second, bush)
  if (d > 2) return d
  const rough = fbm3(x * 1.1, y * 1.1, z * 1.1, 2, 41) * 2.1 + fbm3(x * 5, y * 5, z * 5, 2, 43) * 0.7
  return (d + rough - 1.25) * 0.55
}

function trunk(x: number, y: number, z: number): number {
  return Math.min(cylinder(x + 10.5, y - 1, z - 37, 0.34, 2), cylinder(x + 14.5, y - 1, z - 41, 0.3, 2))
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
  const coarse = y - groundHeight(x, z, false)
  take(coarse > 1.2 ? coarse * 0.8 : (y - groundHeight(x, z, true)) * 0.5, M.ground)
  // everything on the left bank stands beyond x = -1.9; farther right its plane is a safe lower bound
  const toLeft = x + 1.9
  if (z < 60 && toLeft < 1.2) {
    take(shed(x, y, z), M.brick)
    take(shedGable(x, y, z), M.brick)
    take(shedRoof(x, y, z), M.tiles)
    take(shedTimber(x, y, z), M.wood)
    take(trunk(x, y, z), M.wood)
  } else if (z < 60) take(toLeft, M.wood)
  take(mill(x, y, z), M.mill)
  take(cap(x, y, z), M.cap)
  const s = sails(x, y, z)
  take(s.wood, M.sail)
  take(s.canvas, M.white)
  take(leaves(x, y, z), M.leaf)
  return [d, m]
}

/** Bricks in running bond: mortar 0..1 and a number for each brick. */
function bricks(u: number, v: number): { mortar: number; id: number } {
  const row = Math.floor(v / 0.075)
  const shifted = u + (row % 2) * 0.11
  const column = Math.floor(shifted / 0.22)
  const fu = shifted / 0.22 - column
  const fv = v / 0.075 - row
  const edge = Math.min(fu * 0.22, (1 - fu) * 0.22, fv * 0.075, (1 - fv) * 0.075)
  return { mortar: 1 - smoothstep(0.004, 0.009, edge), id: hash(column, row, 77) }
}

function brickSurface(p: Vec3, n: Vec3, travelled: number, dark: Vec3, light: Vec3): Surface {
  const u = Math.abs(n[0]) > Math.abs(n[2]) ? p[2] : p[0]
  const { mortar, id } = bricks(u + 100, p[1] + 10)
  const fade = 1 - smoothstep(25, 60, travelled)
  const grain = fbm2(u * 40, p[1] * 40, 3, 9)
  let albedo = mix(dark, light, clamp01(id * 0.75 * fade + 0.37 * (1 - fade) + (grain - 0.5) * 0.5))
  albedo = mix(albedo, [0.34, 0.32, 0.28], mortar * 0.75 * fade)
  const stain = fbm2(u * 0.9, p[1] * 0.5, 4, 19)
  albedo = mix(albedo, [0.05, 0.07, 0.03], smoothstep(0.55, 0.75, stain) * 0.55 * smoothstep(2.2, 0, p[1]))
  const bump = (grain - 0.5) * 0.35 * fade
  return {
    albedo,
    normal: normalise([n[0] + bump, n[1] + bump - mortar * 0.3 * fade, n[2] + bump * 0.5]),
    gloss: 0.02,
    translucent: 0,
  }
}

function groundSurface(p: Vec3, n: Vec3, travelled: number): Surface {
  const [x, , z] = p
  const off = Math.abs(x - canalCentre(z)) - 2.6
  const patch = fbm2(x * 0.16, z * 0.1, 4, 21)
  const blade = noise2(x * 47, z * 21, 23) * 0.6 + noise2(x * 110, z * 46, 24) * 0.4
  const fade = Math.exp(-travelled / 26)
  let albedo: Vec3 = mix(
    [0.045, 0.082, 0.02],
    [0.16, 0.17, 0.05],
    clamp01(patch * 1.5 - 0.3 + (blade - 0.5) * 1.1 * fade),
  )
  const reed = smoothstep(-0.2, 0.5, off) * (1 - smoothstep(0.9, 2.6, off))
  albedo = mix(albedo, [0.2, 0.16, 0.07], reed * noise2(x * 3, z * 2, 26))
  const path = 1 - smoothstep(0.5, 1.05, Math.abs(x + 0.9 + 0.35 * Math.sin(z * 0.13)) + (blade - 0.5) * 0.5)
  albedo = mix(albedo, mix([0.13, 0.1, 0.07], [0.22, 0.19, 0.14], fbm2(x * 14, z * 14, 4, 28)), path * 0.85)
  const flower = hash(Math.floor(x * 7), Math.floor(z * 7), 31)
  if (flower > 0.975 && path < 0.1 && travelled < 30 && off > 1) {
    const fx = x * 7 - Math.floor(x * 7) - 0.5
    const fz = z * 7 - Math.floor(z * 7) - 0.5
    if (fx * fx + fz * fz < 0.05) albedo = flower > 0.988 ? [0.62, 0.5, 0.04] : [0.6, 0.6, 0.58]
  }
  const tilt = (blade - 0.5) * 1.2 * fade
  return {
    albedo,
    normal: normalise([n[0] + tilt, n[1], n[2] + tilt * 0.7]),
    gloss: 0,
    translucent: 0.25 * (1 - path),
  }
}

function waterSurface(p: Vec3): Surface {
  const [x, , z] = p
  const e = 0.02
  const wave = (a: number, b: number) =>
    0.02 * fbm2(a * 1.5, b * 0.8, 3, 33) +
    0.007 * noise2(a * 7 + 3, b * 3.2, 35) +
    0.0012 * noise2(a * 28, b * 13, 36)
  const h = wave(x, z)
  const nx = (h - wave(x + e, z)) / e
  const nz = (h - wave(x, z + e)) / e
  return {
    albedo: [0.016, 0.024, 0.018],
    normal: normalise([nx * 0.5, 1, nz * 0.5]),
    gloss: 1,
    translucent: 0,
  }
}

function planks(p: Vec3, n: Vec3, dark: Vec3, light: Vec3, along: number): Surface {
  const u = along === 0 ? p[0] + p[2] : p[1]
  const board = Math.floor(u / 0.14)
  const grain = fbm3(p[0] * (along ? 3 : 30), p[1] * (along ? 30 : 3), p[2] * 30, 3, 51)
  const seam = smoothstep(0.03, 0.01, Math.abs(u / 0.14 - board - 0.5) < 0.47 ? 1 : 0)
  const albedo = mix(dark, light, clamp01(hash(board, 3) * 0.6 + grain * 0.5 - seam * 0.4))
  return { albedo, normal: n, gloss: 0.03, translucent: 0 }
}

function surface(p: Vec3, n: Vec3, material: number, travelled: number): Surface {
  switch (material) {
    case M.water:
      return waterSurface(p)
    case M.brick:
      return brickSurface(p, n, travelled, [0.1, 0.052, 0.038], [0.25, 0.128, 0.082])
    case M.mill: {
      if (Math.abs(p[1] - 6.4) < 1) return planks(p, n, [0.1, 0.09, 0.07], [0.3, 0.28, 0.24], 0)
      const s = brickSurface(p, n, travelled, [0.15, 0.09, 0.062], [0.27, 0.17, 0.12])
      const weather = fbm2(Math.atan2(p[2] - MILL.z, p[0] - MILL.x) * 3, p[1] * 0.4, 5, 61)
      const band = p[1] > 14.9 && p[1] < 16.2
      const dx = p[0] - MILL.x
      const window = [4.2, 9.4, 12.4].some((y) => Math.abs(p[1] - y) < 0.62 && Math.abs(dx + 0.4) < 0.42)
      const albedo: Vec3 = window
        ? [0.03, 0.035, 0.04]
        : band
          ? [0.55, 0.54, 0.5]
          : mix(s.albedo, [0.24, 0.21, 0.17], weather * 0.7)
      return { ...s, albedo, gloss: window ? 0.4 : 0.02 }
    }
    case M.tiles: {
      const u = p[2] / 0.24
      const v = (p[1] * 1.4) / 0.2
      const rib = Math.sin(u * Math.PI * 2)
      const lip = v - Math.floor(v)
      const albedo = mix([0.13, 0.055, 0.036], [0.27, 0.125, 0.08], hash(Math.floor(u), Math.floor(v), 5))
      const mossy = smoothstep(0.5, 0.8, fbm2(p[0] * 1.2, p[2] * 1.2, 4, 71))
      return {
        albedo: mix(albedo, [0.07, 0.1, 0.03], mossy * 0.7),
        normal: normalise([n[0] + lip * 0.25, n[1], n[2] + rib * 0.35]),
        gloss: 0.03,
        translucent: 0,
      }
    }
    case M.wood:
      return planks(p, n, [0.045, 0.042, 0.036], [0.15, 0.125, 0.09], 0)
    case M.cap:
      return planks(p, n, [0.06, 0.08, 0.07], [0.14, 0.17, 0.13], 1)
    case M.sail:
      return planks(p, n, [0.13, 0.085, 0.055], [0.27, 0.19, 0.13], 1)
    case M.white:
      return { albedo: [0.62, 0.56, 0.45], normal: n, gloss: 0, translucent: 0.45 }
    case M.leaf:
      return foliage(p, n, [0.03, 0.055, 0.014], [0.1, 0.14, 0.03])
    default:
      return groundSurface(p, n, travelled)
  }
}

const AZIMUTH = -0.5
const ELEVATION = 0.325

export const millMorning: MarchedScene = {
  id: 'mill-morning',
  title: 'Morning at the second mill',
  sky: {
    sun: sunAt(AZIMUTH, ELEVATION),
    sunLight: [5.2, 4.5, 3.5],
    zenith: [0.13, 0.25, 0.58],
    horizon: [0.8, 0.9, 1.04],
    cover: 0.57,
    seed: 12,
  },
  eye: [0, 1.72, 0],
  pitch: 0.085,
  fieldOfView: 1.13,
  far: 400,
  hazeLength: 1000,
  objects: Object.keys(M),
  distance: (x, y, z) => nearest(x, y, z)[0],
  material: (x, y, z) => nearest(x, y, z)[1],
  surface,
}
