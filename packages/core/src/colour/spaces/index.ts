import { D50, D65 } from '../chromaticity'
import { defineSpace, type RgbSpace, type SpaceId, type TransferCurve } from './definition'

export * from './definition'

/** IEC 61966-2-1. */
const SRGB_CURVE: TransferCurve = { cut: 0.0031308, slope: 12.92, a: 1.055, p: 1 / 2.4, b: 0.055 }

export const srgb = defineSpace(
  'srgb',
  'sRGB',
  [
    [0.64, 0.33],
    [0.3, 0.6],
    [0.15, 0.06],
  ],
  D65,
  SRGB_CURVE,
)

/** SMPTE RP 431-2 primaries with D65 and the curve of IEC 61966-2-1. */
export const displayP3 = defineSpace(
  'display-p3',
  'Display P3',
  [
    [0.68, 0.32],
    [0.265, 0.69],
    [0.15, 0.06],
  ],
  D65,
  SRGB_CURVE,
)

/** IEC 61966-2-5. */
export const oprgb = defineSpace(
  'oprgb',
  'opRGB',
  [
    [0.64, 0.33],
    [0.21, 0.71],
    [0.15, 0.06],
  ],
  D65,
  {
    cut: 0,
    slope: 1,
    a: 1,
    p: 256 / 563,
    b: 0,
  },
)

/** ISO 22028-2. */
export const romm = defineSpace(
  'romm',
  'ROMM RGB',
  [
    [0.7347, 0.2653],
    [0.1596, 0.8404],
    [0.0366, 0.0001],
  ],
  D50,
  { cut: 1 / 512, slope: 16, a: 1, p: 1 / 1.8, b: 0 },
)

/** ITU-R BT.2020, twelve-bit constants. */
export const rec2020 = defineSpace(
  'rec2020',
  'Rec. 2020',
  [
    [0.708, 0.292],
    [0.17, 0.797],
    [0.131, 0.046],
  ],
  D65,
  { cut: 0.018053968510807, slope: 4.5, a: 1.09929682680944, p: 0.45, b: 0.09929682680944 },
)

/** All spaces that pictures can be written in. */
export const spaces: Record<SpaceId, RgbSpace> = { srgb, 'display-p3': displayP3, oprgb, romm, rec2020 }

/** Linear light, Rec. 2020 primaries, D65; 1 is diffuse white. */
export const working = rec2020
