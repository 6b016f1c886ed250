import { profileOfSpace, srgbProfile, unsupported, type RgbProfile } from '@dunkelkammer/core'

/** Profile of colours given by code points (ISO/IEC 23091-2). @throws RawError where they are of high range */
export function codedProfile(primaries: number, transfer: number): RgbProfile {
  if (transfer === 16 || transfer === 18)
    throw unsupported('its brightness is coded for a display of high range')
  const space = profileOfSpace(primaries === 9 ? 'rec2020' : primaries === 12 ? 'display-p3' : 'srgb')
  if (transfer === 8) return { ...space, curves: [(v) => v, (v) => v, (v) => v] }
  // 1, 6, 14 and 15 share one curve; everything else that is met here is the curve of sRGB
  const curves = [1, 6, 14, 15].includes(transfer) ? profileOfSpace('rec2020').curves : srgbProfile().curves
  return { ...space, curves }
}
