import {
  GPS,
  layOut,
  TAG,
  tiffHeader,
  type Directory,
  type HsvTable,
  type LosslessLayout,
  type Matrix3,
  type TagValue,
  type Triple,
} from '@dunkelkammer/core'
import { storeSegment, type SampleStorage } from './store'

/** The maker's matrices under one light, named by its Exif code. */
export interface WrittenCalibration {
  illuminant: number
  colorMatrix: Matrix3
  forwardMatrix?: Matrix3
  cameraCalibration?: Matrix3
}

/** Everything that goes into a DNG. */
export interface DngContents {
  width: number
  height: number
  /** Stored samples: one a photosite, or three a pixel for a linear picture. */
  mosaic: Uint16Array | Float32Array
  layout?: 'mosaic' | 'linear'
  bits: number
  float?: boolean
  compression: 'none' | 'lossless-jpeg' | 'deflate' | 'jpeg'
  /** Container of uncompressed samples: 16 bits each where missing. */
  packed?: boolean
  predictor?: number
  lossless?: LosslessLayout
  /** Encodes interleaved 8-bit RGB as baseline JPEG, for the compression of that name. */
  encodeJpeg?: (rgb: Uint8Array, width: number, height: number) => Uint8Array
  bigEndian?: boolean
  /** Side of square tiles, or their two sides; strips where missing. */
  tile?: number | readonly [number, number]
  rowsPerStrip?: number
  black: number | readonly number[]
  /** Rows and columns of the black levels: 2 x 2 where four are given. */
  blackRepeat?: readonly [number, number]
  blackDeltaH?: readonly number[]
  blackDeltaV?: readonly number[]
  /** Not said where missing. */
  white?: number | readonly number[]
  linearisation?: readonly number[]
  /** Filter colours, 2 x 2 or 6 x 6, row by row from the active area's corner. */
  pattern: readonly number[]
  /** Top, left, bottom, right. */
  activeArea?: readonly [number, number, number, number]
  maskedAreas?: readonly number[]
  defaultCrop?: { origin: readonly [number, number]; size: readonly [number, number] }
  defaultScale?: readonly [number, number]
  calibrations: readonly WrittenCalibration[]
  analogBalance?: Triple
  asShotNeutral?: Triple
  asShotWhiteXy?: readonly [number, number]
  baselineExposure?: number
  noise?: { a: number; b: number }
  profile?: {
    name?: string
    maps?: readonly HsvTable[]
    look?: HsvTable
    toneCurve?: readonly (readonly [number, number])[]
  }
  /** Lists of corrections as bytes: on stored, linear, demosaiced samples. */
  opcodes?: { stored?: Uint8Array; linear?: Uint8Array; demosaiced?: Uint8Array }
  make: string
  model: string
  lens?: string
  iso?: number
  exposureTime?: readonly [number, number]
  fNumber?: number
  focalLength?: number
  focalLength35?: number
  /** ISO 8601 without zone, with parts of a second or without. */
  taken?: string
  /** As Exif writes it, "+02:00". */
  zone?: string
  /** North and east in degrees, metres above the sea. */
  position?: readonly [number, number, number]
  artist?: string
  copyright?: string
  makerNote?: Uint8Array
  orientation?: number
  preview?: { jpeg: Uint8Array; width: number; height: number }
}

const short = (...values: number[]): TagValue => ({ type: 'short', values })
const long = (...values: number[]): TagValue => ({ type: 'long', values })
const ascii = (text: string): TagValue => ({ type: 'ascii', text })
const bytes = (...values: number[]): TagValue => ({ type: 'byte', values })
const floats = (values: readonly number[]): TagValue => ({ type: 'float', values })
const ratio = (v: number, by = 10000): readonly [number, number] => [Math.round(v * by), by]
const rationals = (values: readonly number[], by?: number): TagValue => ({
  type: 'rational',
  values: values.map((v) => ratio(v, by)),
})
const srationals = (values: readonly number[], by?: number): TagValue =>
  ({ ...rationals(values, by), type: 'srational' }) as TagValue

const COMPRESSION = { none: 1, 'lossless-jpeg': 7, deflate: 8, jpeg: 34892 } as const
const samplesOf = (c: DngContents): 1 | 3 => (c.layout === 'linear' ? 3 : 1)

