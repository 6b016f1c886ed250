import type { Matrix3, Triple } from '../../math'
import { TAG } from '../tiff/tags'
import { layOut, tiffHeader, type Directory, type TagValue } from '../tiff/writer'

/** A picture or mosaic in memory that is to be handed to the engine as a file. */
export interface PlainPicture {
  width: number
  height: number
  /** One sample a photosite (a mosaic), or three a pixel, interleaved. */
  samples: Uint8Array | Uint16Array | Float32Array
  /** Whether samples of 16 bits are floats. */
  halves?: boolean
  layout: 'mosaic' | 'linear'
  referred: 'scene' | 'display'
  /** Filter colours by rows, 2 x 2 or 6 x 6, from the active area's corner; mosaics only. */
  pattern?: readonly number[]
  /** By repeat of 2 x 2 for mosaics; a single value otherwise. */
  black?: readonly number[]
  blackRepeat?: readonly [number, number]
  white: number
  /** Stored value to linear 0..65535. */
  linearisation?: ArrayLike<number>
  /** Top, left, bottom, right. */
  activeArea?: readonly [number, number, number, number]
  /** XYZ to camera under daylight (D65). */
  colorMatrix: Matrix3
  asShotNeutral: Triple
  /** What is known of the taking, as directories of Exif; the picture's own tags join it. */
  about: Directory
}

const short = (...values: number[]): TagValue => ({ type: 'short', values })
const long = (...values: number[]): TagValue => ({ type: 'long', values })
const bytes = (...values: number[]): TagValue => ({ type: 'byte', values })
/** As fine as 32 bits allow: corners of a picture's gamut must not come to lie beyond it. */
const fractions = (values: readonly number[]): [number, number][] => {
  const most = Math.max(...values.map(Math.abs), 1)
  const denominator = Math.floor((2 ** 31 - 1) / most)
  return values.map((v) => [Math.round(v * denominator), denominator])
}

const ROWS_A_STRIP = 128

/**
 * Writes an uncompressed DNG 1.4 file of one picture, so that what other readers understood goes the same way into
 * the engine as every raw file.
 */
export function writePlainDng(p: PlainPicture): Uint8Array {
  const perPixel = p.layout === 'linear' ? 3 : 1
  const size = p.samples.BYTES_PER_ELEMENT
  const line = p.width * perPixel * size
  const strips = Math.ceil(p.height / ROWS_A_STRIP)
  const starts = Array.from({ length: strips }, (_, i) => 8 + i * ROWS_A_STRIP * line)
  const main: Directory = new Map([
    ...p.about,
    [TAG.NewSubfileType, long(0)],
    [TAG.ImageWidth, long(p.width)],
    [TAG.ImageLength, long(p.height)],
    [TAG.BitsPerSample, short(...new Array<number>(perPixel).fill(size * 8))],
    [TAG.Compression, short(1)],
    [TAG.PhotometricInterpretation, short(perPixel === 3 ? 34892 : 32803)],
    [TAG.SamplesPerPixel, short(perPixel)],
    [TAG.PlanarConfiguration, short(1)],
    [TAG.RowsPerStrip, long(ROWS_A_STRIP)],
    [TAG.StripOffsets, long(...starts)],
    [
      TAG.StripByteCounts,
      long(...starts.map((_, i) => Math.min(ROWS_A_STRIP, p.height - i * ROWS_A_STRIP) * line)),
    ],
    [TAG.DngVersion, bytes(1, 4, 0, 0)],
    [TAG.DngBackwardVersion, bytes(1, 2, 0, 0)],
    [TAG.ColorimetricReference, short(p.referred === 'display' ? 1 : 0)],
    [TAG.CalibrationIlluminant1, short(21)],
    [TAG.ColorMatrix1, { type: 'srational', values: fractions(p.colorMatrix) }],
    [TAG.AsShotNeutral, { type: 'rational', values: fractions(p.asShotNeutral) }],
    [TAG.WhiteLevel, long(...new Array<number>(perPixel).fill(p.white))],
  ])
  if (p.samples instanceof Float32Array || p.halves)
    main.set(TAG.SampleFormat, short(...new Array<number>(perPixel).fill(3)))
  if (p.linearisation)
    main.set(TAG.LinearizationTable, { type: 'short', values: Array.from(p.linearisation) })
  if (p.black) {
    main.set(TAG.BlackLevelRepeatDim, short(...(p.blackRepeat ?? [1, 1])))
    main.set(TAG.BlackLevel, long(...p.black))
  }
  if (p.pattern) {
    const side = Math.sqrt(p.pattern.length)
    main.set(TAG.CfaRepeatPatternDim, short(side, side))
    main.set(TAG.CfaPattern, bytes(...p.pattern))
  }
  if (p.activeArea) main.set(TAG.ActiveArea, long(...p.activeArea))
  const at = 8 + p.samples.byteLength + (p.samples.byteLength & 1)
  const tail = layOut(main, at)
  const out = new Uint8Array(at + tail.length)
  out.set(tiffHeader(at))
  out.set(new Uint8Array(p.samples.buffer, p.samples.byteOffset, p.samples.byteLength), 8)
  out.set(tail, at)
  return out
}
