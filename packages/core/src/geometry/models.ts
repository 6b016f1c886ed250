import { atan, log2, sinCos, tan } from '../math'
import type { DistortionPoint, FallOffPoint, FringesPoint, LensProfile, Projection, Taking } from './profile'

/** Half the diagonal of full 35 mm film. */
export const HALF_DIAGONAL_35 = 21.6333

/** What a lens does at one setting, by distance from the centre in half diagonals of the picture. */
export interface LensCurves {
  /** Ideal radius times this is the radius on the sensor. */
  distortion(r: number): number
  /** The same on top of that for red and blue. */
  red(r: number): number
  blue(r: number): number
  /** Part of the light that arrives at a place of the sensor, 1 in the centre. */
  fallOff(r: number): number
}

const one = () => 1

function distorted({ kind, terms }: DistortionPoint, r: number): number {
  const [a = 0, b = 0, c = 0, d = 0] = terms
  const r2 = r * r
  switch (kind) {
    case 'poly3':
      return 1 - a + a * r2
    case 'poly5':
      return 1 + r2 * (a + b * r2)
    case 'ptlens':
      return r * (r * (a * r + b) + c) + 1 - a - b - c
    case 'radial':
      return 1 + r2 * (a + r2 * (b + r2 * (c + r2 * d)))
  }
}

function fringed({ kind, ...point }: FringesPoint, channel: 'red' | 'blue', r: number): number {
  const terms = point[channel]
  switch (kind) {
    case 'linear':
      return terms[0] ?? 1
    case 'poly3': {
      const [v = 1, c = 0, b = 0] = terms
      return v + r * (c + b * r)
    }
    case 'radial': {
      const [a = 0, b = 0, c = 0] = terms
      return 1 + a + r * r * (b + c * r * r)
    }
  }
}

/** Neighbours of a focal length among measured ones, and the share of the upper one by the logarithm. */
function around<T extends { focal: number }>(points: readonly T[], focal: number): [T, T, number] {
  const sorted = [...points].sort((a, b) => a.focal - b.focal)
  const above = sorted.findIndex((p) => p.focal >= focal)
  if (above <= 0) {
    const end = above === 0 ? sorted[0] : sorted[sorted.length - 1]
    return [end, end, 0]
  }
  const [low, high] = [sorted[above - 1], sorted[above]]
  return [low, high, log2(focal / low.focal) / log2(high.focal / low.focal)]
}

/**
 * Fall-off between measured points: the nearer a point in focal length, aperture and distance, the more it counts
 * (Shepard 1968, inverse squares; lengths and apertures by their logarithm, distance by its inverse).
 */
function fallOffTerms(points: readonly FallOffPoint[], { focal, aperture, distance }: Required<Taking>) {
  const sum = [0, 0, 0]
  let all = 0
  const spread = Math.max(...points.map((p) => p.focal)) / Math.min(...points.map((p) => p.focal))
  const range = Math.max(log2(spread), 0.5)
  for (const p of points) {
    const df = log2(p.focal / focal) / range
    const da = log2(p.aperture / aperture) / 4
    const dd = 0.1 / p.distance - 0.1 / distance
    const weight = 1 / (df * df + da * da + dd * dd + 1e-9) ** 2
    all += weight
    for (let i = 0; i < 3; i++) sum[i] += weight * (p.terms[i] ?? 0)
  }
  return sum.map((s) => s / all)
}

/** Radius over focal length at an angle from the axis. */
function projected(projection: Projection, angle: number): number {
  switch (projection) {
    case 'rectilinear':
    case 'panoramic':
    case 'equirectangular':
      return tan(angle)
    case 'equidistant':
      return angle
    case 'equisolid':
      return 2 * sinCos(angle / 2)[0]
    case 'stereographic':
      return 2 * tan(angle / 2)
    case 'orthographic':
      return sinCos(angle)[0]
    case 'thoby':
      // Thoby 2006, measured on one fisheye
      return 1.47 * sinCos(0.713 * angle)[0]
  }
}

/** Whether straight lines leave such a lens as curves. */
export const bends = (p: Projection): boolean => !['rectilinear', 'panoramic', 'equirectangular'].includes(p)

/**
 * A profile under the conditions of a frame.
 * @param straighten also turn a fisheye's picture into one with straight lines
 */
export function curvesOf(profile: LensProfile, taking: Taking, straighten = false): LensCurves {
  const { distortion, fringes, fallOff } = profile
  const focal = taking.focal ?? distortion[0]?.focal ?? fallOff[0]?.focal ?? 50
  const camera = HALF_DIAGONAL_35 / (taking.crop ?? profile.crop)
  const diagonal = HALF_DIAGONAL_35 / profile.crop
  const short = diagonal / Math.sqrt(1 + profile.aspect * profile.aspect)
  const byShort = camera / short
  const byDiagonal = camera / diagonal
  const unit = (kind: string) => (kind === 'radial' ? byDiagonal : byShort)

  let bent: LensCurves['distortion'] = one
  if (distortion.length) {
    const [low, high, t] = around(distortion, focal)
    bent = (r) => {
      const a = distorted(low, r * unit(low.kind))
      return t === 0 ? a : a + t * (distorted(high, r * unit(high.kind)) - a)
    }
  }
  if (straighten && bends(profile.projection)) {
    const inner = bent
    const f = focal / camera
    bent = (r) => {
      if (r < 1e-6) return inner(0)
      const angle = atan(r / f)
      const fish = f * projected(profile.projection, angle)
      return (fish / r) * inner(fish)
    }
  }
  const fringe = (channel: 'red' | 'blue'): LensCurves['red'] => {
    if (!fringes.length) return one
    const [low, high, t] = around(fringes, focal)
    return (r) => {
      const a = fringed(low, channel, r * unit(low.kind))
      return t === 0 ? a : a + t * (fringed(high, channel, r * unit(high.kind)) - a)
    }
  }
  let fall: LensCurves['fallOff'] = one
  if (fallOff.length) {
    const aperture = taking.aperture ?? Math.min(...fallOff.map((p) => p.aperture))
    const wanted = { focal, aperture, distance: taking.distance ?? 1000, crop: 1 }
    const [a, b, c] = fallOffTerms(fallOff, wanted)
    fall = (r) => {
      const q = (r * byDiagonal) ** 2
      return Math.max(1 + q * (a + q * (b + q * c)), 0.05)
    }
  }
  return { distortion: bent, red: fringe('red'), blue: fringe('blue'), fallOff: fall }
}

/** Crop factor of a camera from a lens's two lengths; undefined where one is not known. */
export function cropFactor(focal?: number, focal35?: number): number | undefined {
  return focal && focal35 ? focal35 / focal : undefined
}
