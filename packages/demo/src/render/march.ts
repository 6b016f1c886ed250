import { add, clamp01, dot, mix, mul, normalise, scale, smoothstep, type Vec3 } from './vec'
import { hash } from './noise'
import { clearSky, skyRadiance, type Sky } from './sky'

/** What a ray meets. */
export interface Surface {
  albedo: Vec3
  /** Unit normal with fine relief already in it. */
  normal: Vec3
  /** 0 matt .. 1 mirror-like at grazing angles. */
  gloss: number
  /** Part of the light from behind that passes through (leaves, reed). */
  translucent: number
  /** Light that it gives of its own. */
  glow?: Vec3
}

/** A small source of light; what is seen of it is a surface with a glow. */
export interface Lamp {
  at: Vec3
  /** Radiant intensity, scene-linear Rec. 2020. */
  power: Vec3
  /** Where the source shines to one side only (a window): the unit vector of that side. */
  facing?: Vec3
  /** Radius in metres, for the width of its shadows' rims. */
  radius: number
  /** Under a shade: metres around it in which nothing casts a shadow; upward it shines little. */
  shaded?: number
}

/** Where the camera stands and how it is held. */
export interface View {
  eye: Vec3
  /** Upward tilt of the camera, radians. */
  pitch: number
  /** Turn to the right, radians. */
  yaw?: number
  /** Turned clockwise about its axis, radians: level things lean the other way. */
  roll?: number
  /** Field of view along the sensor's width, radians. */
  fieldOfView: number
  /** Held on its side, the sensor's left edge up: its file says orientation 6. */
  upright?: boolean
  /** A lens of some width in metres, sharp at a distance; all is sharp where missing. */
  aperture?: { radius: number; focus: number; samples: number }
}

/** What a ray of a drawn scene meets, and the light that comes from there. */
export interface Seen {
  /** `sky` where it meets nothing. */
  object: string
  light: Vec3
}

/** A scene that says by itself what a ray sees. */
export interface DrawnScene extends View {
  id: string
  title: string
  radiance(o: Vec3, d: Vec3): Vec3
  /** The name of what a ray meets; `sky` where that is nothing. Missing where nobody needs to know. */
  object?(o: Vec3, d: Vec3): string
}

/** A scene: solids by distance, surfaces by place, sky and camera. */
export interface MarchedScene extends View {
  id: string
  title: string
  sky: Sky
  far: number
  /** Names of the materials, by number. */
  objects: readonly string[]
  /** Signed distance to the nearest solid and its material number. */
  distance(x: number, y: number, z: number): number
  material(x: number, y: number, z: number): number
  surface(p: Vec3, normal: Vec3, material: number, travelled: number): Surface
  /** Metres for aerial haze to hide two thirds of a thing. */
  hazeLength: number
  lamps?: readonly Lamp[]
  /** Light from all sides inside a building; takes the place of sun and sky there. */
  indoors?: Vec3
}

function march(scene: MarchedScene, o: Vec3, d: Vec3, near: number, far: number): number {
  let t = near
  for (let i = 0; i < 220 && t < far; i++) {
    const h = scene.distance(o[0] + d[0] * t, o[1] + d[1] * t, o[2] + d[2] * t)
    if (h < 0.0004 * t + 0.0004) return t
    t += h
  }
  return t < far ? t : Infinity
}

/** Penumbra from the closest approach along the ray (0 shadow .. 1 lit); the sun is half a degree wide. */
function sunlight(scene: MarchedScene, p: Vec3, far: number): number {
  const [lx, ly, lz] = scene.sky.sun
  let t = 0.02
  let lit = 1
  for (let i = 0; i < 90 && t < far; i++) {
    const h = scene.distance(p[0] + lx * t, p[1] + ly * t, p[2] + lz * t)
    if (h < 0.0005) return 0
    lit = Math.min(lit, (60 * h) / t)
    t += Math.min(Math.max(h, 0.02), 6)
    if (p[1] + ly * t > 32) break
  }
  return lit * lit * (3 - 2 * lit)
}

