import {
  RawError,
  TAG,
  unsupported,
  writePlainDng,
  type FrameMetadata,
  type Matrix3,
  type Triple,
} from '@dunkelkammer/core'
import { exifDirectory } from '../encode/exif'
import type { LibraryMetadata, LibraryReading } from './codecs'
import { checkSize } from './display'

const COLOURS: Readonly<Record<string, number>> = { R: 0, G: 1, B: 2 }
/** Exif orientation of the library's turns. */
const TURNED: Readonly<Record<number, number>> = { 0: 1, 3: 3, 5: 8, 6: 6 }

/**
 * Filter colours of 2 x 2 photosites from the library's code: two bits a photosite, eight rows of two columns.
 * @throws RawError where the pattern does not repeat after two rows or has other colours
 */
export function patternOf({
  filters,
  cdesc,
  colors,
}: Pick<LibraryMetadata, 'filters' | 'cdesc' | 'colors'>): number[] {
  if (filters === 9)
    throw unsupported('its filter pattern of 6 x 6 photosites is not told by the raw library')
  if (filters < 1000 || colors !== 3)
    throw unsupported('its sensor has no pattern of red, green and blue filters')
  const at = (row: number, column: number) => {
    const code = (filters >>> ((((row << 1) & 14) | (column & 1)) << 1)) & 3
    return COLOURS[cdesc[code]]
  }
  const pattern = [at(0, 0), at(0, 1), at(1, 0), at(1, 1)]
  for (let row = 2; row < 8; row++)
    for (let column = 0; column < 2; column++)
      if (at(row, column) !== pattern[(row & 1) * 2 + column])
        throw unsupported('its filter pattern is irregular')
  if ([...pattern].sort().join() !== '0,1,1,2') throw unsupported('its filters are not red, green and blue')
  return pattern
}

/** XYZ to camera: the library's own matrix, or the file's for daylight. */
function matrixOf({ color_data: c }: LibraryMetadata): Matrix3 {
  const own = c?.cam_xyz
  const daylight = c?.dng_color?.find((d) => d.illuminant === 21) ?? c?.dng_color?.find((d) => d.illuminant)
  const rows = own?.flat().some((v) => v !== 0) ? own : daylight?.colormatrix
  const m = rows?.slice(0, 3).flatMap((r) => r.slice(0, 3)) ?? []
  if (m.length !== 9 || !m.every(isFinite) || m.every((v) => v === 0))
    throw unsupported('the raw library knows no colours for this camera')
  return m as unknown as Matrix3
}

function neutralOf({ color_data: c }: LibraryMetadata): Triple {
  const [r, g, b] = c?.cam_mul ?? []
  if (!(r > 0 && g > 0 && b > 0)) throw unsupported('it does not say what light the camera took for neutral')
  const n = [1 / r, 1 / g, 1 / b]
  const top = Math.max(...n)
  return [n[0] / top, n[1] / top, n[2] / top]
}

/**
 * Black level of each place of the pattern. The library tells one for all; where the sensor has covered borders, they
 * are asked, and where they disagree by much with each other or with it, theirs count.
 * @throws RawError where no black level is told and the picture's darkest places lie well above zero
 */
export function blackOf(meta: LibraryMetadata, data: Uint16Array): number[] {
  const { raw_width: w, raw_height: h, left_margin: left, top_margin: top } = meta
  const black = meta.color_data?.black ?? 0
  const white = meta.color_data?.maximum ?? 0
  const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]
  if (left >= 16) {
    // the columns next to the picture may be lit a little, those at the edge are often set to nothing
    const found = [0, 1, 2, 3].map((k) => {
      const values: number[] = []
      for (let y = top + (((k >> 1) - (top & 1) + 2) % 2); y < h; y += 2)
        for (let x = 4; x < left - 6; x++) if (((x - left) & 1) === (k & 1)) values.push(data[y * w + x])
      return median(values)
    })
    if (found.every((v) => v > 0 && v < white / 4)) return found
  }
  if (black > 0) return [black, black, black, black]
  const sample: number[] = []
  const step = Math.max(1, Math.floor(data.length / 20000))
  for (let i = 0; i < data.length; i += step) sample.push(data[i])
  sample.sort((a, b) => a - b)
  if (sample[Math.floor(sample.length / 1000)] > white * 0.01)
    throw unsupported('the raw library does not tell its black level')
  return [0, 0, 0, 0]
}

function metadataOf(m: LibraryMetadata): FrameMetadata {
  const positive = (v: number | undefined) => (v !== undefined && v > 0 && isFinite(v) ? v : undefined)
  const degrees = (d: readonly number[], negative: boolean) =>
    (d[0] + d[1] / 60 + d[2] / 3600) * (negative ? -1 : 1)
  const g = m.gps_data
  return {
    make: m.camera_make || undefined,
    model: m.camera_model || undefined,
    lens: m.lens?.Lens || undefined,
    iso: positive(m.iso_speed),
    exposureTime: positive(m.shutter),
    fNumber: positive(m.aperture),
    focalLength: positive(m.focal_len),
    focalLength35: positive(m.lens?.FocalLengthIn35mmFormat),
    taken: m.timestamp > 0 ? new Date(m.timestamp * 1000).toISOString().slice(0, 19) : undefined,
    artist: m.artist || undefined,
    position: g?.gpsparsed
      ? {
          north: degrees(g.latitude, g.latref === 'S'),
          east: degrees(g.longitude, g.longref === 'W'),
          height: g.altref === 1 ? -g.altitude : g.altitude,
        }
      : undefined,
    orientation: TURNED[m.flip] ?? 1,
  }
}

/**
 * A maker's raw file as DNG: the library's unprocessed mosaic with its margins, levels, pattern and matrix, nothing of
 * its own development.
 * @throws RawError where what it reports is not enough to develop the file well
 */
export function libraryDng({ metadata: m, mosaic }: LibraryReading): Uint8Array {
  const { raw_width: width, raw_height: height, data } = mosaic
  checkSize(m.width, m.height)
  if (m.is_foveon) throw unsupported('its sensor measures all colours at every place')
  if (!(data instanceof Uint16Array) || data.length < width * height)
    throw unsupported('the raw library gives no mosaic of it')
  if (m.pixel_aspect && Math.abs(m.pixel_aspect - 1) > 1e-3)
    throw unsupported('its photosites are not square')
  const pattern = patternOf(m)
  const black = blackOf(m, data)
  const white = m.color_data?.maximum ?? 0
  if (!(white > Math.max(...black))) throw unsupported('the raw library does not tell its white level')
  const metadata = metadataOf(m)
  const right = Math.min(m.left_margin + m.width, width)
  const bottom = Math.min(m.top_margin + m.height, height)
  if (right - m.left_margin < 16 || bottom - m.top_margin < 16)
    throw new RawError('damaged', 'This file is damaged: its margins leave no picture.')
  return writePlainDng({
    width,
    height,
    samples: data.subarray(0, width * height),
    layout: 'mosaic',
    referred: 'scene',
    pattern,
    black,
    blackRepeat: [2, 2],
    white,
    activeArea: [m.top_margin, m.left_margin, bottom, right],
    colorMatrix: matrixOf(m),
    asShotNeutral: neutralOf(m),
    about: new Map([
      ...exifDirectory(metadata),
      [TAG.Orientation, { type: 'short', values: [metadata.orientation] }],
    ]),
  })
}
