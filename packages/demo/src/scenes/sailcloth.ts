import type { DrawnScene } from '../render/march'
import { fbm2, noise2 } from '../render/noise'
import { clamp01, dot, mix, normalise, scale, smoothstep, type Vec3 } from '../render/vec'
import { sunAt } from './materials'

/**
 * "Sailcloth in the loft": a mill's sail laid out, with seams, stitches and folds. It has stains, which the truth
 * behind the picture has not.
 */
const LIGHT: Vec3 = [1.05, 1.02, 0.96]
const lamp = sunAt(-1.1, 0.5)
/** Width of a strip of cloth, metres. */
const STRIP = 0.46

/** Height of the cloth, metres. */
const height = (x: number, y: number) =>
  0.05 * fbm2(x * 1.3 + 2, y * 0.9, 3, 5) +
  0.012 * Math.sin(6 * (x * 0.8 + y * 0.35) + 3 * fbm2(x * 2, y * 2, 2, 9)) +
  0.004 * (1 - smoothstep(0.0, 0.014, Math.abs(seamAt(x))))

/** Distance from the nearest seam, metres. */
const seamAt = (x: number) => x - Math.round(x / STRIP) * STRIP

function cloth(x: number, y: number): Vec3 {
  const thread = noise2(x * 620, y * 46, 3) * 0.5 + noise2(x * 46, y * 620, 4) * 0.5
  const slub = fbm2(x * 22, y * 150, 3, 6)
  const tone = clamp01(0.55 + (thread - 0.5) * 0.5 + (slub - 0.5) * 0.3)
  const colour = mix([0.42, 0.38, 0.3], [0.68, 0.63, 0.53], tone)
  const seam = Math.abs(Math.abs(seamAt(x)) - 0.011)
  const along = Math.abs((y / 0.017) % 1)
  const stitch = seam < 0.0016 && along > 0.25 ? 0.55 : 1
  return scale(colour, stitch)
}

/** Stains: place, size, metres, and how strong. */
export const STAINS = [
  { x: -0.36, y: 0.14, r: 0.06, colour: [0.5, 0.3, 0.12], strength: 0.75 },
  { x: 0.23, y: -0.16, r: 0.085, colour: [0.2, 0.16, 0.12], strength: 0.7 },
  { x: 0.55, y: 0.2, r: 0.045, colour: [0.36, 0.14, 0.06], strength: 0.85 },
  { x: -0.08, y: -0.27, r: 0.03, colour: [0.08, 0.09, 0.1], strength: 0.85 },
  { x: 0.02, y: 0.3, r: 0.022, colour: [0.3, 0.3, 0.08], strength: 0.7 },
] as const

function stained(albedo: Vec3, x: number, y: number): Vec3 {
  let out = albedo
  for (const { x: u, y: v, r, colour, strength } of STAINS) {
    const ragged = 1 + 0.35 * (fbm2(x * 26, y * 26, 3, 77) - 0.5)
    const off = Math.sqrt((x - u) ** 2 + (y - v) ** 2) / (r * ragged)
    const rim = 0.75 + 0.5 * smoothstep(0.7, 0.95, off)
    out = mix(out, colour, Math.min(strength * rim, 1) * (1 - smoothstep(0.92, 1.05, off)))
  }
  return out
}

const radiance =
  (stains: boolean): DrawnScene['radiance'] =>
  (o, d) => {
    // laid out upright before the camera, two metres away
    const t = (2 - o[2]) / d[2]
    const [x, y] = [o[0] + d[0] * t, o[1] + d[1] * t]
    const e = 0.004
    const n = normalise([height(x - e, y) - height(x + e, y), height(x, y - e) - height(x, y + e), -2 * e])
    const shade = 0.3 + 0.9 * Math.max(dot(n, [lamp[0], lamp[1], -Math.abs(lamp[2]) - 0.5]), 0)
    const albedo = cloth(x, y)
    const [r, g, b] = stains ? stained(albedo, x, y) : albedo
    return [r * LIGHT[0] * shade, g * LIGHT[1] * shade, b * LIGHT[2] * shade]
  }

const seen = { eye: [0, 0, 0], pitch: 0, yaw: 0, roll: 0.05, fieldOfView: 0.66 } as const

export const sailcloth: DrawnScene = {
  ...seen,
  id: 'sailcloth',
  title: 'Sailcloth in the loft',
  radiance: radiance(true),
}
/** The same without the stains. */
export const sailclothBare: DrawnScene = { ...sailcloth, id: 'sailcloth-bare', radiance: radiance(false) }
