import { damaged, RawError, unsupported } from '../error'
import {
  MAX_MEGAPIXELS,
  type BayerPattern,
  type EmbeddedPreview,
  type Rect,
  type Segment,
  type SensorFrame,
} from '../frame'
import { Ifd, readDirectories, readPointed } from '../tiff/reader'
import { TAG } from '../tiff/tags'
import { readColour } from './colour'
import { readMetadata } from './metadata'

const CFA = 32803
const COMPRESSION: Readonly<Record<number, SensorFrame['compression']>> = { 1: 'none', 7: 'lossless-jpeg' }
const PATTERNS = ['0112', '1021', '1201', '2110']

function pattern(ifd: Ifd): BayerPattern {
  const dim = ifd.numbers(TAG.CfaRepeatPatternDim)
  const planes = ifd.numbers(TAG.CfaPlaneColor)
  const colours = ifd.numbers(TAG.CfaPattern).map((c) => (planes.length ? planes[c] : c))
  if (dim[0] !== 2 || dim[1] !== 2 || !PATTERNS.includes(colours.join('')))
    throw unsupported('its colour filter pattern is not of the 2 x 2 Bayer kind')
  return colours as unknown as BayerPattern
}

function segments(ifd: Ifd, width: number, height: number, fileSize: number): Segment[] {
  const tiled = ifd.has(TAG.TileOffsets)
  const offsets = ifd.numbers(tiled ? TAG.TileOffsets : TAG.StripOffsets)
  const lengths = ifd.numbers(tiled ? TAG.TileByteCounts : TAG.StripByteCounts)
  const w = tiled ? ifd.required(TAG.TileWidth, 'how wide its tiles are') : width
  const h = tiled
    ? ifd.required(TAG.TileLength, 'how high its tiles are')
    : Math.min(ifd.number(TAG.RowsPerStrip) ?? height, height)
  if (!(w >= 1 && h >= 1 && w <= 65535 && h <= 65535)) throw damaged('its tiles have an impossible size')
  const across = Math.ceil(width / w)
  const down = Math.ceil(height / h)
  if (offsets.length < across * down || lengths.length < across * down)
    throw damaged('parts of the picture are missing')
  const out: Segment[] = []
  for (let i = 0; i < across * down; i++) {
    if (offsets[i] + lengths[i] > fileSize) throw damaged('it ends before the picture does')
    out.push({
      x: (i % across) * w,
      y: Math.floor(i / across) * h,
      width: w,
      height: h,
      offset: offsets[i],
      length: lengths[i],
    })
  }
  return out
}

function activeArea(ifd: Ifd, width: number, height: number): Rect {
  const a = ifd.numbers(TAG.ActiveArea)
  if (a.length !== 4) return { x: 0, y: 0, width, height }
  const [top, left, bottom, right] = a
  if (!(
    top >= 0 &&
    left >= 0 &&
    bottom <= height &&
    right <= width &&
    bottom - top >= 16 &&
    right - left >= 16
  ))
    throw damaged('its active area lies outside the sensor')
  return { x: left, y: top, width: right - left, height: bottom - top }
}

function pictureArea(ifd: Ifd, active: Rect): Rect {
  const origin = ifd.numbers(TAG.DefaultCropOrigin)
  const size = ifd.numbers(TAG.DefaultCropSize)
  if (origin.length !== 2 || size.length !== 2) return active
  const [x, y] = origin.map(Math.round)
  const [width, height] = size.map(Math.round)
  if (!(
    x >= 0 &&
    y >= 0 &&
    width >= 16 &&
    height >= 16 &&
    x + width <= active.width &&
    y + height <= active.height
  ))
    throw damaged('its crop lies outside the sensor')
  return { x: active.x + x, y: active.y + y, width, height }
}

function blackLevels(ifd: Ifd, active: Rect): SensorFrame['black'] {
  const dim = ifd.numbers(TAG.BlackLevelRepeatDim)
  const [rows, columns] = dim.length === 2 ? dim : [1, 1]
  const values = ifd.numbers(TAG.BlackLevel)
  if (values.length === 0) return [0, 0, 0, 0]
  if (rows > 2 || columns > 2 || values.length !== rows * columns)
    throw unsupported('its black level pattern')
  // the pattern starts at the active area, our places at the mosaic's corner
  const at = (x: number, y: number) =>
    values[
      ((((y - active.y) % rows) + rows) % rows) * columns + ((((x - active.x) % columns) + columns) % columns)
    ]
  return [at(0, 0), at(1, 0), at(0, 1), at(1, 1)]
}

