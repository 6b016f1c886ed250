import {
  GPS,
  layOut,
  plainType,
  TAG,
  type Directory,
  type ExifEntry,
  type Extent,
  type FrameMetadata,
  type TagValue,
} from '@dunkelkammer/core'

const ascii = (text: string): TagValue => ({ type: 'ascii', text })

function ratio(v: number): readonly [number, number] {
  // a shutter of 1/320 s stays 1/320
  if (v > 0 && v < 1 && Math.abs(1 / v - Math.round(1 / v)) < 1e-4) return [1, Math.round(1 / v)]
  return [Math.round(v * 1000), 1000]
}

/** Entries that speak of the raw file's pixels, not of the delivered ones. */
const PIXEL_X = 40962
const PIXEL_Y = 40963
const OF_PIXELS = new Set([PIXEL_X, PIXEL_Y, 37121, 37122, 40960])

/** An entry of the original's Exif directory as it is to be written. */
function carried({ type, values }: ExifEntry): TagValue | undefined {
  if (type === 2) {
    const bytes = Uint8Array.from(values)
    const end = bytes.indexOf(0)
    return ascii(new TextDecoder().decode(end < 0 ? bytes : bytes.slice(0, end)))
  }
  const known = plainType(type)
  if (!known) return undefined
  if (known === 'rational' || known === 'srational') {
    const pairs = Array.from(
      { length: values.length / 2 },
      (_, i) => [values[i * 2], values[i * 2 + 1]] as const,
    )
    return { type: known, values: pairs }
  }
  return { type: known, values }
}

/** Degrees as Exif writes them: whole ones, whole minutes, seconds to a thousandth. */
function inMinutes(value: number): TagValue {
  const thousandths = Math.round(Math.abs(value) * 3600000)
  return {
    type: 'rational',
    values: [
      [Math.floor(thousandths / 3600000), 1],
      [Math.floor(thousandths / 60000) % 60, 1],
      [thousandths % 60000, 1000],
    ],
  }
}

/** Parts of a time as ISO 8601 has it. */
function timeParts(taken: string | undefined) {
  const [, date, clock, fraction, zone] =
    taken?.match(/^(\d{4}-\d\d-\d\d)T(\d\d:\d\d:\d\d)(?:\.(\d+))?([+-]\d\d:\d\d)?$/) ?? []
  return { date, clock, fraction, zone }
}

function positionDirectory({ north, east, height }: NonNullable<FrameMetadata['position']>): Directory {
  const out: Directory = new Map<number, TagValue>([
    [GPS.VersionID, { type: 'byte', values: [2, 3, 0, 0] }],
    [GPS.LatitudeRef, ascii(north < 0 ? 'S' : 'N')],
    [GPS.Latitude, inMinutes(north)],
    [GPS.LongitudeRef, ascii(east < 0 ? 'W' : 'E')],
    [GPS.Longitude, inMinutes(east)],
  ])
  if (height === undefined) return out
  out.set(GPS.AltitudeRef, { type: 'byte', values: [height < 0 ? 1 : 0] })
  out.set(GPS.Altitude, { type: 'rational', values: [[Math.round(Math.abs(height) * 100), 100]] })
  return out
}

/** Tags that Exif 3 wants of a compressed picture alone, and of one in a TIFF alone. */
const COMPONENTS_CONFIGURATION = 37121
const FLASHPIX_VERSION = 40960
const YCBCR_POSITIONING = 531

/** A compressed picture that a block lies in. */
interface Inside extends Extent {
  ppi: number
}

/** What Exif wants said of the pixels: of a compressed picture its size too, which a TIFF says elsewhere. */
function sayPixels(main: Directory, exif: Directory, inside: Inside | 'tiff'): void {
  if (inside === 'tiff') {
    exif.set(FLASHPIX_VERSION, { type: 'undefined', values: [48, 49, 48, 48] })
    return
  }
  exif.set(PIXEL_X, { type: 'long', values: [inside.width] })
  exif.set(PIXEL_Y, { type: 'long', values: [inside.height] })
  // Y, Cb, Cr, none
  exif.set(COMPONENTS_CONFIGURATION, { type: 'undefined', values: [1, 2, 3, 0] })
  main.set(YCBCR_POSITIONING, { type: 'short', values: [1] })
  sayResolution(main, inside.ppi)
}

