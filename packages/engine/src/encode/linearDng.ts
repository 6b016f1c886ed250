import {
  carriedOut,
  CODE_BITS,
  ILLUMINANT_KELVIN,
  layOut,
  leavesNoise,
  linearOf,
  type Companding,
  TAG,
  tiffHeader,
  type Development,
  type Directory,
  type FileProfile,
  type HsvTable,
  type SensorFrame,
  type TagValue,
} from '@dunkelkammer/core'
import { open, rm } from 'node:fs/promises'
import { tileOf } from '../host/finished'
import type { Picture } from '../host/picture'
import type { Progress } from '../host/progress'
import { exifDirectory } from './exif'
import type { Carried } from './sinks'
import { developedThumb } from './small'
import { writeAll } from './writeFile'

/** Stops by which light is stored darker: highlights that were brought back lie beyond white. */
export const HEADROOM = 1
const PREVIEW_EDGE = 1024

const short = (...values: number[]): TagValue => ({ type: 'short', values })
const long = (...values: number[]): TagValue => ({ type: 'long', values })
const bytes = (...values: number[]): TagValue => ({ type: 'byte', values })
const ascii = (text: string): TagValue => ({ type: 'ascii', text })
const floats = (values: ArrayLike<number>): TagValue => ({ type: 'float', values: Array.from(values) })
const parts = (values: readonly number[], by: number) => values.map((v) => [Math.round(v * by), by] as const)
const rationals = (values: readonly number[], by = 1e6): TagValue => ({
  type: 'rational',
  values: parts(values, by),
})
const srationals = (values: readonly number[], by = 1e6): TagValue => ({
  type: 'srational',
  values: parts(values, by),
})

/** The Exif code of the light that is nearest to a temperature. */
function illuminantOf(kelvin: number): number {
  const off = (code: string) => Math.abs(ILLUMINANT_KELVIN[Number(code)] - kelvin)
  const codes = Object.keys(ILLUMINANT_KELVIN)
  // of the same temperature the later are the better defined
  return Number(codes.reduce((best, code) => (off(code) <= off(best) ? code : best)))
}

function setColour(main: Directory, { colour, profile }: SensorFrame): void {
  const { calibrations, analogBalance, asShotNeutral } = colour
  calibrations.forEach((k, i) => {
    const second = i > 0
    main.set(second ? TAG.CalibrationIlluminant2 : TAG.CalibrationIlluminant1, short(illuminantOf(k.kelvin)))
    main.set(second ? TAG.ColorMatrix2 : TAG.ColorMatrix1, srationals(k.colorMatrix))
    if (k.forwardMatrix)
      main.set(second ? TAG.ForwardMatrix2 : TAG.ForwardMatrix1, srationals(k.forwardMatrix))
    if (k.cameraCalibration)
      main.set(second ? TAG.CameraCalibration2 : TAG.CameraCalibration1, srationals(k.cameraCalibration))
  })
  main.set(TAG.AnalogBalance, rationals(analogBalance))
  main.set(TAG.AsShotNeutral, rationals(asShotNeutral))
  if (profile) setProfile(main, profile, calibrations[0].kelvin)
}

/** @param first kelvin of the first calibration, whose map comes first */
function setProfile(main: Directory, { name, maps, look, toneCurve }: FileProfile, first: number): void {
  const dims = (t: HsvTable) => long(t.hues, t.saturations, t.levels)
  if (name) main.set(TAG.ProfileName, ascii(name))
  const inOrder = [...maps].sort((a, b) => Math.abs(a.kelvin - first) - Math.abs(b.kelvin - first))
  inOrder.slice(0, 2).forEach(({ map }, i) => {
    main.set(TAG.ProfileHueSatMapDims, dims(map))
    main.set(i ? TAG.ProfileHueSatMapData2 : TAG.ProfileHueSatMapData1, floats(map.values))
    main.set(TAG.ProfileHueSatMapEncoding, long(map.encoded ? 1 : 0))
  })
  if (look) {
    main.set(TAG.ProfileLookTableDims, dims(look))
    main.set(TAG.ProfileLookTableData, floats(look.values))
    main.set(TAG.ProfileLookTableEncoding, long(look.encoded ? 1 : 0))
  }
  if (toneCurve) main.set(TAG.ProfileToneCurve, floats(toneCurve.flat()))
}

/**
 * Codes to a standard deviation of the noise: of a picture as it was taken, whose noise grows by less than a hundredth by
 * them, and of one that was cleaned, where banding would show first.
 */
const STEPS = { taken: { steps: 2.4, least: 700 }, cleaned: { steps: 5, least: 1150 } } as const

/** How light is stored, by the noise that a picture has. */
export function compandingFor({ noise }: Picture, { steps, off }: Development): Companding {
  const by = 2 ** -HEADROOM
  const cleaned = !off.includes('noise') && !leavesNoise(steps.noise)
  return { a: noise.a * by, b: noise.b * by * by, ...STEPS[cleaned ? 'cleaned' : 'taken'] }
}

/** Where the parts of a file lie. */
interface Laid {
  offsets: readonly number[]
  counts: readonly number[]
}

