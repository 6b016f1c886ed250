import type { DrawnScene, Seen } from '../render/march'
import { fbm2, hash } from '../render/noise'
import { skyRadiance, type Sky } from '../render/sky'
import { add, clamp01, dot, mix, mul, normalise, scale, smoothstep, type Vec3 } from '../render/vec'
import { bond, sunAt } from './materials'

/**
 * "The drying house from below": a brick front of four floors, looked up at with a wide lens, so that its uprights
 * lean together. Everything on it is straight and square in truth.
 */
const sky: Sky = {
  sun: sunAt(-2.35, 0.72),
  sunLight: [3.4, 3.25, 2.95],
  zenith: [0.16, 0.29, 0.6],
  horizon: [0.7, 0.82, 0.98],
  cover: 0.5,
  seed: 47,
}

const FRONT = 9
const WIDE = 8.2
const TALL = 14.6
const FLOOR = 3.4
const BAY = 2.72
const DEEP = 0.24

/** Place within a bay and floor: window opening with a flat arch. */
const inWindow = (u: number, v: number) =>
  Math.abs(u) < 0.62 && v > 0.9 && v < 2.62 - 0.2 * u * u - 0.02 && v < 2.6

function lightOn(n: Vec3, shade = 1): Vec3 {
  const facing = Math.max(dot(n, sky.sun), 0) * shade
  const dome = add(scale(sky.zenith, 0.2), scale(sky.horizon, 0.24))
  return add(scale(sky.sunLight, facing * 0.32), dome)
}

function brick(x: number, y: number): { albedo: Vec3; n: Vec3 } {
  const { joint, id } = bond(x + 60, y + 8, 0.22, 0.068, 0.011)
  const grain = fbm2(x * 60, y * 60, 3, 9)
  const stain = fbm2(x * 0.7, y * 0.35, 4, 33)
  let albedo = mix([0.2, 0.085, 0.055], [0.42, 0.2, 0.125], clamp01(id * 0.75 + (grain - 0.5) * 0.5))
  albedo = mix(albedo, [0.5, 0.47, 0.41], joint * 0.85)
  albedo = mix(albedo, [0.13, 0.085, 0.065], smoothstep(0.52, 0.8, stain) * 0.55)
  return { albedo, n: normalise([(grain - 0.5) * 0.35, -joint * 0.2, -1]) }
}

function front(x: number, y: number, d: Vec3): Vec3 {
  const bay = Math.round(x / BAY)
  const u = x - bay * BAY
  const floor = Math.floor(y / FLOOR)
  const v = y - floor * FLOOR
  const n: Vec3 = [0, 0, -1]
  const white = (worn: number): Vec3 => mix([0.74, 0.73, 0.7], [0.5, 0.48, 0.43], worn)
  if (Math.abs(y - (TALL - 0.35)) < 0.35) {
    const step = Math.floor((y - TALL + 0.7) / 0.175)
    const tooth = step === 1 && Math.abs((x / 0.3) % 1) < 0.5 ? 0.55 : 1
    return mul(white(fbm2(x * 3, y * 9, 3, 5)), scale(lightOn(n), (0.75 + 0.07 * step) * tooth))
  }
  if (Math.abs(v - 0.06) < 0.06 && floor > 0) return mul(white(fbm2(x * 4, y * 4, 3, 6)), lightOn(n))
  if (Math.abs(bay) <= 2 && inWindow(u, v)) {
    // the glass lies back in the wall: follow the ray to it, or into the reveal
    const gx = u + (d[0] / d[2]) * DEEP
    const gy = v + (d[1] / d[2]) * DEEP
    if (!inWindow(gx, gy)) {
      const side: Vec3 = Math.abs(gx) >= 0.62 ? [-Math.sign(gx), 0, 0] : [0, gy > 2 ? -1 : 1, 0]
      return mul([0.3, 0.16, 0.11], lightOn(side, 0.35))
    }
    const bar =
      Math.abs(Math.abs(gx) - 0.6) < 0.045 ||
      Math.abs(gx) < 0.025 ||
      gy < 0.97 ||
      gy > 2.5 ||
      Math.abs(gy - 1.95) < 0.03 ||
      (gy < 1.95 && Math.abs(gy - 1.45) < 0.018)
    const shade = smoothstep(0.02, 0.2, 0.62 - gx) * smoothstep(0.1, 0.3, 2.55 - gy)
    if (bar) return mul(white(hash(bay, floor) * 0.6), lightOn(n, shade))
    const wave = (fbm2(gx * 2 + bay * 9, gy * 2 + floor * 5, 3, 41) - 0.5) * 0.05
    const mirror = normalise([d[0] + wave, Math.max(d[1] + wave * 0.6, 0.03), -d[2]])
    const seen = hash(bay, floor, 3) > 0.82 ? 0.1 : 0.42
    return add(scale(skyRadiance({ ...sky, sun: [0, -1, 0] }, mirror), seen), [0.012, 0.013, 0.012])
  }
  if (Math.abs(bay) <= 2 && Math.abs(u) < 0.74 && Math.abs(v - 0.84) < 0.06)
    return mul([0.52, 0.5, 0.45], scale(lightOn(n), 1.05))
  // a wedge of upright bricks over every window
  const lintel = Math.abs(bay) <= 2 && Math.abs(u) < 0.78 && v >= 2.5 && v < 2.86
  const b = lintel ? brick(y * 1.0 + 3, x + u * (v - 2.5) * 0.3) : brick(x, y)
  const under = smoothstep(0, 0.3, TALL - 0.72 - y)
  const sill = Math.abs(u) < 0.76 ? smoothstep(0, 0.12, 0.78 - v) + (v > 0.78 ? 1 : 0) : 1
  return mul(b.albedo, lightOn(b.n, (0.35 + 0.65 * under) * clamp01(0.3 + 0.7 * sill)))
}

function look(o: Vec3, d: Vec3): Seen {
  if (d[2] > 0) {
    const t = (FRONT - o[2]) / d[2]
    const x = o[0] + d[0] * t
    const y = o[1] + d[1] * t
    if (y > 0 && y < TALL && Math.abs(x) < WIDE) return { object: 'front', light: front(x, y, d) }
    const chimney = Math.abs(x - 3.6) < 0.62 && y >= TALL && y < TALL + 3.1
    if (chimney) {
      const b = brick(x, y)
      const cap = y > TALL + 2.8
      return { object: 'chimney', light: mul(cap ? [0.45, 0.43, 0.39] : b.albedo, lightOn(b.n)) }
    }
  }
  if (d[1] < 0) {
    const t = -o[1] / d[1]
    const [x, z] = [o[0] + d[0] * t, o[2] + d[2] * t]
    const set = bond(x + 40, z + 40, 0.2, 0.1, 0.012)
    const albedo = mix([0.16, 0.15, 0.13], [0.3, 0.28, 0.25], clamp01(set.id - set.joint * 0.8))
    return { object: 'yard', light: mul(albedo, lightOn([0, 1, 0], z > 6 ? 0.25 : 1)) }
  }
  return { object: 'sky', light: skyRadiance(sky, d) }
}

export const kilnFacade: DrawnScene = {
  id: 'kiln-facade',
  title: 'The drying house from below',
  eye: [-0.9, 1.6, 0],
  pitch: 0.5,
  yaw: 0.06,
  fieldOfView: 1.5,
  upright: true,
  radiance: (o, d) => look(o, d).light,
  object: (o, d) => look(o, d).object,
}