function sayResolution(main: Directory, ppi: number): void {
  const resolution = [Math.round(ppi * 100), 100] as const
  main.set(TAG.XResolution, { type: 'rational', values: [resolution] })
  main.set(TAG.YResolution, { type: 'rational', values: [resolution] })
  // inches
  main.set(TAG.ResolutionUnit, { type: 'short', values: [2] })
}

/**
 * The Exif directories that a delivered picture carries over from its raw file (Exif 3).
 * @param inside what it lies in: a compressed picture of a size, or a TIFF; nothing is said of pixels where missing
 * @param srgb whether its colours are those of sRGB, the only ones that Exif names
 */
export function exifDirectory(m: FrameMetadata, inside?: Inside | 'tiff', srgb = false): Directory {
  const exif: Directory = new Map<number, TagValue>([
    [TAG.ExifVersion, { type: 'undefined', values: [48, 51, 48, 48] }],
    [TAG.ColorSpace, { type: 'short', values: [srgb ? 1 : 0xffff] }],
  ])
  const { date, clock, fraction, zone } = timeParts(m.taken)
  if (date) exif.set(TAG.DateTimeOriginal, ascii(`${date.replace(/-/g, ':')} ${clock}`))
  if (fraction) exif.set(TAG.SubSecTimeOriginal, ascii(fraction))
  if (zone) exif.set(TAG.OffsetTimeOriginal, ascii(zone))
  if (m.exposureTime) exif.set(TAG.ExposureTime, { type: 'rational', values: [ratio(m.exposureTime)] })
  if (m.fNumber) exif.set(TAG.FNumber, { type: 'rational', values: [ratio(m.fNumber)] })
  if (m.focalLength) exif.set(TAG.FocalLength, { type: 'rational', values: [ratio(m.focalLength)] })
  if (m.focalLength35) exif.set(TAG.FocalLength35, { type: 'short', values: [Math.round(m.focalLength35)] })
  if (m.iso) exif.set(TAG.IsoSpeed, { type: 'short', values: [Math.min(m.iso, 65535)] })
  if (m.lens) exif.set(TAG.LensModel, ascii(m.lens))
  for (const entry of m.exif ?? []) {
    const value = exif.has(entry.tag) || OF_PIXELS.has(entry.tag) ? undefined : carried(entry)
    if (value) exif.set(entry.tag, value)
  }
  const main: Directory = new Map<number, TagValue>([
    // the pixels are upright as delivered
    [TAG.Orientation, { type: 'short', values: [1] }],
    [TAG.Software, ascii('Dunkelkammer')],
    [TAG.ExifIfd, { type: 'directory', entries: exif }],
  ])
  if (inside) sayPixels(main, exif, inside)
  else if (m.ppi) sayResolution(main, m.ppi)
  const changed = timeParts(m.changed)
  if (changed.date) main.set(TAG.DateTime, ascii(`${changed.date.replace(/-/g, ':')} ${changed.clock}`))
  if (m.stars !== undefined) main.set(TAG.Rating, { type: 'short', values: [m.stars] })
  if (m.make) main.set(TAG.Make, ascii(m.make))
  if (m.model) main.set(TAG.Model, ascii(m.model))
  if (m.artist) main.set(TAG.Artist, ascii(m.artist))
  if (m.copyright) main.set(TAG.Copyright, ascii(m.copyright))
  if (m.description) main.set(TAG.ImageDescription, ascii(m.description))
  if (m.position) main.set(TAG.GpsIfd, { type: 'directory', entries: positionDirectory(m.position) })
  return main
}

/** The same as a little TIFF of its own, as JPEG and PNG carry it. */
export function exifBlock(m: FrameMetadata, inside?: Inside, srgb = false): Uint8Array {
  const body = layOut(exifDirectory(m, inside, srgb), 8)
  const out = new Uint8Array(8 + body.length)
  out.set([0x49, 0x49, 42, 0, 8, 0, 0, 0])
  out.set(body, 8)
  return out
}
