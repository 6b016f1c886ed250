import { isTableProfile, readIcc, type RgbProfile } from '@dunkelkammer/core'

/** What a picture's numbers mean: by a matrix and curves, or by a profile whose tables the colour management knows. */
export type PictureProfile = RgbProfile | { tables: Uint8Array }

export const hasTables = (profile: PictureProfile): profile is { tables: Uint8Array } => 'tables' in profile

/** @throws RawError where it is damaged, or for other colours than RGB and grey */
export const profileFrom = (icc: Uint8Array): PictureProfile =>
  isTableProfile(icc) ? { tables: icc.slice() } : readIcc(icc)
