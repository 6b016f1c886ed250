import { adaptation, D50, D65 } from './chromaticity'
import { multiply, pow, type Matrix3 } from '../math'
import { RawError } from '../raw/error'
import { spaces } from './spaces'
import type { TransferCurve } from './spaces'

/** What a profile says of RGB values: their curves to linear light, and that light's primaries. */
export interface RgbProfile {
  /** Encoded 0..1 to linear 0..1, a curve a channel. */
  curves: readonly [Curve, Curve, Curve]
  /** Linear RGB to XYZ, relative to D65. */
  toXyz: Matrix3
}
export type Curve = (encoded: number) => number

const power = (v: number, g: number) => (v > 0 ? pow(v, g) : 0)

const decode =
  ({ cut, slope, a, p, b }: TransferCurve): Curve =>
  (v) =>
    v <= cut * slope ? v / slope : pow((v + b) / a, 1 / p)

/** What values without a profile are taken for (IEC 61966-2-1). */
export const srgbProfile = (): RgbProfile => {
  const curve = decode(spaces.srgb.curve)
  return { curves: [curve, curve, curve], toXyz: spaces.srgb.toXyz }
}

/** The profile of a space of ours. */
export const profileOfSpace = (id: keyof typeof spaces): RgbProfile => {
  const { curve, white, toXyz } = spaces[id]
  const one = isFinite(curve.cut) ? decode(curve) : (v: number) => v
  return { curves: [one, one, one], toXyz: multiply(adaptation(white, D65), toXyz) }
}

/** Levels at which curves are compared. */
const LEVELS = Array.from({ length: 256 }, (_, i) => i / 255)
/** A profile's numbers are rounded to 1/65536, its adapted primaries often to less. */
const NEAR_PRIMARIES = 6e-4
const NEAR_CURVE = 1e-4

/**
 * The published space that a profile stands for: one whose numbers differ by no more than profiles round them is taken
 * for it, so that its colours come out again as they went in.
 */
function published(profile: RgbProfile): RgbProfile {
  for (const { id } of Object.values(spaces)) {
    const space = profileOfSpace(id)
    if (!space.toXyz.every((v, i) => Math.abs(v - profile.toXyz[i]) < NEAR_PRIMARIES)) continue
    const near = (curve: Curve) => LEVELS.every((v) => Math.abs(curve(v) - space.curves[0](v)) < NEAR_CURVE)
    if (profile.curves.every(near)) return space
  }
  return profile
}

const unreadable = (why: string) =>
  new RawError('unsupported', `This picture's colour profile is not read: ${why}.`)

/** One-dimensional curve by samples, between them by straight lines. */
const sampled =
  (points: readonly number[]): Curve =>
  (v) => {
    const at = Math.min(Math.max(v, 0), 1) * (points.length - 1)
    const i = Math.min(Math.floor(at), points.length - 2)
    return points[i] + (points[i + 1] - points[i]) * (at - i)
  }

/** Numbers of a parametric curve by its kind (ICC.1:2010, 10.16). */
const PARAMETERS = [1, 3, 4, 5, 7]

function curveAt(view: DataView, at: number, end: number): Curve {
  const type = view.getUint32(at)
  if (type === 0x63757276) {
    const count = view.getUint32(at + 8)
    if (count === 0) return (v) => v
    if (at + 12 + count * 2 > end) throw unreadable('it is damaged')
    if (count === 1) {
      const gamma = view.getUint16(at + 12) / 256
      return (v) => power(v, gamma)
    }
    return sampled(Array.from({ length: count }, (_, i) => view.getUint16(at + 12 + i * 2) / 65535))
  }
  if (type !== 0x70617261) throw unreadable('its curves are of an unknown kind')
  const kind = view.getUint16(at + 8)
  if (kind > 4 || at + 12 + PARAMETERS[kind] * 4 > end) throw unreadable('it is damaged')
  const [g, a = 1, b = 0, c = 0, d = -Infinity, e = 0, f = 0] = Array.from(
    { length: PARAMETERS[kind] },
    (_, i) => view.getInt32(at + 12 + i * 4) / 65536,
  )
  const raised = (v: number) => power(a * v + b, g)
  if (kind === 0) return (v) => power(v, g)
  if (kind === 1) return (v) => (v >= -b / a ? raised(v) : 0)
  if (kind === 2) return (v) => (v >= -b / a ? raised(v) : 0) + c
  return (v) => (v >= d ? raised(v) + e : c * v + f)
}

