import {
  bends,
  cropFactor,
  curvesOf,
  fileFaults,
  RawError,
  type LensFaults,
  type LensProfile,
  type LensSettings,
  type SensorFrame,
} from '@dunkelkammer/core'

/** What is asked of those who know lenses. */
export interface LensWish {
  /** One profile; where missing, the one that fits the camera and lens. */
  profile?: string
  make?: string
  model?: string
  lens?: string
  /** Millimetres. */
  focal?: number
  crop?: number
}

/** A profile, and why it was taken. */
export interface LensAnswer {
  id: string
  profile: LensProfile
  /** The crop factor of the camera, where its name says so. */
  crop?: number
}

/** Where profiles come from; undefined where none fits. */
export type LensSource = (wish: LensWish) => Promise<LensAnswer | undefined>

/** What was found for a frame. */
export interface LensFinding {
  from: 'none' | 'file' | 'profile' | 'hand'
  /** Of the profile. */
  id?: string
  name?: string
  has: { distortion: boolean; fringes: boolean; fallOff: boolean; shading: boolean }
  /** Whether straight lines leave the lens as curves by its very design. */
  fisheye: boolean
}

export interface KnownLens {
  faults?: LensFaults
  finding: LensFinding
}

export const NO_LENS: KnownLens = {
  finding: {
    from: 'none',
    has: { distortion: false, fringes: false, fallOff: false, shading: false },
    fisheye: false,
  },
}

/** What a frame's own metadata say about its taking. */
export function wishOf({ metadata }: SensorFrame): LensWish {
  const { make, model, lens, focalLength, focalLength35 } = metadata
  return { make, model, lens, focal: focalLength, crop: cropFactor(focalLength, focalLength35) }
}

/** What a file knows of its lens by itself. */
const byFile = (faults: LensFaults, distortion: boolean): KnownLens => ({
  faults,
  finding: {
    from: 'file',
    has: {
      distortion,
      fringes: faults.factors.some((f) => f(0.7) !== faults.factors[1](0.7)),
      fallOff: faults.fallOff !== undefined,
      shading: faults.shading !== undefined,
    },
    fisheye: false,
  },
})

const still = () => 1

/** No lens, but what the file itself cannot do without. */
export function withoutLens(frame: SensorFrame): KnownLens {
  const due = fileFaults(frame)?.due
  return due ? { ...NO_LENS, faults: { factors: [still, still, still], centre: [0, 0], due } } : NO_LENS
}

/**
 * The lens of a frame as its settings want it.
 * @throws RawError with a sentence where a chosen profile cannot be had
 */
export async function knownLens(
  frame: SensorFrame,
  settings: LensSettings,
  source: LensSource | undefined,
): Promise<KnownLens> {
  const { choice, straighten } = settings
  const none = withoutLens(frame)
  const due = none.faults?.due
  if (choice === 'off') return none
  if (choice === 'hand') {
    const { bend, edge } = settings
    const green = (r: number) => 1 + r * r * (bend + edge * r * r)
    return {
      faults: { factors: [green, green, green], centre: [0, 0], due },
      finding: { ...NO_LENS.finding, from: 'hand', has: { ...NO_LENS.finding.has, distortion: true } },
    }
  }
  const own = choice === 'automatic' ? fileFaults(frame) : undefined
  const bent =
    own && frame.opcodes.demosaiced.concat(frame.opcodes.linear).some((o) => o.kind.startsWith('warp-'))
  if (own && bent) return byFile(own, true)
  const wish = wishOf(frame)
  if (choice === 'profile' && !settings.profile) return none
  const answer = await source?.(choice === 'profile' ? { ...wish, profile: settings.profile } : wish)
  if (!answer && choice === 'profile')
    throw new RawError('unsupported', 'The lens profile that was chosen is not in this library any more.')
  if (!answer) return own ? byFile(own, false) : none
  const { profile } = answer
  const { metadata } = frame
  const taking = { focal: metadata.focalLength, aperture: metadata.fNumber, crop: wish.crop ?? answer.crop }
  const curves = curvesOf(profile, taking, straighten)
  const green = curves.distortion
  return {
    faults: {
      factors: [
        (r) => green(r) * curves.red(r * green(r)),
        green,
        (r) => green(r) * curves.blue(r * green(r)),
      ],
      fallOff: own?.fallOff ?? (own?.shading || !profile.fallOff.length ? undefined : curves.fallOff),
      shading: own?.shading,
      due,
      centre: [0, 0],
    },
    finding: {
      from: 'profile',
      id: answer.id,
      name: profile.model,
      has: {
        distortion: profile.distortion.length > 0,
        fringes: profile.fringes.length > 0,
        fallOff: profile.fallOff.length > 0 || own?.fallOff !== undefined,
        shading: own?.shading !== undefined,
      },
      fisheye: bends(profile.projection),
    },
  }
}
