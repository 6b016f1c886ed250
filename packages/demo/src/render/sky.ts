import { fbm2 } from './noise'
import { add, clamp01, dot, mix, mul, scale, smoothstep, type Vec3 } from './vec'

/** A clear sky with sun and one layer of broken cloud; radiance in scene-linear Rec. 2020. */
export interface Sky {
  /** Unit vector toward the sun. */
  sun: Vec3
  /** Irradiance of the sun on a surface that faces it. */
  sunLight: Vec3
  zenith: Vec3
  horizon: Vec3
  /** 0 clear .. 1 overcast. */
  cover: number
  seed: number
  /** Thin high cloud, 0 none .. 1: bright, streaked, brightest around the sun. */
  veil?: number
}

/** The sky without clouds, for ambient light as well. */
export function clearSky(sky: Sky, d: Vec3): Vec3 {
  const up = Math.max(d[1], 0)
  const t = Math.pow(1 - up, 4)
  const toSun = Math.max(dot(d, sky.sun), 0)
  let colour = mix(sky.zenith, sky.horizon, t)
  colour = add(colour, scale(sky.sunLight, 0.05 * Math.pow(toSun, 6) + 0.11 * Math.pow(toSun, 40)))
  return add(colour, scale(sky.sunLight, 0.5 * Math.pow(toSun, 400)))
}

const CLOUD_HEIGHT = 900
const VEIL_HEIGHT = 6000

/** Thin cloud in long streaks; it scatters the sun's light forward. */
function veiled(sky: Sky, d: Vec3, below: Vec3): Vec3 {
  const reach = VEIL_HEIGHT / (d[1] + 0.04)
  const x = d[0] * reach
  const z = d[2] * reach
  const bend = fbm2(x * 0.00011, z * 0.00011, 3, sky.seed + 31) * 5000
  const streak = fbm2((x + bend) * 0.0007, (z - bend) * 0.00016, 6, sky.seed + 37)
  const patch = fbm2(x * 0.00009 + 3, z * 0.00012, 4, sky.seed + 41)
  const density = sky.veil! * smoothstep(0.2, 0.95, streak * 0.65 + patch * 0.6)
  const toSun = Math.max(dot(d, sky.sun), 0)
  const light = scale(sky.sunLight, 0.15 + 0.12 * Math.pow(toSun, 3) + 0.35 * Math.pow(toSun, 24))
  return mix(below, add(mul([0.98, 1, 1.03], light), scale(sky.horizon, 0.22)), density)
}

function cloudDensity(sky: Sky, x: number, z: number): number {
  const wide = fbm2(x * 0.00075 + 11, z * 0.00075, 3, sky.seed)
  const fine = fbm2(x * 0.0031, z * 0.0031 + 7, 6, sky.seed + 5)
  return smoothstep(1.03 - sky.cover, 1.42 - sky.cover, wide * 0.72 + fine * 0.55)
}

/** Radiance of the sky in direction `d`, sun disc included. */
export function skyRadiance(sky: Sky, d: Vec3): Vec3 {
  let colour = clearSky(sky, d)
  const toSun = dot(d, sky.sun)
  // the disc is softened to a fifth of a degree, so that a few samples a pixel resolve it
  colour = add(colour, scale(sky.sunLight, 900 * smoothstep(0.99996, 0.999985, toSun)))
  if (sky.veil && d[1] > 0) colour = veiled(sky, d, colour)
  if (sky.cover > 0 && d[1] > 0.01) {
    const reach = CLOUD_HEIGHT / (d[1] + 0.02)
    const x = d[0] * reach
    const z = d[2] * reach
    const density = cloudDensity(sky, x, z)
    if (density > 0) {
      const step = 70
      const toward = cloudDensity(sky, x + sky.sun[0] * step, z + sky.sun[2] * step)
      const thick = clamp01(0.5 * density + 0.62 * toward)
      const body = mix([0.86, 0.88, 0.92], [0.33, 0.36, 0.42], thick)
      const rim = Math.pow(Math.max(toSun, 0), 10) * (1 - thick) * 1.9
      let lit = mul(body, add(scale(sky.sunLight, 0.085), scale(sky.horizon, 0.55)))
      lit = add(lit, scale(sky.sunLight, rim * 0.16))
      const far = Math.exp(-reach / 16000)
      colour = mix(colour, mix(sky.horizon, lit, far), density * (0.25 + 0.75 * far))
    }
  }
  return colour
}
