import { iccProfile, LINEAR, profileOfSpace, RawError, spaces, type RgbProfile } from '@dunkelkammer/core'
import { FLOATS, openFrom, withProfile } from './profile'

/** What converted colours are in: linear, of Rec. 2020's primaries, which hold what tables speak of. */
export const CONVERTED: RgbProfile = {
  ...profileOfSpace('rec2020'),
  curves: [(v) => v, (v) => v, (v) => v],
}

/** Pixels at once: the module's memory holds few more. */
const PIECE = 1 << 18
const RELATIVE = 1
/** No tables in between, and no cache of the last colour. */
const EXACT = 0x0040 | 0x0100

/**
 * Colours of a picture through the tables of its profile, relative to white.
 * @param samples encoded 0..1, RGB interleaved, or grey
 * @returns RGB of {@link CONVERTED}
 * @throws RawError where the profile cannot be used
 */
export const convertPicture = (
  icc: Uint8Array,
  samples: Float32Array,
  channels: 1 | 3,
): Promise<Float32Array> =>
  withProfile(icc, (lcms, profile, { colours }) => {
    const unusable = () =>
      new RawError(
        'unsupported',
        "This picture's colour profile cannot be used: it does not fit its colours.",
      )
    if ((colours === 'grey') !== (channels === 1)) throw unusable()
    const to = openFrom(lcms, iccProfile(spaces.rec2020, LINEAR))
    const transform = lcms.cmsCreateTransform(
      ...([profile, channels === 1 ? FLOATS.grey : FLOATS.RGB, to, FLOATS.RGB, RELATIVE, EXACT] as const),
    )
    try {
      if (!transform) throw unusable()
      const out = new Float32Array((samples.length / channels) * 3)
      for (let at = 0; at < samples.length; at += PIECE * channels) {
        const piece = samples.subarray(at, at + PIECE * channels)
        out.set(lcms.cmsDoTransform(transform, piece, piece.length / channels), (at / channels) * 3)
      }
      return out
    } finally {
      if (transform) lcms.cmsDeleteTransform(transform)
      lcms.cmsCloseProfile(to)
    }
  })
