import { damaged, RawError, unsupported } from '../error'
import { refuseTooLarge, type CfaPattern, type SensorFrame } from '../frame'
import type { Rect } from '../rect'
import { readDirectories, readPointed, type Ifd } from '../tiff/reader'
import { TAG } from '../tiff/tags'
import { activeArea, maskedAreas, pictureArea, pixelScale } from './areas'
import { readColour } from './colour'
import { readLevels } from './levels'
import { readMetadata } from './metadata'
import { readOpcodes } from './opcodes'
import { readPreviews } from './previews'
import { readProfile } from './profile'
import { readSegments, readStorage } from './storage'

const CFA = 32803
const LINEAR = 34892
const BAYER = ['0112', '1021', '1201', '2110']

/** Whether green comes at least every third place along all rows and columns, as the demosaic wants it. */
function greenEverywhere(colours: readonly number[]): boolean {
  const line = (at: (i: number) => number) =>
    [0, 1, 2, 3, 4, 5].every((i) => [0, 1, 2].some((k) => colours[at((i + k) % 6)] === 1))
  return [0, 1, 2, 3, 4, 5].every((j) => line((i) => j * 6 + i) && line((i) => i * 6 + j))
}

/** The filter pattern, turned so that it starts at the sensor's corner. */
function pattern(ifd: Ifd, active: Rect): CfaPattern {
  const [rows, columns] = ifd.numbers(TAG.CfaRepeatPatternDim)
  const planes = ifd.numbers(TAG.CfaPlaneColor)
  const stored = ifd.numbers(TAG.CfaPattern).map((c) => (planes.length ? planes[c] : c))
  // a rectangular grid; in the others every second line or column is shifted
  if ((ifd.number(TAG.CfaLayout) ?? 1) !== 1)
    throw unsupported('its colour filters are not laid out in a rectangular grid')
  const size = rows === columns && (rows === 2 || rows === 6) ? rows : 0
  const known =
    size !== 0 &&
    stored.length === size * size &&
    (size === 2
      ? BAYER.includes(stored.join(''))
      : greenEverywhere(stored) && stored.includes(0) && stored.includes(2)) &&
    stored.every((c) => c === 0 || c === 1 || c === 2)
  if (size === 0 || !known)
    throw unsupported('its colour filter pattern is neither one of the 2 x 2 Bayer kind nor one of 6 x 6')
  // what is stored starts at the active area
  const shift = (i: number, by: number) => (((i - by) % size) + size) % size
  const colours = stored.map(
    (_, i) => stored[shift(Math.floor(i / size), active.y) * size + shift(i % size, active.x)],
  )
  return { size, colours }
}

/** The newest version of the format that is read. */
const VERSION = [1, 7, 1, 0]

/** @throws RawError where the file says that readers of this version cannot understand it */
function refuseNewer(main: Ifd): void {
  const needed = main.numbers(TAG.DngBackwardVersion)
  const at = needed.findIndex((v, i) => v !== VERSION[i])
  if (needed.length === 4 && at >= 0 && needed[at] > VERSION[at])
    throw unsupported(`it needs a reader of DNG ${needed.slice(0, needed[2] ? 3 : 2).join('.')}`)
}

function noiseProfile(main: Ifd, raw: Ifd): SensorFrame['noise'] {
  const v = raw.has(TAG.NoiseProfile) ? raw.numbers(TAG.NoiseProfile) : main.numbers(TAG.NoiseProfile)
  if ((v.length !== 2 && v.length !== 6) || !v.every((n) => isFinite(n) && n >= 0)) return undefined
  return [0, 1, 2].map((c) => ({ a: v[v.length === 2 ? 0 : c * 2], b: v[v.length === 2 ? 1 : c * 2 + 1] }))
}

/** The directory of the full picture: a mosaic, or linear colours. */
function rawDirectory(directories: readonly Ifd[]): { raw: Ifd; layout: SensorFrame['layout'] } {
  for (const raw of directories) {
    if ((raw.number(TAG.NewSubfileType) ?? 0) !== 0) continue
    const kind = raw.number(TAG.PhotometricInterpretation)
    if (kind === CFA || kind === LINEAR) return { raw, layout: kind === CFA ? 'mosaic' : 'linear' }
  }
  throw unsupported('it holds neither the mosaic of a sensor nor linear colours')
}

/** The picture's size, refused where nothing could come of it. */
function sizeOf(raw: Ifd): { width: number; height: number } {
  const width = raw.required(TAG.ImageWidth, 'how wide the picture is')
  const height = raw.required(TAG.ImageLength, 'how high the picture is')
  if (!(width >= 16 && height >= 16)) throw damaged('the picture has an impossible size')
  refuseTooLarge(width, height)
  return { width, height }
}

function samplesOf(raw: Ifd, layout: SensorFrame['layout']): 1 | 3 {
  const samples = raw.number(TAG.SamplesPerPixel) ?? 1
  if (layout === 'mosaic' && samples !== 1) throw unsupported('its mosaic holds more than one sample a pixel')
  if (layout === 'linear' && samples !== 3) throw unsupported('its colours are not made of three channels')
  return samples as 1 | 3
}

/**
 * Reads the structure of a DNG file (DNG 1.7).
 * @param bytes the whole file
 * @throws RawError with a sentence for the user where it is no DNG, damaged, or of a kind not read
 */
export function readDng(bytes: Uint8Array): SensorFrame {
  const directories = readDirectories(bytes)
  const main = directories[0]
  if (!main || !main.has(TAG.DngVersion))
    throw new RawError('not-raw', 'This is not a raw file in DNG format.')
  refuseNewer(main)
  const { raw, layout } = rawDirectory(directories)
  const { width, height } = sizeOf(raw)
  const samples = samplesOf(raw, layout)
  const storage = readStorage(raw, samples)
  const active = activeArea(raw, width, height)
  const linearisation = storage.float ? [] : raw.numbers(TAG.LinearizationTable)
  if (linearisation.length > 65536 || linearisation.some((v) => !(v >= 0 && v <= 65535)))
    throw damaged('its linearisation table makes no sense')
  const tableTop = linearisation.at(-1)
  const exif = readPointed(bytes, main, TAG.ExifIfd)
  const gps = readPointed(bytes, main, TAG.GpsIfd)
  const baseline = main.number(TAG.BaselineExposure) ?? 0
  return {
    width,
    height,
    layout,
    referred: layout === 'linear' && main.number(TAG.ColorimetricReference) === 1 ? 'display' : 'scene',
    active,
    masked: maskedAreas(raw, width, height),
    picture: pictureArea(raw, active),
    pixelScale: pixelScale(raw),
    pattern: layout === 'mosaic' ? pattern(raw, active) : { size: 2, colours: [0, 1, 1, 2] },
    storage,
    segments: readSegments(raw, width, height, storage, bytes.length),
    linearisation: linearisation.length ? linearisation : undefined,
    levels: readLevels(raw, active, samples, storage.float ? 1 : 2 ** storage.bits - 1, tableTop),
    colour: readColour(main),
    baselineExposure: Math.abs(baseline) <= 10 ? baseline : 0,
    profile: readProfile(main),
    opcodes: readOpcodes(raw),
    noise: noiseProfile(main, raw),
    metadata: readMetadata(main, exif, gps),
    preview: readPreviews(bytes, directories)[0],
  }
}
