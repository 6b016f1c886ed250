import { rgbToXyz, type Xy } from '../chromaticity'
import type { Matrix3 } from '../../math'

/**
 * Linear to encoded: below `cut` slope * x, above a * x^p - b. All published curves used here have this form.
 */
export interface TransferCurve {
  cut: number
  slope: number
  a: number
  p: number
  b: number
}

/** An RGB space by its standard's numbers. */
export interface RgbSpace {
  id: SpaceId
  /** As written into profiles and shown to people. */
  label: string
  white: Xy
  toXyz: Matrix3
  curve: TransferCurve
}

export const SPACE_IDS = ['srgb', 'display-p3', 'oprgb', 'romm', 'rec2020'] as const
export type SpaceId = (typeof SPACE_IDS)[number]

export const LINEAR: TransferCurve = { cut: Infinity, slope: 1, a: 1, p: 1, b: 0 }

export const defineSpace = (
  id: SpaceId,
  label: string,
  primaries: readonly [Xy, Xy, Xy],
  white: Xy,
  curve: TransferCurve,
): RgbSpace => ({ id, label, white, toXyz: rgbToXyz(primaries, white), curve })
