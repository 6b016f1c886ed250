import type { FrameMetadata } from '../frame'
import type { Ifd } from '../tiff/reader'
import { TAG } from '../tiff/tags'

/** "2026:05:14 06:52:11" with fraction and zone to ISO 8601. */
function isoTime(date: string | undefined, fraction: string | undefined, zone: string | undefined) {
  const m = date?.match(/^(\d{4}):(\d\d):(\d\d) (\d\d:\d\d:\d\d)$/)
  if (!m) return undefined
  return `${m[1]}-${m[2]}-${m[3]}T${m[4]}${fraction ? `.${fraction}` : ''}${zone ?? ''}`
}

const positive = (n: number | undefined) => (n !== undefined && n > 0 && isFinite(n) ? n : undefined)

/** Metadata of the main directory and the Exif directory. */
export function readMetadata(main: Ifd, exif: Ifd | undefined): FrameMetadata {
  const orientation = main.number(TAG.Orientation) ?? 1
  return {
    make: main.text(TAG.Make),
    model: main.text(TAG.Model) ?? main.text(TAG.UniqueCameraModel),
    lens: exif?.text(TAG.LensModel),
    iso: positive(exif?.number(TAG.IsoSpeed)),
    exposureTime: positive(exif?.number(TAG.ExposureTime)),
    fNumber: positive(exif?.number(TAG.FNumber)),
    focalLength: positive(exif?.number(TAG.FocalLength)),
    taken: isoTime(
      exif?.text(TAG.DateTimeOriginal) ?? main.text(TAG.DateTime),
      exif?.text(TAG.SubSecTimeOriginal),
      exif?.text(TAG.OffsetTimeOriginal),
    ),
    artist: main.text(TAG.Artist),
    copyright: main.text(TAG.Copyright),
    orientation: orientation >= 1 && orientation <= 8 ? orientation : 1,
  }
}