/** Bits of a sample in the file. */
const storedBits = (c: DngContents) => (c.compression === 'none' && !c.packed && !c.float ? 16 : c.bits)

function segments(c: DngContents): Uint8Array[] {
  const n = samplesOf(c)
  const [w, h] =
    c.tile === undefined
      ? [c.width, c.rowsPerStrip ?? c.height]
      : typeof c.tile === 'number'
        ? [c.tile, c.tile]
        : c.tile
  const period = n === 3 ? 1 : Math.sqrt(c.pattern.length)
  const inside = (i: number, size: number) => (i < size ? i : size - period + ((i - size) % period))
  const out: Uint8Array[] = []
  for (let y = 0; y < c.height; y += h)
    for (let x = 0; x < c.width; x += w) {
      const rows = c.tile === undefined ? Math.min(h, c.height - y) : h
      const part = c.float ? new Float32Array(w * rows * n) : new Uint16Array(w * rows * n)
      for (let j = 0; j < rows; j++)
        for (let i = 0; i < w; i++)
          for (let k = 0; k < n; k++) {
            // tiles reach over the edge; the last pattern of the filter is repeated there
            const at = (inside(y + j, c.height) * c.width + inside(x + i, c.width)) * n + k
            part[(j * w + i) * n + k] = c.mosaic[at]
          }
      if (c.compression === 'jpeg') out.push(c.encodeJpeg!(Uint8Array.from(part), w, rows))
      else {
        const storage: SampleStorage = {
          compression: c.compression,
          bits: storedBits(c),
          samples: n,
          float: c.float ?? false,
          littleEndian: !c.bigEndian,
          predictor: c.predictor ?? 1,
          lossless: c.lossless ?? (n === 3 ? { components: 3 } : undefined),
        }
        out.push(storeSegment(part, w, rows, storage))
      }
    }
  return out
}

function exifDirectory(c: DngContents): Directory {
  const exif: Directory = new Map([[TAG.ExifVersion, { type: 'undefined', values: [48, 50, 51, 50] }]])
  if (c.exposureTime) exif.set(TAG.ExposureTime, { type: 'rational', values: [c.exposureTime] })
  if (c.fNumber) exif.set(TAG.FNumber, rationals([c.fNumber], 10))
  if (c.iso) exif.set(TAG.IsoSpeed, short(c.iso))
  if (c.focalLength) exif.set(TAG.FocalLength, rationals([c.focalLength], 10))
  if (c.lens) exif.set(TAG.LensModel, ascii(c.lens))
  if (c.focalLength35) exif.set(TAG.FocalLength35, short(c.focalLength35))
  if (c.taken) {
    const [second, parts] = c.taken.split('.')
    exif.set(TAG.DateTimeOriginal, ascii(second.replace(/-/g, ':').replace('T', ' ')))
    if (parts) exif.set(TAG.SubSecTimeOriginal, ascii(parts))
  }
  if (c.zone) exif.set(TAG.OffsetTimeOriginal, ascii(c.zone))
  if (c.makerNote) exif.set(TAG.MakerNote, { type: 'undefined', values: c.makerNote })
  return exif
}

function positionDirectory([north, east, height]: readonly [number, number, number]): Directory {
  const degrees = (v: number): TagValue => {
    const a = Math.abs(v)
    const minutes = (a % 1) * 60
    return {
      type: 'rational',
      values: [
        [Math.floor(a), 1],
        [Math.floor(minutes), 1],
        [Math.round((minutes % 1) * 60000), 1000],
      ],
    }
  }
  return new Map<number, TagValue>([
    [GPS.VersionID, bytes(2, 3, 0, 0)],
    [GPS.LatitudeRef, ascii(north < 0 ? 'S' : 'N')],
    [GPS.Latitude, degrees(north)],
    [GPS.LongitudeRef, ascii(east < 0 ? 'W' : 'E')],
    [GPS.Longitude, degrees(east)],
    [GPS.AltitudeRef, bytes(height < 0 ? 1 : 0)],
    [GPS.Altitude, rationals([Math.abs(height)], 10)],
  ])
}