/** What the lamps lay on a place, inverse square and cosine, with penumbras as `sunlight` has. */
function lamplight(scene: MarchedScene, p: Vec3, normal: Vec3): Vec3 {
  let sum: Vec3 = [0, 0, 0]
  for (const lamp of scene.lamps ?? []) {
    const to = add(lamp.at, scale(p, -1))
    const distance = Math.sqrt(dot(to, to))
    const l = scale(to, 1 / distance)
    const shade = lamp.shaded ? 0.1 + 0.9 * smoothstep(-0.3, 0.2, l[1]) : 1
    const facing = dot(normal, l) * (lamp.facing ? Math.max(-dot(lamp.facing, l), 0) : shade)
    if (facing <= 0) continue
    let lit = 1
    let t = 0.02
    const end = distance - (lamp.shaded ?? lamp.radius * 1.5)
    for (let i = 0; i < 60 && t < end && lit > 0; i++) {
      const h = scene.distance(p[0] + l[0] * t, p[1] + l[1] * t, p[2] + l[2] * t)
      lit = h < 0.0005 ? 0 : Math.min(lit, (h * distance) / (t * lamp.radius * 2))
      t += Math.max(h, 0.015)
    }
    if (lit <= 0) continue
    lit = clamp01(lit)
    sum = add(sum, scale(lamp.power, (facing * lit * lit * (3 - 2 * lit)) / (distance * distance + 0.05)))
  }
  return sum
}

/** Part of the sky dome a point sees, from distances along its normal. */
function openness(scene: MarchedScene, p: Vec3, n: Vec3): number {
  let shut = 0
  let weight = 1
  for (const step of [0.06, 0.2, 0.55, 1.3, 2.8]) {
    const h = scene.distance(p[0] + n[0] * step, p[1] + n[1] * step, p[2] + n[2] * step)
    shut += (weight * Math.max(step - h, 0)) / step
    weight *= 0.72
  }
  return clamp01(1 - shut * 0.3)
}

function normalAt(scene: MarchedScene, p: Vec3, e: number): Vec3 {
  const [x, y, z] = p
  const a = scene.distance(x + e, y - e, z - e)
  const b = scene.distance(x - e, y - e, z + e)
  const c = scene.distance(x - e, y + e, z - e)
  const d = scene.distance(x + e, y + e, z + e)
  return normalise([a - b - c + d, -a - b + c + d, -a + b - c + d])
}

/** Scene-linear Rec. 2020 radiance along a ray. */
export function trace(scene: MarchedScene, o: Vec3, d: Vec3, depth = 0): Vec3 {
  const far = depth === 0 ? scene.far : 140
  const t = march(scene, o, d, 0.02, far)
  if (t === Infinity) return skyRadiance(scene.sky, d)
  const p = add(o, scale(d, t))
  const rough = normalAt(scene, p, 0.0006 * t + 0.0008)
  const material = scene.material(p[0], p[1], p[2])
  const s = scene.surface(p, rough, material, t)
  if (s.glow) return s.glow
  const lifted = add(p, scale(rough, 0.003 + 0.0006 * t))
  const facing = dot(s.normal, scene.sky.sun)
  const through = s.translucent > 0 ? s.translucent * Math.max(-facing, 0) : 0
  const lit = !scene.indoors && (facing > 0 || through > 0) ? sunlight(scene, lifted, 60) : 0
  const open = openness(scene, lifted, rough)
  const up = 0.5 + 0.5 * s.normal[1]
  const dome = add(scale(scene.sky.zenith, 0.4 * up), scale(scene.sky.horizon, 0.17 * (0.35 + 0.65 * up)))
  const ground: Vec3 = scale(mul([0.16, 0.15, 0.08], scene.sky.sunLight), 0.16 * (1 - up))
  let light = scene.indoors ? scale(scene.indoors, open * open) : scale(add(dome, ground), open * open)
  if (scene.lamps) light = add(light, lamplight(scene, lifted, s.normal))
  light = add(light, scale(scene.sky.sunLight, lit * (Math.max(facing, 0) + through)))
  let colour = mul(s.albedo, light)
  if (s.gloss > 0) {
    const cos = Math.max(-dot(d, s.normal), 0)
    const fresnel = s.gloss * (0.02 + 0.98 * Math.pow(1 - cos, 5))
    const k = 2 * dot(d, s.normal)
    const r = normalise([d[0] - k * s.normal[0], Math.abs(d[1] - k * s.normal[1]), d[2] - k * s.normal[2]])
    const far = scene.indoors ?? clearSky(scene.sky, r)
    const mirrored = depth === 0 && s.gloss > 0.5 ? trace(scene, lifted, r, 1) : far
    colour = mix(colour, mirrored, fresnel)
  }
  const haze = 1 - Math.exp(-t / scene.hazeLength)
  const air = mix(
    scene.sky.horizon,
    scene.sky.sunLight,
    0.04 * Math.pow(Math.max(dot(d, scene.sky.sun), 0), 4),
  )
  return mix(colour, air, haze)
}

