import type { Surface } from '../render/march'
import { fbm2, fbm3, hash } from '../render/noise'
import { clamp01, mix, normalise, smoothstep, type Vec3 } from '../render/vec'

/** Rows of oblong stones or bricks in running bond: joint 0..1 and a number for each. */
export function bond(u: number, v: number, length: number, height: number, joint: number) {
  const row = Math.floor(v / height)
  const shifted = u + (row % 2) * length * 0.5
  const column = Math.floor(shifted / length)
  const fu = shifted / length - column
  const fv = v / height - row
  const edge = Math.min(fu * length, (1 - fu) * length, fv * height, (1 - fv) * height)
  return { joint: 1 - smoothstep(joint * 0.5, joint, edge), id: hash(column, row, 77) }
}

/** A wall of such stones, its joints set back, its faces uneven. */
export function masonry(
  n: Vec3,
  u: number,
  v: number,
  size: { length: number; height: number; joint: number },
  colours: { dark: Vec3; light: Vec3; joint: Vec3 },
  fade: number,
): Surface {
  const { joint, id } = bond(u + 100, v + 50, size.length, size.height, size.joint)
  const grain = fbm2(u * 38, v * 38, 3, 9)
  const wide = fbm2(u * 0.8, v * 0.6, 4, 19)
  let albedo = mix(
    colours.dark,
    colours.light,
    clamp01(id * 0.7 * fade + 0.35 * (1 - fade) + (grain - 0.5) * 0.5),
  )
  albedo = mix(albedo, colours.joint, joint * 0.8 * fade)
  albedo = mix(albedo, colours.dark, smoothstep(0.5, 0.8, wide) * 0.5)
  const bump = (grain - 0.5) * 0.4 * fade
  return {
    albedo,
    normal: normalise([n[0] + bump, n[1] + bump - joint * 0.3 * fade, n[2] + bump * 0.5]),
    gloss: 0.02,
    translucent: 0,
  }
}

/** Sawn boards of a width along an axis `u`, grain along `w`. */
export function boards(p: Vec3, n: Vec3, u: number, width: number, dark: Vec3, light: Vec3): Surface {
  const board = Math.floor(u / width)
  const grain = fbm3(p[0] * 26, p[1] * 5, p[2] * 26, 3, 51)
  const seam = Math.abs(u / width - board - 0.5) > 0.46 ? 1 : 0
  const albedo = mix(dark, light, clamp01(hash(board, 3) * 0.55 + grain * 0.55 - seam * 0.5))
  return { albedo, normal: n, gloss: 0.03, translucent: 0 }
}

/** Leaves of a tree: ragged, letting light through. */
export function foliage(p: Vec3, n: Vec3, dark: Vec3, light: Vec3): Surface {
  const speck = fbm3(p[0] * 9, p[1] * 9, p[2] * 9, 2, 81)
  return {
    albedo: mix(dark, light, clamp01(speck * 1.8 - 0.4)),
    normal: normalise([n[0] + (speck - 0.5) * 1.5, n[1] + 0.2, n[2] + (0.5 - speck)]),
    gloss: 0,
    translucent: 0.5,
  }
}

/** Unit vector toward a sun at an azimuth from straight ahead and an elevation, radians. */
export const sunAt = (azimuth: number, elevation: number): Vec3 => [
  Math.sin(azimuth) * Math.cos(elevation),
  Math.sin(elevation),
  Math.cos(azimuth) * Math.cos(elevation),
]
