import type { DrawnScene, Seen, View } from '../render/march'
import { fbm2, hash, noise2 } from '../render/noise'
import { add, clamp01, dot, mix, mul, normalise, scale, type Vec3 } from '../render/vec'
import { bond } from './materials'
import { meet, meetSphere, mirrored } from './planes'

/**
 * "The quay by lamplight": storehouses across the basin, lamps along the quay and a few lit windows, all doubled in
 * calm water. Little light, so much noise; the lamps themselves are far beyond what the sensor holds.
 */
const WATER = -1.3
const HOUSES = 26
const QUAY = 22
const LAMP: Vec3 = [9.5, 5.4, 1.9]
const globes: readonly Vec3[] = [-17, -9.4, -1.8, 5.8, 13.4, 21].map((x) => [x, 3.1, QUAY + 0.7])
const near: Vec3 = [-2.6, 2.9, 6.2]
const lamps = [...globes, near]

const NIGHT: Vec3 = [0.0042, 0.0058, 0.0105]

function sky(d: Vec3): Vec3 {
  const glow = Math.pow(1 - Math.max(d[1], 0), 8)
  const cloud = fbm2(d[0] / (d[1] + 0.12), d[2] / (d[1] + 0.12), 5, 15)
  return add(scale(NIGHT, 0.6 + 0.8 * cloud), scale([0.012, 0.008, 0.005], glow * (0.5 + cloud)))
}

function lamplight(p: Vec3, n: Vec3): Vec3 {
  let sum: Vec3 = scale(NIGHT, 1.2)
  for (const at of lamps) {
    const to = add(at, scale(p, -1))
    const r2 = dot(to, to)
    const facing = dot(n, to) / Math.sqrt(r2)
    if (facing > 0) sum = add(sum, scale(LAMP, (0.34 * facing) / (r2 + 0.15)))
  }
  return sum
}

/** Height of the houses' outline, and the colour of each. */
function house(x: number): { top: number; tone: Vec3; id: number; left: number; wide: number } {
  let left = -34
  for (let id = 0; ; id++) {
    const wide = 4.2 + 3.2 * hash(id, 1, 8)
    if (x < left + wide || id > 20) {
      const eaves = 6.2 + 4 * hash(id, 2, 8)
      const u = Math.abs(x - left - wide / 2) / (wide / 2)
      const gable = hash(id, 3, 8) > 0.4 ? (1 - Math.floor(u * 5) / 5) * wide * 0.42 : 0.5
      const warm: Vec3 = [0.3, 0.15, 0.1]
      const tone = mix(warm, hash(id, 4, 8) > 0.6 ? [0.42, 0.4, 0.34] : [0.2, 0.12, 0.1], hash(id, 5, 8))
      return { top: eaves + gable, tone, id, left, wide }
    }
    left += wide
  }
}

function houses(x: number, y: number): Vec3 | undefined {
  const h = house(x)
  if (y > h.top) return undefined
  const count = Math.max(2, Math.round(h.wide / 1.7))
  const step = h.wide / count
  const k = Math.floor((x - h.left) / step)
  const u = x - h.left - (k + 0.5) * step
  const floor = Math.floor((y - 0.3) / 2.5)
  const v = y - 0.3 - floor * 2.5
  const inside = Math.abs(u) < 0.42 && v > 0.8 && v < 2.1 && y < h.top - 1
  if (inside) {
    const frame = Math.abs(u) > 0.37 || Math.abs(u) < 0.025 || Math.abs(v - 1.6) < 0.03
    if (frame) return mul([0.5, 0.49, 0.45], lamplight([x, y, HOUSES], [0, 0, -1]))
    const chance = hash(h.id * 31 + k, floor, 77)
    if (chance > 0.78) {
      const curtain = 0.55 + 0.45 * fbm2(u * 9, v * 2, 3, h.id)
      const tint: Vec3 = chance > 0.93 ? [0.5, 0.55, 0.62] : [1.0, 0.55, 0.2]
      return scale(tint, 0.55 * curtain * (0.6 + chance))
    }
    return [0.004, 0.005, 0.007]
  }
  const { joint, id } = bond(x + 90, y + 30, 0.24, 0.08, 0.014)
  const grain = fbm2(x * 5, y * 5, 4, 13)
  const albedo = scale(h.tone, (0.65 + 0.4 * id + (grain - 0.5) * 0.5) * (1 - 0.35 * joint))
  return mul(albedo, lamplight([x, y, HOUSES], [0, 0, -1]))
}

