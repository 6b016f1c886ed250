import { TAG, toFloats, undoPrediction, unsupported, type Ifd, type Storage } from '@dunkelkammer/core'
import { refuseCompression } from './compression'

/** How a picture's samples are stored, and what they mean. */
export interface Samples {
  channels: number
  /** Channels of colour; what more there is comes after them. */
  colours: 1 | 3
  /** Which channel is opacity, and whether the colours are multiplied by it. */
  opacity?: { channel: number; multiplied: boolean }
  /** Black is the highest number. */
  inverted: boolean
  palette: boolean
  bits: number
  float: boolean
  predictor: Storage['predictor']['kind']
}

const [WHITE_IS_ZERO, BLACK_IS_ZERO, RGB, PALETTE, YCBCR] = [0, 1, 2, 3, 6]
const EXTRA_SAMPLES = 338
const PREDICTORS = { 1: 'none', 2: 'horizontal', 3: 'float' } as const

/** Colours that are known by name but not read. */
const NAMES: Readonly<Record<number, string>> = {
  4: 'a mask',
  5: 'colours of inks (CMYK)',
  6: 'colours of luma and chroma that are not compressed as JPEG',
  8: 'Lab colours',
  9: 'Lab colours',
  10: 'Lab colours',
  32844: 'logarithmic colours',
  32845: 'logarithmic colours',
}

function opacityOf(ifd: Ifd, colours: number): Samples['opacity'] {
  const extra = ifd.numbers(EXTRA_SAMPLES)
  const at = extra.findIndex((kind) => kind === 1 || kind === 2)
  return at < 0 ? undefined : { channel: colours + at, multiplied: extra[at] === 1 }
}

/**
 * @param jpeg whether the parts are JPEGs, whose decoder makes luma and chroma RGB
 * @throws RawError that names what cannot be read
 */
export function readSamples(ifd: Ifd, jpeg: boolean): Samples {
  refuseCompression(ifd.number(TAG.Compression) ?? 1)
  const channels = ifd.number(TAG.SamplesPerPixel) ?? 1
  const stored = ifd.number(TAG.PhotometricInterpretation) ?? BLACK_IS_ZERO
  const photometric = jpeg && stored === YCBCR ? RGB : stored
  if (![WHITE_IS_ZERO, BLACK_IS_ZERO, RGB, PALETTE].includes(photometric))
    throw unsupported(NAMES[photometric] ?? `colours of kind ${photometric}`)
  const colours = photometric === RGB ? 3 : 1
  if (channels < colours || channels > colours + 8) throw unsupported(`${channels} samples a pixel`)
  const depths = ifd.numbers(TAG.BitsPerSample)
  const bits = depths[0] ?? 1
  if (depths.some((d) => d !== bits)) throw unsupported('samples of different depths')
  const formats = ifd.numbers(TAG.SampleFormat)
  const format = formats[0] ?? 1
  if (![1, 3].includes(format) || formats.some((f) => f !== format))
    throw unsupported('samples with a sign, or of different kinds')
  const float = format === 3
  const palette = photometric === PALETTE
  const known = float ? [16, 24, 32, 64] : palette ? [1, 2, 4, 8, 16] : [1, 2, 4, 8, 10, 12, 14, 16, 32]
  if (!known.includes(bits) || (jpeg && bits !== 8) || (palette && float))
    throw unsupported(`samples of ${bits} bits${float ? ' with a floating point' : ''}`)
  const predictor = jpeg ? 'none' : PREDICTORS[(ifd.number(TAG.Predictor) ?? 1) as 1 | 2 | 3]
  if (!predictor || (predictor === 'float' && !float) || (predictor === 'horizontal' && (float || bits % 8)))
    throw unsupported('its kind of prediction')
  return {
    ...{ channels, colours, palette, bits, float, predictor },
    opacity: opacityOf(ifd, colours),
    inverted: photometric === WHITE_IS_ZERO,
  }
}

export type SampleArray = Uint8Array | Uint16Array | Float32Array

/** The highest number of a kind of samples as they are given on. */
export const topOf = (data: SampleArray): number =>
  data instanceof Float32Array ? 1 : data instanceof Uint16Array ? 65535 : 255

/** Room for samples as they are given on: 8 or 16 bits, or floats; indices as they are. */
export function roomFor({ bits, float }: Samples, count: number): SampleArray {
  if (float) return new Float32Array(count)
  return bits <= 8 ? new Uint8Array(count) : new Uint16Array(count)
}

/** Whole numbers of any count of bits, the highest first, spread over 8 or 16. */
function unpackBits(line: Uint8Array, bits: number, palette: boolean, out: SampleArray): void {
  const scale = palette ? 1 : topOf(out) / (2 ** bits - 1)
  let held = 0
  let holding = 0
  for (let i = 0, from = 0; i < out.length; i++) {
    while (holding < bits) {
      held = ((held << 8) | line[from++]) & 0xffffff
      holding += 8
    }
    holding -= bits
    out[i] = Math.round(((held >> holding) & (2 ** bits - 1)) * scale)
  }
}

/** Sums differences of 32-bit samples up again. */
function undo32(line: Uint8Array, littleEndian: boolean, by: number): void {
  const view = new DataView(line.buffer, line.byteOffset, line.byteLength)
  for (let i = by; i < line.length / 4; i++)
    view.setUint32(
      i * 4,
      view.getUint32(i * 4, littleEndian) + view.getUint32((i - by) * 4, littleEndian),
      littleEndian,
    )
}

/** Doubles as any other floats: light beyond any sensor, or no number, is damage. */
const sane = (v: number) => (Number.isNaN(v) ? 0 : Math.min(Math.max(v, -65504), 65504))

/**
 * Reads a line of samples as they are given on.
 * @param inPart samples of a pixel that lie together
 */
export function lineReader(
  { bits, float, predictor, palette }: Samples,
  inPart: number,
  littleEndian: boolean,
): (line: Uint8Array, out: SampleArray) => void {
  const storage: Storage = {
    ...{ compression: 'none', bits, float, littleEndian },
    predictor: { kind: predictor, stride: inPart },
    // the distance of what belongs together is told by the stride alone
    samples: 1,
  }
  return (stored, out) => {
    if (bits === 32 && predictor === 'horizontal') undo32(stored, littleEndian, inPart)
    const row = bits === 32 && !float ? { line: stored, littleEndian } : undoPrediction(stored, storage)
    const { line } = row
    const view = new DataView(line.buffer, line.byteOffset, line.byteLength)
    if (float && bits === 64)
      for (let i = 0; i < out.length; i++) out[i] = sane(view.getFloat64(i * 8, row.littleEndian))
    else if (float) toFloats(line, bits, row.littleEndian, out as Float32Array)
    else if (bits === 8) out.set(line)
    else if (bits === 16)
      for (let i = 0; i < out.length; i++) out[i] = view.getUint16(i * 2, row.littleEndian)
    else if (bits === 32)
      for (let i = 0; i < out.length; i++) out[i] = Math.round(view.getUint32(i * 4, littleEndian) / 65537)
    else unpackBits(line, bits, palette, out)
  }
}