function rawDirectory(c: DngContents): Directory {
  const n = samplesOf(c)
  const black = typeof c.black === 'number' ? [c.black] : [...c.black]
  const repeat = c.blackRepeat ?? (black.length === 4 && n === 1 ? [2, 2] : [1, 1])
  const size = Math.sqrt(c.pattern.length)
  const raw: Directory = new Map<number, TagValue>([
    [TAG.NewSubfileType, long(0)],
    [TAG.ImageWidth, long(c.width)],
    [TAG.ImageLength, long(c.height)],
    [TAG.BitsPerSample, short(...new Array<number>(n).fill(storedBits(c)))],
    [TAG.Compression, short(COMPRESSION[c.compression])],
    [TAG.PhotometricInterpretation, short(n === 3 ? 34892 : 32803)],
    [TAG.SamplesPerPixel, short(n)],
    [TAG.PlanarConfiguration, short(1)],
    [TAG.BlackLevelRepeatDim, short(...repeat)],
    [TAG.BlackLevel, black.every(Number.isInteger) ? long(...black) : rationals(black)],
  ])
  const white = typeof c.white === 'number' ? [c.white] : [...(c.white ?? [])]
  if (white.length) raw.set(TAG.WhiteLevel, white.every(Number.isInteger) ? long(...white) : rationals(white))
  if (n === 1) {
    raw.set(TAG.CfaRepeatPatternDim, short(size, size))
    raw.set(TAG.CfaPattern, bytes(...c.pattern))
  }
  const list = (
    tag: number,
    values: readonly number[] | undefined,
    make: (v: readonly number[]) => TagValue,
  ) => {
    if (values) raw.set(tag, make(values))
  }
  list(TAG.BlackLevelDeltaH, c.blackDeltaH, (v) => srationals(v, 1000))
  list(TAG.BlackLevelDeltaV, c.blackDeltaV, (v) => srationals(v, 1000))
  list(TAG.LinearizationTable, c.linearisation, (v) => short(...v))
  list(TAG.ActiveArea, c.activeArea, (v) => long(...v))
  list(TAG.MaskedAreas, c.maskedAreas, (v) => long(...v))
  list(TAG.DefaultCropOrigin, c.defaultCrop?.origin, (v) => rationals(v))
  list(TAG.DefaultCropSize, c.defaultCrop?.size, (v) => rationals(v))
  list(TAG.DefaultScale, c.defaultScale, (v) => rationals(v))
  if (c.float) raw.set(TAG.SampleFormat, short(...new Array<number>(n).fill(3)))
  if (c.predictor) raw.set(TAG.Predictor, short(c.predictor))
  if (c.noise) raw.set(TAG.NoiseProfile, { type: 'double', values: [c.noise.a, c.noise.b] })
  const opcode = (tag: number, values: Uint8Array | undefined) => {
    if (values) raw.set(tag, { type: 'undefined', values })
  }
  opcode(TAG.OpcodeList1, c.opcodes?.stored)
  opcode(TAG.OpcodeList2, c.opcodes?.linear)
  opcode(TAG.OpcodeList3, c.opcodes?.demosaiced)
  if (c.tile) {
    const [w, h] = typeof c.tile === 'number' ? [c.tile, c.tile] : c.tile
    raw.set(TAG.TileWidth, long(w))
    raw.set(TAG.TileLength, long(h))
  } else raw.set(TAG.RowsPerStrip, long(c.rowsPerStrip ?? c.height))
  return raw
}

function profileTags(
  main: Directory,
  { name, maps, look, toneCurve }: NonNullable<DngContents['profile']>,
): void {
  const dims = (t: HsvTable) => long(t.hues, t.saturations, t.levels)
  if (name) main.set(TAG.ProfileName, ascii(name))
  maps?.forEach((map, i) => {
    main.set(TAG.ProfileHueSatMapDims, dims(map))
    main.set(i ? TAG.ProfileHueSatMapData2 : TAG.ProfileHueSatMapData1, floats([...map.values]))
    main.set(TAG.ProfileHueSatMapEncoding, long(map.encoded ? 1 : 0))
  })
  if (look) {
    main.set(TAG.ProfileLookTableDims, dims(look))
    main.set(TAG.ProfileLookTableData, floats([...look.values]))
    main.set(TAG.ProfileLookTableEncoding, long(look.encoded ? 1 : 0))
  }
  if (toneCurve) main.set(TAG.ProfileToneCurve, floats(toneCurve.flat()))
}