function solid(o: Vec3, d: Vec3): Vec3 | undefined {
  for (const g of lamps) if (meetSphere(g, 0.19, o, d) !== undefined) return scale(LAMP, 6)
  // posts: thin upright strips that face the camera
  for (const g of lamps) {
    const t = (g[2] - o[2]) / d[2]
    if (t < 0) continue
    const [x, y] = [o[0] + d[0] * t - g[0], o[1] + d[1] * t]
    const foot = g === near ? WATER : 0
    if (y < g[1] && y > foot && Math.abs(x) < (y < foot + 0.7 ? 0.1 : 0.045)) {
      const n: Vec3 = normalise([x * 12, 0, -1])
      return mul([0.06, 0.065, 0.06], lamplight([g[0] + x, y, g[2] - 0.3], n))
    }
  }
  if (d[2] <= 0) return undefined
  // a boat at the quay: hull, cabin with one lit pane
  const tb = (QUAY - 1.6 - o[2]) / d[2]
  const [bx, by] = [o[0] + d[0] * tb - 2.5, o[1] + d[1] * tb - WATER]
  const sheer = 0.75 + 0.012 * bx * bx
  if (by > 0 && Math.abs(bx) < 7 - (sheer - by) * 0.6 && by < sheer) {
    const band = by > sheer - 0.14
    return mul(
      band ? [0.6, 0.58, 0.5] : [0.03, 0.075, 0.06],
      lamplight([bx + 2.5, by + WATER, QUAY - 1.6], [0, 0.5, -0.86]),
    )
  }
  if (by > 0 && by < 1.9 && Math.abs(bx + 4.2) < 1.5) {
    if (Math.abs(by - 1.35) < 0.22 && Math.abs(((bx + 4.2) / 0.8) % 1) < 0.32) return [0.85, 0.46, 0.16]
    return mul([0.4, 0.38, 0.33], lamplight([bx + 2.5, by + WATER, QUAY - 1.4], [0, 0.4, -0.9]))
  }
  const wall = meet({ centre: [0, -0.7, QUAY], across: [1, 0, 0], up: [0, 1, 0], half: [60, 0.7] }, o, d)
  if (wall) {
    const { joint, id } = bond(wall.u + 80, wall.v + 4, 0.9, 0.33, 0.03)
    const albedo = scale([0.26, 0.25, 0.22], (0.6 + 0.5 * id) * (1 - 0.5 * joint))
    return mul(albedo, lamplight([wall.u, wall.v - 0.7, QUAY - 0.9], [0, 0.4, -0.92]))
  }
  if (d[1] < 0) {
    const t = -o[1] / d[1]
    const z = o[2] + d[2] * t
    if (z > QUAY && z < HOUSES) {
      const x = o[0] + d[0] * t
      const set = bond(x + 40, z, 0.22, 0.12, 0.015)
      return mul(
        scale([0.24, 0.23, 0.2], 0.6 + 0.4 * set.id - 0.3 * set.joint),
        lamplight([x, 0, z], [0, 1, 0]),
      )
    }
  }
  const th = (HOUSES - o[2]) / d[2]
  const y = o[1] + d[1] * th
  return y > 0 ? houses(o[0] + d[0] * th, y) : undefined
}

function look(o: Vec3, d: Vec3): Seen {
  const tw = d[1] < 0 ? (WATER - o[1]) / d[1] : Infinity
  const zw = o[2] + d[2] * tw
  if (tw < Infinity && zw < QUAY) {
    // posts in front of the water come first
    const front = solid(o, d)
    const tn = (near[2] - o[2]) / d[2]
    if (front && tn > 0 && tn < tw && Math.abs(o[0] + d[0] * tn - near[0]) < 0.2)
      return { object: 'quay', light: front }
    const tb = (QUAY - 1.6 - o[2]) / d[2]
    if (front && tb < tw) return { object: 'quay', light: front }
    const x = o[0] + d[0] * tw
    const e = 0.03
    const wave = (a: number, b: number) =>
      0.011 * fbm2(a * 0.7, b * 1.6, 3, 33) + 0.0016 * noise2(a * 4, b * 9, 35)
    const w = wave(x, zw)
    const n = normalise([((w - wave(x + e, zw)) / e) * 0.8, 1, (w - wave(x, zw + e)) / e])
    const r0 = mirrored(d, n)
    const r = normalise([r0[0], Math.max(r0[1], 0.002), r0[2]])
    const p: Vec3 = [x, WATER + 0.002, zw]
    const cos = clamp01(-dot(d, n))
    const fresnel = 0.03 + 0.97 * Math.pow(1 - cos, 4)
    const seen = solid(p, r) ?? sky(r)
    return { object: 'water', light: add(scale(seen, fresnel), scale([0.0022, 0.0034, 0.003], 1 - fresnel)) }
  }
  const there = solid(o, d)
  // light scattered in damp air around the lamps
  let veil = 0
  for (const g of lamps) {
    const to = add(g, scale(o, -1))
    const along = dot(to, d)
    if (along < 0) continue
    const off2 = Math.max(dot(to, to) - along * along, 0)
    veil += 0.0011 / (off2 + 0.03) / (1 + along * 0.05)
  }
  const light = add(there ?? sky(d), scale(LAMP, veil * 0.35))
  return { object: there ? 'quay' : 'sky', light }
}

export const lampQuay = (id: string, view: Partial<View>): DrawnScene => ({
  id: `lamp-quay-${id}`,
  title: 'The quay by lamplight',
  eye: [0, 1.7, 0],
  pitch: 0.06,
  fieldOfView: 0.9,
  ...view,
  radiance: (o, d) => look(o, d).light,
  object: (o, d) => look(o, d).object,
})