function preview(bytes: Uint8Array, directories: readonly Ifd[]): EmbeddedPreview | undefined {
  let best: EmbeddedPreview | undefined
  for (const ifd of directories) {
    const offsets = ifd.numbers(TAG.StripOffsets)
    const lengths = ifd.numbers(TAG.StripByteCounts)
    const width = ifd.number(TAG.ImageWidth) ?? 0
    if (ifd.number(TAG.PhotometricInterpretation) !== 6 || ifd.number(TAG.Compression) !== 7) continue
    if (offsets.length !== 1 || lengths.length !== 1 || offsets[0] + lengths[0] > bytes.length) continue
    if (bytes[offsets[0]] !== 0xff || bytes[offsets[0] + 1] !== 0xd8) continue
    if (!best || width > best.width)
      best = { offset: offsets[0], length: lengths[0], width, height: ifd.number(TAG.ImageLength) ?? 0 }
  }
  return best
}

function noiseProfile(main: Ifd, raw: Ifd): SensorFrame['noise'] {
  const v = raw.has(TAG.NoiseProfile) ? raw.numbers(TAG.NoiseProfile) : main.numbers(TAG.NoiseProfile)
  if (v.length !== 2 && v.length !== 6) return undefined
  return [0, 1, 2].map((c) => ({ a: v[v.length === 2 ? 0 : c * 2], b: v[v.length === 2 ? 1 : c * 2 + 1] }))
}

/**
 * Reads the structure of a DNG file (DNG 1.7).
 * @param bytes the whole file
 * @throws RawError with a sentence for the user where it is no DNG, damaged, or of a kind not yet read
 */
export function readDng(bytes: Uint8Array): SensorFrame {
  const directories = readDirectories(bytes)
  const main = directories[0]
  if (!main || !main.has(TAG.DngVersion))
    throw new RawError('not-raw', 'This is not a raw file in DNG format.')
  const raw = directories.find(
    (d) => d.number(TAG.PhotometricInterpretation) === CFA && (d.number(TAG.NewSubfileType) ?? 0) === 0,
  )
  if (!raw) throw unsupported('it holds no mosaic of a Bayer sensor')

  const width = raw.required(TAG.ImageWidth, 'how wide the picture is')
  const height = raw.required(TAG.ImageLength, 'how high the picture is')
  if (!(width >= 16 && height >= 16)) throw damaged('the picture has an impossible size')
  if (width * height > MAX_MEGAPIXELS * 1e6)
    throw new RawError(
      'too-large',
      `This picture has ${Math.round((width * height) / 1e6)} megapixels; at most ${MAX_MEGAPIXELS} can be developed.`,
    )
  const compression = COMPRESSION[raw.number(TAG.Compression) ?? 1]
  if (!compression) throw unsupported('its kind of compression')
  if ((raw.number(TAG.SamplesPerPixel) ?? 1) !== 1) throw unsupported('it holds more than one sample a pixel')
  const bits = raw.required(TAG.BitsPerSample, 'how many bits a sample has')
  if (compression === 'none' ? bits !== 16 : bits < 8 || bits > 16)
    throw unsupported(`samples of ${bits} bits`)
  const format = raw.number(TAG.SampleFormat) ?? 1
  if (format !== 1) throw unsupported('samples that are not whole numbers')

  const active = activeArea(raw, width, height)
  const black = blackLevels(raw, active)
  const linearisation = raw.numbers(TAG.LinearizationTable)
  const white = raw.number(TAG.WhiteLevel) ?? 2 ** bits - 1
  if (!(white > Math.max(...black) && white <= 65535))
    throw damaged('its white level lies below its black level')
  const exif = readPointed(bytes, main, TAG.ExifIfd)
  const cfa = pattern(raw)
  // the stored pattern starts at the active area
  const turned = ([0, 1, 2, 3] as const).map(
    (i) => cfa[(((i >> 1) + active.y) & 1) * 2 + (((i & 1) + active.x) & 1)],
  )
  return {
    width,
    height,
    active,
    picture: pictureArea(raw, active),
    pattern: turned as unknown as BayerPattern,
    compression,
    littleEndian: raw.littleEndian,
    segments: segments(raw, width, height, bytes.length),
    linearisation: linearisation.length ? linearisation : undefined,
    black,
    white,
    colour: readColour(main),
    noise: noiseProfile(main, raw),
    metadata: readMetadata(main, exif),
    preview: preview(bytes, directories),
  }
}
