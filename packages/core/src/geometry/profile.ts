import { z } from 'zod'

/** How a lens lays directions on a plane: by tangent, or as one of the kinds of fisheye. */
export const PROJECTIONS = [
  'rectilinear',
  'equidistant',
  'equisolid',
  'stereographic',
  'orthographic',
  'thoby',
  'panoramic',
  'equirectangular',
] as const
export type Projection = (typeof PROJECTIONS)[number]

const number = z.number().min(-1e6).max(1e6)
const focal = z.number().positive().max(5000)
const words = z.string().max(200)

/**
 * Distortion at one focal length: the ideal radius r goes to r * factor on the sensor.
 * - poly3: 1 - a + a r^2
 * - poly5: 1 + a r^2 + b r^4
 * - ptlens: a r^3 + b r^2 + c r + 1 - a - b - c
 * - radial: 1 + a r^2 + b r^4 + c r^6 + d r^8
 *
 * r is 1 at half the shorter side of the camera that the lens was measured with; with `radial` at half its diagonal.
 */
export const DistortionSchema = z.object({
  focal,
  kind: z.enum(['poly3', 'poly5', 'ptlens', 'radial']),
  terms: z.array(number).max(4),
})
export type DistortionPoint = z.infer<typeof DistortionSchema>

/**
 * Lateral fringes at one focal length: the radius of green goes to r * factor for red and for blue.
 * - linear: v
 * - poly3: v + c r + b r^2 (terms v, c, b)
 * - radial: 1 + a + b r^2 + c r^4
 */
export const FringesSchema = z.object({
  focal,
  kind: z.enum(['linear', 'poly3', 'radial']),
  red: z.array(number).max(3),
  blue: z.array(number).max(3),
})
export type FringesPoint = z.infer<typeof FringesSchema>

/** Light that arrives: 1 + a r^2 + b r^4 + c r^6, r 1 at half the diagonal; distance in metres. */
export const FallOffPointSchema = z.object({
  focal,
  aperture: z.number().positive().max(1000),
  distance: z.number().positive().max(1e6),
  terms: z.array(number).max(3),
})
export type FallOffPoint = z.infer<typeof FallOffPointSchema>

export const PROFILE_ORIGINS = ['shipped', 'imported', 'picture'] as const

/** What is known of a lens, by focal length, aperture and distance. */
export const LensProfileSchema = z.object({
  maker: words.default(''),
  model: words.min(1),
  /** Cameras it belongs to, where it cannot be taken off; otherwise its mounts. */
  mounts: z.array(words).max(40).default([]),
  /** How much longer a lens must be on full 35 mm film for the view it had on the camera it was measured with. */
  crop: z.number().positive().max(200).default(1),
  /** Longer side over shorter of that camera's pictures. */
  aspect: z.number().min(1).max(4).default(1.5),
  projection: z.enum(PROJECTIONS).default('rectilinear'),
  distortion: z.array(DistortionSchema).max(400).default([]),
  fringes: z.array(FringesSchema).max(400).default([]),
  fallOff: z.array(FallOffPointSchema).max(4000).default([]),
})
export type LensProfile = z.infer<typeof LensProfileSchema>

/** The conditions a frame was taken under, as far as they change what a lens does. */
export interface Taking {
  /** Millimetres. */
  focal?: number
  aperture?: number
  /** Metres. */
  distance?: number
  /** Of the camera in hand. */
  crop?: number
}