function rawDirectory(
  frame: SensorFrame,
  width: number,
  height: number,
  tiles: Laid,
  companding: Companding,
): Directory {
  const raw: Directory = new Map<number, TagValue>([
    [TAG.NewSubfileType, long(0)],
    [TAG.ImageWidth, long(width)],
    [TAG.ImageLength, long(height)],
    [TAG.BitsPerSample, short(CODE_BITS, CODE_BITS, CODE_BITS)],
    [TAG.Compression, short(7)],
    [TAG.PhotometricInterpretation, short(34892)],
    [TAG.SamplesPerPixel, short(3)],
    [TAG.PlanarConfiguration, short(1)],
    [TAG.TileWidth, long(tileOf(width).width)],
    [TAG.TileLength, long(tileOf(width).lines)],
    [TAG.TileOffsets, long(...tiles.offsets)],
    [TAG.TileByteCounts, long(...tiles.counts)],
    [TAG.LinearizationTable, short(...linearOf(companding))],
    [TAG.BlackLevelRepeatDim, short(1, 1)],
    [TAG.BlackLevel, long(0, 0, 0)],
    [TAG.WhiteLevel, long(65535, 65535, 65535)],
    [TAG.DefaultScale, rationals([1, 1], 1)],
    [TAG.DefaultCropOrigin, long(0, 0)],
    [TAG.DefaultCropSize, long(width, height)],
    [TAG.ActiveArea, long(0, 0, height, width)],
  ])
  if (frame.noise) {
    const by = 2 ** -HEADROOM
    const planes = [0, 1, 2].map((c) => frame.noise![Math.min(c, frame.noise!.length - 1)])
    raw.set(TAG.NoiseProfile, { type: 'double', values: planes.flatMap(({ a, b }) => [a * by, b * by * by]) })
  }
  return raw
}

/**
 * Writes a linear DNG (DNG 1.7, chapters 4 to 6): demosaiced, cleaned of noise and defects, mended and lens corrected,
 * still the light of the scene in the camera's own colours, 12 bits companded by the root, compressed without loss.
 * @returns its size in pixels
 */
export async function deliverLinearDng(
  picture: Picture,
  development: Development,
  path: string,
  { metadata, xmp }: Carried,
  signal?: AbortSignal,
  onProgress?: Progress,
  stepBack?: (ms: number) => Promise<void>,
): Promise<{ width: number; height: number }> {
  const { frame } = picture
  const straight = carriedOut(development)
  const { finished } = await picture.square(straight)
  const { width, height } = finished
  const companding = compandingFor(picture, straight)
  const file = await open(path, 'w')
  try {
    await writeAll(file, tiffHeader(0))
    let at = 8
    const offsets: number[] = []
    const counts: number[] = []
    const add = async (blob: Uint8Array) => {
      offsets.push(at)
      counts.push(blob.length)
      await writeAll(file, blob)
      // every part begins on a whole word
      if (blob.length & 1) await writeAll(file, Uint8Array.of(0))
      at += blob.length + (blob.length & 1)
    }
    const tiles = picture.bands(
      {
        ...{ development: straight, space: 'camera', bits: 16, width, height },
        ...{ headroom: HEADROOM, packed: companding },
      },
      signal,
      onProgress,
    )
    let since = performance.now()
    for await (const tile of tiles) {
      await add(tile)
      await stepBack?.(performance.now() - since)
      since = performance.now()
    }
    const raw = rawDirectory(frame, width, height, { offsets: [...offsets], counts: [...counts] }, companding)
    const preview = await developedThumb(picture, development, signal, PREVIEW_EDGE)
    await add(preview.jpeg)
    const main = mainDirectory(frame, metadata ?? { orientation: 1 }, {
      ...{ width: preview.width, height: preview.height },
      ...{ offset: offsets.at(-1)!, length: counts.at(-1)! },
    })
    if (xmp) main.set(TAG.Xmp, { type: 'byte', values: new TextEncoder().encode(xmp) })
    main.set(TAG.SubIFDs, { type: 'directories', list: [raw] })
    await writeAll(file, layOut(main, at))
    await file.write(tiffHeader(at), 0, 8, 0)
    await file.sync()
    await file.close()
    return { width, height }
  } catch (error) {
    await file.close().catch(() => undefined)
    await rm(path, { force: true })
    throw error
  }
}

function mainDirectory(
  frame: SensorFrame,
  metadata: SensorFrame['metadata'],
  preview: { width: number; height: number; offset: number; length: number },
): Directory {
  const { make = 'Unknown', model = 'camera' } = frame.metadata
  const main = exifDirectory(metadata)
  const set = (tag: number, value: TagValue) => main.set(tag, value)
  set(TAG.NewSubfileType, long(1))
  set(TAG.ImageWidth, long(preview.width))
  set(TAG.ImageLength, long(preview.height))
  set(TAG.BitsPerSample, short(8, 8, 8))
  set(TAG.Compression, short(7))
  set(TAG.PhotometricInterpretation, short(6))
  set(TAG.SamplesPerPixel, short(3))
  set(TAG.PlanarConfiguration, short(1))
  set(TAG.RowsPerStrip, long(preview.height))
  set(TAG.StripOffsets, long(preview.offset))
  set(TAG.StripByteCounts, long(preview.length))
  set(TAG.DngVersion, bytes(1, 4, 0, 0))
  set(TAG.DngBackwardVersion, bytes(1, 1, 0, 0))
  set(TAG.UniqueCameraModel, ascii(`${make} ${model}`))
  set(TAG.BaselineExposure, srationals([frame.baselineExposure + HEADROOM], 100))
  set(TAG.ColorimetricReference, short(frame.referred === 'display' ? 1 : 0))
  setColour(main, frame)
  return main
}
