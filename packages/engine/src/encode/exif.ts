import {
  layOut,
  plainType,
  TAG,
  type Directory,
  type ExifEntry,
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
const OF_PIXELS = new Set([40962, 40963, 37121, 37122])

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

/** The Exif directories that a delivered picture carries over from its raw file (Exif 3). */
export function exifDirectory(m: FrameMetadata): Directory {
  const exif: Directory = new Map<number, TagValue>([
    [TAG.ExifVersion, { type: 'undefined', values: [48, 51, 48, 48] }],
    [TAG.ColorSpace, { type: 'short', values: [0xffff] }],
  ])
  const [, date, clock, fraction, zone] =
    m.taken?.match(/^(\d{4}-\d\d-\d\d)T(\d\d:\d\d:\d\d)(?:\.(\d+))?([+-]\d\d:\d\d)?$/) ?? []
  if (date) exif.set(TAG.DateTimeOriginal, ascii(`${date.replace(/-/g, ':')} ${clock}`))
  if (fraction) exif.set(TAG.SubSecTimeOriginal, ascii(fraction))
  if (zone) exif.set(TAG.OffsetTimeOriginal, ascii(zone))
  if (m.exposureTime) exif.set(TAG.ExposureTime, { type: 'rational', values: [ratio(m.exposureTime)] })
  if (m.fNumber) exif.set(TAG.FNumber, { type: 'rational', values: [ratio(m.fNumber)] })
  if (m.focalLength) exif.set(TAG.FocalLength, { type: 'rational', values: [ratio(m.focalLength)] })
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
  if (m.make) main.set(TAG.Make, ascii(m.make))
  if (m.model) main.set(TAG.Model, ascii(m.model))
  if (m.artist) main.set(TAG.Artist, ascii(m.artist))
  if (m.copyright) main.set(TAG.Copyright, ascii(m.copyright))
  return main
}

/** The same as a little TIFF of its own, as JPEG and PNG carry it. */
export function exifBlock(m: FrameMetadata): Uint8Array {
  const body = layOut(exifDirectory(m), 8)
  const out = new Uint8Array(8 + body.length)
  out.set([0x49, 0x49, 42, 0, 8, 0, 0, 0])
  out.set(body, 8)
  return out
}