function mainDirectory(c: DngContents): Directory {
  const main: Directory = new Map<number, TagValue>([
    [TAG.NewSubfileType, long(1)],
    [TAG.Make, ascii(c.make)],
    [TAG.Model, ascii(c.model)],
    [TAG.Orientation, short(c.orientation ?? 1)],
    [TAG.Software, ascii('Dunkelkammer simulated camera')],
    [TAG.ExifIfd, { type: 'directory', entries: exifDirectory(c) }],
    [TAG.DngVersion, bytes(1, 4, 0, 0)],
    [TAG.DngBackwardVersion, bytes(1, 1, 0, 0)],
    [TAG.UniqueCameraModel, ascii(`${c.make} ${c.model}`)],
  ])
  c.calibrations.forEach((k, i) => {
    main.set(i ? TAG.CalibrationIlluminant2 : TAG.CalibrationIlluminant1, short(k.illuminant))
    main.set(i ? TAG.ColorMatrix2 : TAG.ColorMatrix1, srationals(k.colorMatrix))
    if (k.forwardMatrix) main.set(i ? TAG.ForwardMatrix2 : TAG.ForwardMatrix1, srationals(k.forwardMatrix))
    if (k.cameraCalibration)
      main.set(i ? TAG.CameraCalibration2 : TAG.CameraCalibration1, srationals(k.cameraCalibration))
  })
  if (c.position) main.set(TAG.GpsIfd, { type: 'directory', entries: positionDirectory(c.position) })
  if (c.analogBalance) main.set(TAG.AnalogBalance, rationals(c.analogBalance))
  if (c.asShotNeutral) main.set(TAG.AsShotNeutral, rationals(c.asShotNeutral, 1000000))
  if (c.asShotWhiteXy) main.set(TAG.AsShotWhiteXY, rationals(c.asShotWhiteXy, 1000000))
  if (c.baselineExposure !== undefined) main.set(TAG.BaselineExposure, srationals([c.baselineExposure], 100))
  if (c.profile) profileTags(main, c.profile)
  if (c.artist) main.set(TAG.Artist, ascii(c.artist))
  if (c.copyright) main.set(TAG.Copyright, ascii(c.copyright))
  if (c.preview) {
    main.set(TAG.ImageWidth, long(c.preview.width))
    main.set(TAG.ImageLength, long(c.preview.height))
    main.set(TAG.BitsPerSample, short(8, 8, 8))
    main.set(TAG.Compression, short(7))
    main.set(TAG.PhotometricInterpretation, short(6))
    main.set(TAG.SamplesPerPixel, short(3))
    main.set(TAG.StripByteCounts, long(c.preview.jpeg.length))
    main.set(TAG.RowsPerStrip, long(c.preview.height))
  }
  return main
}

/** Writes a DNG 1.4 file: the preview (where there is one) first, the raw picture in a SubIFD. */
export function writeDng(c: DngContents): Uint8Array {
  const parts = segments(c)
  const raw = rawDirectory(c)
  const main = mainDirectory(c)
  // data behind the header, directories behind the data: their size does not move what they point to
  const blobs = c.preview ? [c.preview.jpeg, ...parts] : parts
  const offsets: number[] = []
  let at = 8
  for (const b of blobs) {
    offsets.push(at)
    at += b.length + (b.length & 1)
  }
  const rawOffsets = offsets.slice(c.preview ? 1 : 0)
  raw.set(c.tile ? TAG.TileOffsets : TAG.StripOffsets, long(...rawOffsets))
  raw.set(c.tile ? TAG.TileByteCounts : TAG.StripByteCounts, long(...parts.map((p) => p.length)))
  if (c.preview) main.set(TAG.StripOffsets, long(offsets[0]))
  main.set(TAG.SubIFDs, { type: 'directories', list: [raw] })
  const tail = layOut(main, at, !c.bigEndian)
  const out = new Uint8Array(at + tail.length)
  out.set(tiffHeader(at, !c.bigEndian))
  blobs.forEach((b, i) => out.set(b, offsets[i]))
  out.set(tail, at)
  return out
}
