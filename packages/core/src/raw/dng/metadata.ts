import type { ExifEntry, FrameMetadata } from '../frame'
import type { Ifd } from '../tiff/reader'
import { GPS, TAG } from '../tiff/tags'

/** "2026:05:14 06:52:11" with fraction and zone to ISO 8601. */
function isoTime(date: string | undefined, fraction: string | undefined, zone: string | undefined) {
  const m = date?.match(/^(\d{4}):(\d\d):(\d\d) (\d\d:\d\d:\d\d)$/)
  if (!m) return undefined
  return `${m[1]}-${m[2]}-${m[3]}T${m[4]}${fraction ? `.${fraction}` : ''}${zone ?? ''}`
}

const positive = (n: number | undefined) => (n !== undefined && n > 0 && isFinite(n) ? n : undefined)

/** Bytes of Exif entries carried on at most: what fits into a JPEG beside the rest. */
const MAX_EXIF = 60000

/** Entries that a delivery carries on as they are; pointers to other directories would not survive the move. */
function entriesOf(exif: Ifd): ExifEntry[] {
  const out: ExifEntry[] = []
  let room = MAX_EXIF
  // the maker's notes last, since they are the longest
  const tags = exif.tags().sort((a, b) => a.count - b.count)
  for (const { tag, type, count } of tags) {
    if (tag === 40965 || tag === TAG.ColorSpace || count > room || (type === 2 && count > 2000)) continue
    const length = exif.bytes(tag).length
    if (length > room) continue
    room -= length
    out.push({ tag, type, values: [5, 10].includes(type) ? exif.pairs(tag) : exif.numbers(tag) })
  }
  return out
}

/** Position of the Exif directory for it; nothing where it is incomplete or impossible. */
function positionOf(gps: Ifd): FrameMetadata['position'] {
  const degrees = (tag: number, ref: number, negative: string, most: number) => {
    const [d, m = 0, s = 0] = gps.numbers(tag)
    const value = (d + m / 60 + s / 3600) * (gps.text(ref) === negative ? -1 : 1)
    return Math.abs(value) <= most ? value : undefined
  }
  const north = degrees(GPS.Latitude, GPS.LatitudeRef, 'S', 90)
  const east = degrees(GPS.Longitude, GPS.LongitudeRef, 'W', 180)
  if (north === undefined || east === undefined) return undefined
  const height = gps.number(GPS.Altitude)
  if (height === undefined || !isFinite(height)) return { north, east }
  return { north, east, height: gps.number(GPS.AltitudeRef) === 1 ? -height : height }
}

/** Pixels per inch; nothing where the unit is none. */
function resolutionOf(main: Ifd): number | undefined {
  const [across, unit] = [main.number(TAG.XResolution), main.number(TAG.ResolutionUnit) ?? 2]
  const ppi = across === undefined || unit < 2 ? undefined : unit === 3 ? across * 2.54 : across
  return ppi !== undefined && ppi >= 10 && ppi <= 4800 ? Math.round(ppi * 100) / 100 : undefined
}

/** Metadata of the main directory and of the directories for Exif and position. */
export function readMetadata(main: Ifd, exif: Ifd | undefined, gps?: Ifd): FrameMetadata {
  const orientation = main.number(TAG.Orientation) ?? 1
  const stars = main.number(TAG.Rating)
  return {
    changed: isoTime(main.text(TAG.DateTime), undefined, undefined),
    ppi: resolutionOf(main),
    stars: stars !== undefined && stars >= 0 && stars <= 5 ? stars : undefined,
    make: main.text(TAG.Make),
    model: main.text(TAG.Model) ?? main.text(TAG.UniqueCameraModel),
    lens: exif?.text(TAG.LensModel),
    iso: positive(exif?.number(TAG.IsoSpeed)),
    exposureTime: positive(exif?.number(TAG.ExposureTime)),
    fNumber: positive(exif?.number(TAG.FNumber)),
    focalLength: positive(exif?.number(TAG.FocalLength)),
    focalLength35: positive(exif?.number(TAG.FocalLength35)),
    position: gps && positionOf(gps),
    taken: isoTime(
      exif?.text(TAG.DateTimeOriginal) ?? main.text(TAG.DateTime),
      exif?.text(TAG.SubSecTimeOriginal),
      exif?.text(TAG.OffsetTimeOriginal),
    ),
    artist: main.text(TAG.Artist),
    copyright: main.text(TAG.Copyright),
    description: main.text(TAG.ImageDescription),
    exif: exif && entriesOf(exif),
    orientation: orientation >= 1 && orientation <= 8 ? orientation : 1,
  }
}
