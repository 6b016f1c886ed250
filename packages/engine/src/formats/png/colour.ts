import {
  adaptation,
  D65,
  damaged,
  inflate,
  multiply,
  pow,
  rgbToXyz,
  srgbProfile,
  unsupported,
  type RgbProfile,
  type Xy,
} from '@dunkelkammer/core'
import { codedProfile } from '../container/coded'
import { viewOf } from '../bytes'
import { chunk } from './chunks'
import { profileFrom, type PictureProfile } from '../pictureProfile'

/** What stands for the curve of sRGB where a number must do. */
const SRGB_GAMMA = 45455

const isClose = (a: RgbProfile['toXyz'], b: RgbProfile['toXyz']) =>
  a.every((v, i) => Math.abs(v - b[i]) < 1e-3)

/** Most bytes of a profile. */
const MOST_PROFILE = 16 << 20

/** What a PNG's values mean: by the first that is there of cICP, iCCP, sRGB, and gAMA with cHRM (PNG, 3rd edition, 4.3). */
export function profileOf(bytes: Uint8Array): PictureProfile {
  const coded = chunk(bytes, 'cICP')
  if (coded && coded.length >= 4) {
    if (coded[3] !== 1) throw unsupported('samples that leave room at their ends')
    return codedProfile(coded[0], coded[1])
  }
  const icc = chunk(bytes, 'iCCP')
  if (icc) return profileFrom(unpacked(icc))
  if (chunk(bytes, 'sRGB')) return srgbProfile()
  const gamma = chunk(bytes, 'gAMA')
  const chromaticities = chunk(bytes, 'cHRM')
  const plain = srgbProfile()
  const said =
    chromaticities && chromaticities.length >= 32 ? primariesOf(viewOf(chromaticities)) : plain.toXyz
  const isPlain = isClose(said, plain.toXyz)
  const stored = gamma && gamma.length >= 4 ? viewOf(gamma).getUint32(0) : undefined
  // the two that stand for sRGB where a reader does not know it (PNG, 3rd edition, 11.3.2.5): many write them alone
  if (isPlain && (stored === undefined || stored === SRGB_GAMMA)) return plain
  return { curves: stored === undefined ? plain.curves : powerOf(stored), toXyz: said }
}

/** The profile after its name, which says at its beginning how large it is (ICC.1, 7.2.2). */
function unpacked(icc: Uint8Array): Uint8Array {
  const data = icc.subarray(icc.indexOf(0) + 2)
  const size = viewOf(inflate(data, 4)).getUint32(0)
  if (size > MOST_PROFILE) throw damaged('its colour profile is too large')
  return inflate(data, size)
}

function powerOf(stored: number): RgbProfile['curves'] {
  if (stored === 0) throw damaged('its gamma is 0')
  const curve = (v: number) => (v > 0 ? pow(v, 100_000 / stored) : 0)
  return [curve, curve, curve]
}

function primariesOf(view: DataView): RgbProfile['toXyz'] {
  const [white, r, g, b] = [0, 8, 16, 24].map((at): Xy => [
    view.getUint32(at) / 100_000,
    view.getUint32(at + 4) / 100_000,
  ])
  if ([white, r, g, b].some(([, y]) => y === 0)) throw damaged('its primaries are no colours')
  return multiply(adaptation(white, D65), rgbToXyz([r, g, b], white))
}
