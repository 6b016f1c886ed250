import { spaces, type RgbSpace, type TransferCurve } from '../colour'
import type { Kernels } from '../kernels/kernels'
import { planeLength, planes } from '../steps/step'
import type { Raster, Scratch } from '../memory'
import { prepareOutput, toTarget } from './target'

/** Entries along each side of a table's grid. */
export const TABLE_SIDE = 65
/** Numbers of an entry: three channels, and how far its colour lies outside of the target's gamut, in units of ΔE. */
export const TABLE_ENTRY = 4

/** The space that tables start from; its colours are encoded by a plain power, so that shadows get their share. */
export const TABLE_SPACE: RgbSpace = {
  ...spaces.rec2020,
  label: 'Rec. 2020, gamma 2.2',
  curve: { cut: 0, slope: 0, a: 1, p: 1 / 2.2, b: 0 },
}

/** How colours come into the gamut of a profile's device (ICC.1:2010, 6.2). */
export const INTENTS = ['perceptual', 'relative', 'saturation', 'absolute'] as const
export type Intent = (typeof INTENTS)[number]

/** A conversion to other colours by a table over TABLE_SPACE: TABLE_SIDE³ entries, red running fastest. */
export interface OutputTable {
  /** Equal tables have equal names. */
  id: string
  values: Float32Array
}

/** The same where it lies in the engine's memory. */
export interface PlacedTable {
  id: string
  address: number
}

const { curve }: { curve: TransferCurve } = TABLE_SPACE

/** Working space to linear Rec. 2020, held to its gamut: what tables are applied to after resampling; in place. */
export function toTableSpace(kernels: Kernels, scratch: Scratch, raster: Raster, oklab: boolean): void {
  toTarget(kernels, scratch, raster, START, oklab)
}
const START = prepareOutput('rec2020', [1, 1, 1])

/**
 * Linear Rec. 2020 to a table's colours, in place.
 * @param away plane for how far outside of the gamut each colour lies, 0 where nobody asks
 */
export function throughTable(kernels: Kernels, raster: Raster, { address }: PlacedTable, away = 0): void {
  const n = planeLength(raster)
  kernels.transfer(raster.offset, n * 3, curve.cut, curve.slope, curve.a, curve.p, curve.b)
  kernels.colour_table(...planes(raster), n, address, TABLE_SIDE, away)
}
