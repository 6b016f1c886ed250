import type { DrawnScene, Seen, View } from '../render/march'
import { fbm2, hash } from '../render/noise'
import { clearSky, type Sky } from '../render/sky'
import { add, clamp01, mix, scale, smoothstep, type Vec3 } from '../render/vec'
import { sunAt } from './materials'

/**
 * "Mist over the polder": ridge behind ridge of trees before sunrise is over, mist in every hollow, the third mill
 * small on its dyke. Contrast falls from ridge to ridge; the nearest meadow is dark.
 */
const sky: Sky = {
  sun: sunAt(-0.5, 0.07),
  sunLight: [2.6, 1.55, 0.82],
  zenith: [0.2, 0.28, 0.46],
  horizon: [0.86, 0.72, 0.58],
  cover: 0,
  veil: 0.35,
  seed: 61,
}

interface Ridge {
  distance: number
  /** Height of its ground, and of its trees, in metres above the camera's foot. */
  ground: number
  trees: number
  seed: number
}

const RIDGES: readonly Ridge[] = [
  { distance: 45, ground: -1.7, trees: 0.5, seed: 3 },
  { distance: 120, ground: -1.4, trees: 7, seed: 5 },
  { distance: 260, ground: -1, trees: 12, seed: 7 },
  { distance: 520, ground: 0, trees: 17, seed: 11 },
  { distance: 1000, ground: 5, trees: 24, seed: 13 },
  { distance: 2100, ground: 24, trees: 34, seed: 17 },
  { distance: 4200, ground: 90, trees: 30, seed: 19 },
]

/** Height of a row of round tops of about a width, 0..1. */
function crowns(x: number, span: number, seed: number): number {
  const cell = Math.floor(x / span)
  let top = 0
  for (let i = cell - 1; i <= cell + 1; i++) {
    const middle = (i + 0.5 + (hash(i, seed, 1) - 0.5) * 0.9) * span
    const off = (x - middle) / (span * (0.3 + 0.45 * hash(i, seed, 3)))
    top = Math.max(top, (0.35 + 0.65 * hash(i, seed, 2)) * Math.pow(Math.max(1 - off * off, 0), 0.7))
  }
  return top
}

/** Height of a ridge's outline at metres along it. */
function outline(r: Ridge, x: number): number {
  const roll = (fbm2(x / 380, r.seed, 3, r.seed) - 0.5) * r.ground * 0.9
  const wood = smoothstep(0.38, 0.62, fbm2(x / (60 + r.distance * 0.06), 7, 3, r.seed + 40))
  // crowns: tall ones, smaller ones between, ragged by boughs and twigs
  const tall = crowns(x, r.trees * 0.62, r.seed)
  const small = 0.72 * crowns(x + 31, r.trees * 0.24, r.seed + 60)
  const boughs = (fbm2((x * 9) / r.trees, r.seed, 5, r.seed + 9) - 0.5) * 0.42
  const crown = Math.max(tall, small) * (0.8 + boughs) + boughs * 0.35
  const grass = (fbm2(x * 6, r.seed, 4, 21) - 0.5) * 0.12
  return r.ground + roll + wood * r.trees * Math.max(crown, 0) + (r.trees < 1 ? grass : 0)
}

const MILL = { distance: 400, x: 62, base: -1 }

/** The mill as a flat shape, metres from its foot: whether it covers a place. */
function mill(x: number, y: number): boolean {
  if (y < 0 || y > 27 || Math.abs(x) > 14) return false
  if (y < 13 && Math.abs(x) < 4.1 - y * 0.13) return true
  if (Math.hypot(x, (y - 13) * 0.95) < 2.5 && y >= 12.6) return true
  if (Math.abs(y - 5) < 0.25 && Math.abs(x) < 5.6) return true
  const [sx, sy] = [x - 0.3, y - 14]
  for (let i = 0; i < 4; i++) {
    const a = 0.42 + (i * Math.PI) / 2
    const along = sx * Math.sin(a) + sy * Math.cos(a)
    const across = sx * Math.cos(a) - sy * Math.sin(a)
    if (along < 0.4 || along > 12) continue
    if (Math.abs(across) < 0.16) return true
    const lattice = along > 2 && across > 0 && across < 1.9
    if (lattice && (Math.abs(((along * 1.6) % 1) - 0.5) > 0.4 || Math.abs(across - 1.8) < 0.1)) return true
  }
  return false
}

/** Part of the light that mist takes on the way to a distance, at a height. */
const mist = (distance: number, y: number, x: number): number => {
  const lying = 0.35 + 1.5 * fbm2(x / 130, distance / 90, 4, 71)
  const low = Math.exp(-Math.max(y + 2, 0) / (6 + distance * 0.008))
  return 1 - Math.exp(-(distance / 3200) * (0.6 + 7 * lying * low))
}

function look(d: Vec3): Seen {
  const across = d[0] / d[2]
  const up = d[1] / Math.hypot(d[0], d[2])
  const toSun = Math.max(d[0] * sky.sun[0] + d[1] * sky.sun[1] + d[2] * sky.sun[2], 0)
  const air = add(mix(sky.horizon, sky.zenith, 0.25), scale(sky.sunLight, 0.3 * Math.pow(toSun, 12)))
  for (const r of RIDGES) {
    if (r.distance > MILL.distance && r.distance < 600) {
      const mx = across * MILL.distance - MILL.x
      const my = up * MILL.distance - MILL.base
      if (mill(mx, my)) {
        const dark: Vec3 = my < 13 ? [0.05, 0.042, 0.04] : [0.032, 0.03, 0.03]
        return { object: 'mill', light: mix(dark, air, mist(MILL.distance, my, mx + 300)) }
      }
    }
    const x = across * r.distance
    const y = up * r.distance
    const top = outline(r, x)
    if (y >= top) continue
    const leaf = fbm2(x * (20 / r.trees), y * (20 / r.trees), 5, r.seed + 55)
    let body = mix([0.018, 0.024, 0.012], [0.085, 0.09, 0.04], clamp01(leaf * 2.4 - 0.8))
    // low sun on the crowns' tops
    const lit = smoothstep(2.2, 0, top - y) * (0.4 + leaf)
    body = add(body, scale(sky.sunLight, 0.05 * lit))
    if (r.trees < 1) {
      const depth = 1.7 / Math.max(-up, 0.012)
      const blade = fbm2(across * depth * 6, depth * 2.5, 4, 91)
      body = mix([0.022, 0.035, 0.012], [0.1, 0.12, 0.05], clamp01(blade * 1.5 - 0.35))
      return { object: 'meadow', light: mix(body, air, 1 - Math.exp(-depth / 420)) }
    }
    return { object: 'wood', light: mix(body, air, mist(r.distance, y, x)) }
  }
  const clear = clearSky(sky, d)
  const streak = fbm2(d[0] * 5 + up * 3, up * 38, 5, 83)
  const cloud = smoothstep(0.5, 0.72, streak) * smoothstep(0.01, 0.12, up)
  const lit = add(scale(sky.sunLight, 0.34), scale(sky.horizon, 0.2))
  return { object: 'sky', light: mix(clear, lit, cloud * 0.6) }
}

export const mistyValley = (id: string, view: Partial<View>): DrawnScene => ({
  id: `misty-valley-${id}`,
  title: 'Mist over the polder',
  eye: [0, 0, 0],
  pitch: 0.03,
  fieldOfView: 0.3,
  ...view,
  radiance: (_, d) => look(d).light,
  object: (_, d) => look(d).object,
})
