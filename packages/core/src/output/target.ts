import { z } from 'zod'
import {
  between,
  LINEAR,
  oklabBlock,
  SPACE_IDS,
  spaces,
  working,
  type SpaceId,
  type TransferCurve,
} from '../colour'
import { identity, pow, type Triple } from '../math'
import { planeLength, planes } from '../steps/step'
import type { Kernels } from '../kernels/kernels'
import type { Raster, Scratch } from '../memory'
import { DITHER_MASK } from './ditherMask'

/**
 * Where the picture goes: a display space, or one of two states of the light on the way there.
 * `linear-rec2020`: scene light in the working space, 1 at full scale. `camera`: the camera's own channels after
 * demosaicing, white level at full scale.
 */
export const OUTPUT_SPACES = [...SPACE_IDS, 'linear-rec2020', 'camera'] as const
export type OutputSpace = (typeof OUTPUT_SPACES)[number]
export const OutputSpaceSchema = z.enum(OUTPUT_SPACES)

/** Output colour conversion, ready to run. */
export interface PreparedOutput {
  kind: 'display' | 'linear' | 'camera'
  matrix: number[]
  lab: number[]
  curve: TransferCurve
  /** Luminance of the target's linear R, G, B. */
  luminance: number[]
  /** 8-bit level by value in parts of 256, see levelTable. */
  levels: Uint16Array
}

const LEVEL_OCTAVES = 20
const LEVEL_PARTS = 8192

/**
 * 8-bit level, in parts of 256, of linear values from 2^-20 to 1, 8192 to the octave: a hundredth of a level at the worst, and many
 * times quicker than the curve.
 */
function levelTable(curve: TransferCurve): Uint16Array {
  const out = new Uint16Array(LEVEL_OCTAVES * LEVEL_PARTS + 1)
  let octave = 2 ** -LEVEL_OCTAVES
  for (let i = 0; i < out.length - 1; i++) {
    if (i > 0 && i % LEVEL_PARTS === 0) octave *= 2
    out[i] = Math.round(255 * 256 * encode(curve, octave * (1 + ((i % LEVEL_PARTS) + 0.5) / LEVEL_PARTS)))
  }
  // below the first entry is nothing, above the last nothing but white
  out[0] = 0
  out[out.length - 1] = 255 * 256
  return out
}

const tables = new Map<TransferCurve, Uint16Array>()
/** The same, made once for each curve. */
function levelsOf(curve: TransferCurve): Uint16Array {
  let table = tables.get(curve)
  if (!table) tables.set(curve, (table = levelTable(curve)))
  return table
}

/** Thresholds of the dither mask, DITHER_SIDE x DITHER_SIDE. */
export const ditherMask = (): Uint8Array => Uint8Array.from(atob(DITHER_MASK), (c) => c.charCodeAt(0))

/** Linear to encoded value, one number. */
export const encode = ({ cut, slope, a, p, b }: TransferCurve, x: number): number =>
  x < cut ? slope * x : a * pow(x, p) - b

/** Encoded to linear value, one number. */
export const decode = ({ cut, slope, a, p, b }: TransferCurve, v: number): number =>
  v < cut * slope ? v / slope : pow((v + b) / a, 1 / p)

/** @param headroom stops by which camera light is darkened */
export function prepareOutput(space: OutputSpace, balance: Triple, headroom = 0): PreparedOutput {
  if (space === 'camera') {
    const by = 2 ** -headroom
    const undo = [by / balance[0], 0, 0, 0, by / balance[1], 0, 0, 0, by / balance[2]]
    return {
      kind: 'camera',
      matrix: [...undo, Infinity, Infinity, Infinity],
      lab: [],
      curve: LINEAR,
      luminance: [1 / 3, 1 / 3, 1 / 3],
      levels: levelsOf(LINEAR),
    }
  }
  if (space === 'linear-rec2020')
    return {
      kind: 'linear',
      matrix: [...identity],
      lab: [],
      curve: LINEAR,
      luminance: working.toXyz.slice(3, 6),
      levels: levelsOf(LINEAR),
    }
  const target = spaces[space as SpaceId]
  const matrix = between(working, target)
  return {
    kind: 'display',
    matrix: [...matrix],
    lab: oklabBlock(working, target, matrix),
    curve: target.curve,
    luminance: target.toXyz.slice(3, 6),
    levels: levelsOf(target.curve),
  }
}

/**
 * Working space to the target's linear channels, display colours held to its gamut; in place.
 * @param oklab whether the planes hold Oklab, as only display colours may
 */
export function toTarget(
  kernels: Kernels,
  scratch: Scratch,
  raster: Raster,
  output: PreparedOutput,
  oklab = false,
): void {
  if (output.kind === 'linear') return
  const mark = scratch.mark()
  const matrix = scratch.floats(output.matrix)
  if (output.kind === 'camera') kernels.matrix3(...planes(raster), planeLength(raster), matrix)
  else if (oklab) kernels.oklab_to_gamut(...planes(raster), planeLength(raster), scratch.floats(output.lab))
  else kernels.to_gamut(...planes(raster), planeLength(raster), matrix, scratch.floats(output.lab))
  scratch.release(mark)
}

/** Linear channels to encoded ones, in place, over all planes of a tile. */
export function encodeTransfer(kernels: Kernels, raster: Raster, { curve }: PreparedOutput): void {
  if (!isFinite(curve.cut)) return
  kernels.transfer(raster.offset, planeLength(raster) * 3, curve.cut, curve.slope, curve.a, curve.p, curve.b)
}