/** The name of what a ray meets; `sky` where that is nothing. @throws RangeError where the scene does not know */
export function objectAt(scene: Scene, o: Vec3, d: Vec3): string {
  if ('radiance' in scene) {
    if (!scene.object) throw new RangeError(`${scene.id} has no names for what it shows.`)
    return scene.object(o, d)
  }
  const t = march(scene, o, d, 0.02, scene.far)
  if (t === Infinity) return 'sky'
  const [x, y, z] = add(o, scale(d, t))
  return scene.objects[scene.material(x, y, z)]
}

/** White where a scene shows one of some objects, black elsewhere: their truth in any mask. */
export const objectMask = (scene: Scene, ...objects: readonly string[]): DrawnScene => ({
  ...{ eye: scene.eye, pitch: scene.pitch, yaw: scene.yaw, roll: scene.roll },
  ...{ fieldOfView: scene.fieldOfView, upright: scene.upright, aperture: scene.aperture },
  ...{ id: `${scene.id}-${objects.join('-')}`, title: scene.title },
  radiance: (o, d) => (objects.includes(objectAt(scene, o, d)) ? [1, 1, 1] : [0, 0, 0]),
})

const SAMPLES: readonly (readonly [number, number])[] = [
  [0.125, 0.625],
  [0.375, 0.125],
  [0.625, 0.875],
  [0.875, 0.375],
]

export type Scene = MarchedScene | DrawnScene

/** Points of a disc of radius 1, evenly laid in a spiral (Vogel 1979). */
const onDisc = (k: number, n: number): readonly [number, number] => {
  const r = Math.sqrt((k + 0.5) / n)
  const a = k * 2.399963229728653
  return [r * Math.cos(a), r * Math.sin(a)]
}

/**
 * Radiance of a crop of the scene, photographed at `width` x `height` pixels in all.
 * @returns interleaved RGB, w * h * 3, scene-linear Rec. 2020, mean over each pixel's area
 */
export function renderCrop(
  scene: Scene,
  width: number,
  height: number,
  crop: { x: number; y: number; width: number; height: number },
): Float32Array {
  const out = new Float32Array(crop.width * crop.height * 3)
  const half = Math.tan(scene.fieldOfView / 2)
  const [cp, sp] = [Math.cos(scene.pitch), Math.sin(scene.pitch)]
  const [cy, sy] = [Math.cos(scene.yaw ?? 0), Math.sin(scene.yaw ?? 0)]
  const [cr, sr] = [Math.cos(scene.roll ?? 0), Math.sin(scene.roll ?? 0)]
  const turned = (x: number, y: number, z: number): Vec3 => {
    const along = z * cp - y * sp
    return [x * cy + along * sy, y * cp + z * sp, along * cy - x * sy]
  }
  const seen = (o: Vec3, d: Vec3) => ('radiance' in scene ? scene.radiance(o, d) : trace(scene, o, d))
  const { aperture } = scene
  const count = aperture?.samples ?? SAMPLES.length
  for (let j = 0; j < crop.height; j++)
    for (let i = 0; i < crop.width; i++) {
      const o = (j * crop.width + i) * 3
      // another turn of the spiral at every pixel, so that its arms do not show
      const spin = aperture ? hash(crop.x + i, crop.y + j, 5) * 2 * Math.PI : 0
      for (let k = 0; k < count; k++) {
        const [px, py] = SAMPLES[k % SAMPLES.length]
        const a = ((crop.x + i + px) / width - 0.5) * 2 * half
        const b = ((height / 2 - (crop.y + j + py)) / width) * 2 * half
        const across = scene.upright ? b : a
        const up = scene.upright ? -a : b
        const u = cr * across + sr * up
        const v = cr * up - sr * across
        let eye = scene.eye
        let d = turned(u, v, 1)
        if (aperture) {
          const [lx, ly] = onDisc(k, count)
          const [c, s] = [Math.cos(spin) * aperture.radius, Math.sin(spin) * aperture.radius]
          const aside = turned(lx * c - ly * s, lx * s + ly * c, 0)
          eye = add(eye, aside)
          d = add(d, scale(aside, -1 / aperture.focus))
        }
        const colour = seen(eye, normalise(d))
        // a sun disc far above any sensor's reach only has to clip
        for (let n = 0; n < 3; n++) out[o + n] += Math.min(colour[n], 60) / count
      }
    }
  return out
}
