import {
  layOut,
  TAG,
  tiffHeader,
  type Directory,
  type Matrix3,
  type TagValue,
  type Triple,
} from '@dunkelkammer/core'
import { encodeLosslessJpeg } from './ljpeg'

/** Everything that goes into a DNG of a 2 x 2 mosaic. */
export interface DngContents {
  width: number
  height: number
  mosaic: Uint16Array
  bits: number
  black: number | readonly [number, number, number, number]
  white: number
  /** Filter colours of the places (0,0) (1,0) (0,1) (1,1). */
  pattern: readonly [number, number, number, number]
  colorMatrix: Matrix3
  asShotNeutral: Triple
  noise?: { a: number; b: number }
  make: string
  model: string
  lens?: string
  iso?: number
  exposureTime?: readonly [number, number]
  fNumber?: number
  focalLength?: number
  /** ISO 8601 without zone. */
  taken?: string
  artist?: string
  copyright?: string
  orientation?: number
  preview?: { jpeg: Uint8Array; width: number; height: number }
  compression: 'none' | 'lossless-jpeg'
  /** Side of square tiles, a multiple of 16; one strip where missing. */
  tile?: number
}

const short = (...values: number[]): TagValue => ({ type: 'short', values })
const long = (...values: number[]): TagValue => ({ type: 'long', values })
const ascii = (text: string): TagValue => ({ type: 'ascii', text })
const bytes = (...values: number[]): TagValue => ({ type: 'byte', values })
const ratio = (v: number, by = 10000): readonly [number, number] => [Math.round(v * by), by]
const rationals = (values: readonly number[], by?: number): TagValue => ({
  type: 'rational',
  values: values.map((v) => ratio(v, by)),
})

interface Piece {
  data: Uint8Array
}

function pieces(c: DngContents): Piece[] {
  const w = c.tile ?? c.width
  const h = c.tile ?? c.height
  const out: Piece[] = []
  for (let y = 0; y < c.height; y += h)
    for (let x = 0; x < c.width; x += w) {
      const samples = new Uint16Array(w * h)
      for (let j = 0; j < h; j++)
        for (let i = 0; i < w; i++) {
          // tiles reach over the edge; the last sample of the same colour is repeated there
          const sx = x + i < c.width ? x + i : c.width - 2 + (i & 1)
          const sy = y + j < c.height ? y + j : c.height - 2 + (j & 1)
          samples[j * w + i] = c.mosaic[sy * c.width + sx]
        }
      out.push({
        data:
          c.compression === 'none'
            ? new Uint8Array(samples.buffer)
            : encodeLosslessJpeg(samples, w, h, c.bits),
      })
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
  if (c.taken) exif.set(TAG.DateTimeOriginal, ascii(c.taken.replace(/-/g, ':').replace('T', ' ')))
  return exif
}

/** Writes a DNG 1.4 file, little-endian: the preview (where there is one) first, the mosaic in a SubIFD. */
export function writeDng(c: DngContents): Uint8Array {
  const parts = pieces(c)
  const black = typeof c.black === 'number' ? [c.black, c.black, c.black, c.black] : [...c.black]
  const raw: Directory = new Map<number, TagValue>([
    [TAG.NewSubfileType, long(0)],
    [TAG.ImageWidth, long(c.width)],
    [TAG.ImageLength, long(c.height)],
    [TAG.BitsPerSample, short(c.compression === 'none' ? 16 : c.bits)],
    [TAG.Compression, short(c.compression === 'none' ? 1 : 7)],
    [TAG.PhotometricInterpretation, short(32803)],
    [TAG.SamplesPerPixel, short(1)],
    [TAG.PlanarConfiguration, short(1)],
    [TAG.CfaRepeatPatternDim, short(2, 2)],
    [TAG.CfaPattern, bytes(...c.pattern)],
    [TAG.BlackLevelRepeatDim, short(2, 2)],
    [TAG.BlackLevel, long(...black)],
    [TAG.WhiteLevel, long(c.white)],
  ])
  if (c.noise) raw.set(TAG.NoiseProfile, { type: 'double', values: [c.noise.a, c.noise.b] })
  if (c.tile) {
    raw.set(TAG.TileWidth, long(c.tile))
    raw.set(TAG.TileLength, long(c.tile))
  } else raw.set(TAG.RowsPerStrip, long(c.height))

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
    [TAG.ColorMatrix1, { type: 'srational', values: c.colorMatrix.map((v) => ratio(v)) }],
    [TAG.CalibrationIlluminant1, short(21)],
    [TAG.AsShotNeutral, rationals(c.asShotNeutral, 1000000)],
  ])
  if (c.artist) main.set(TAG.Artist, ascii(c.artist))
  if (c.copyright) main.set(TAG.Copyright, ascii(c.copyright))

  // data behind the header, directories behind the data: their size does not move what they point to
  const blobs = c.preview ? [c.preview.jpeg, ...parts.map((p) => p.data)] : parts.map((p) => p.data)
  const offsets: number[] = []
  let at = 8
  for (const b of blobs) {
    offsets.push(at)
    at += b.length + (b.length & 1)
  }
  const rawOffsets = offsets.slice(c.preview ? 1 : 0)
  raw.set(c.tile ? TAG.TileOffsets : TAG.StripOffsets, long(...rawOffsets))
  raw.set(c.tile ? TAG.TileByteCounts : TAG.StripByteCounts, long(...parts.map((p) => p.data.length)))
  if (c.preview) {
    main.set(TAG.ImageWidth, long(c.preview.width))
    main.set(TAG.ImageLength, long(c.preview.height))
    main.set(TAG.BitsPerSample, short(8, 8, 8))
    main.set(TAG.Compression, short(7))
    main.set(TAG.PhotometricInterpretation, short(6))
    main.set(TAG.SamplesPerPixel, short(3))
    main.set(TAG.StripOffsets, long(offsets[0]))
    main.set(TAG.StripByteCounts, long(c.preview.jpeg.length))
    main.set(TAG.RowsPerStrip, long(c.preview.height))
  }
  main.set(TAG.SubIFDs, { type: 'directories', list: [raw] })
  const tail = layOut(main, at)
  const out = new Uint8Array(at + tail.length)
  out.set(tiffHeader(at))
  blobs.forEach((b, i) => out.set(b, offsets[i]))
  out.set(tail, at)
  return out
}