/** Lightness 0..1 to light (CIE 15). */
function fromLightness(lightness: number): number {
  const f = (Math.min(Math.max(lightness, 0), 1) * 100 + 16) / 116
  return f > 6 / 29 ? f * f * f : 3 * (6 / 29) ** 2 * (f - 4 / 29)
}

/** Entries of a profile's list of tags. @throws RawError where they do not lie in it */
function tagsOf(bytes: Uint8Array): Map<string, { at: number; end: number }> {
  if (bytes.length < 132) throw unreadable('it is damaged')
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const count = view.getUint32(128)
  if (count > 200 || 132 + count * 12 > bytes.length) throw unreadable('it is damaged')
  const tags = new Map<string, { at: number; end: number }>()
  for (let i = 0; i < count; i++) {
    const at = view.getUint32(132 + i * 12 + 4)
    const end = at + view.getUint32(132 + i * 12 + 8)
    if (end > bytes.length || end - at < 8) throw unreadable('it is damaged')
    tags.set(nameAt(bytes, 132 + i * 12), { at, end })
  }
  return tags
}

const nameAt = (bytes: Uint8Array, at: number) => String.fromCharCode(...bytes.subarray(at, at + 4))

/**
 * Whether a profile for RGB or grey says its colours by tables, which count before a matrix (ICC.1:2010, 8.10).
 * @throws RawError where it is damaged
 */
export function isTableProfile(bytes: Uint8Array): boolean {
  const tags = tagsOf(bytes)
  return ['RGB ', 'GRAY'].includes(nameAt(bytes, 16)) && (tags.has('A2B0') || tags.has('A2B1'))
}

/**
 * Reads a profile made of a matrix and curves, or of one curve for greys (ICC.1:2010, 8.3 and 8.4).
 * @throws RawError where it is damaged or made of tables only
 */
export function readIcc(bytes: Uint8Array): RgbProfile {
  const tags = tagsOf(bytes)
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const space = nameAt(bytes, 16)
  if (space !== 'RGB ' && space !== 'GRAY')
    throw unreadable(`it is for ${space.trim() || 'unknown'} colours, not for RGB or grey`)
  const curve = (tag: string): Curve => {
    const found = tags.get(tag)
    if (!found || found.end - found.at < 12) throw unreadable('it is made of tables')
    return curveAt(view, found.at, found.end)
  }
  if (space === 'GRAY') {
    const stored = curve('kTRC')
    // what it connects to is light, or lightness
    const grey: Curve = nameAt(bytes, 20) === 'Lab ' ? (v) => fromLightness(stored(v)) : stored
    return { curves: [grey, grey, grey], toXyz: spaces.srgb.toXyz }
  }
  const column = (tag: string): number[] => {
    const found = tags.get(tag)
    if (!found || found.end - found.at < 20) throw unreadable('it is made of tables')
    return [8, 12, 16].map((o) => view.getInt32(found.at + o) / 65536)
  }
  const [r, g, b] = [column('rXYZ'), column('gXYZ'), column('bXYZ')]
  const relativeToD50: Matrix3 = [r[0], g[0], b[0], r[1], g[1], b[1], r[2], g[2], b[2]]
  return published({
    curves: [curve('rTRC'), curve('gTRC'), curve('bTRC')],
    toXyz: multiply(adaptation(D50, D65), relativeToD50),
  })
}
