import {
  refuseTooLarge,
  RawError,
  TAG,
  invert,
  writePlainDng,
  type Directory,
  type Curve,
  type PlainPicture,
  type RgbProfile,
} from '@dunkelkammer/core'
import type { Codecs } from './codecs'
import { hasTables, type PictureProfile } from './pictureProfile'

/** A finished picture as its decoder gives it. */
export interface DisplayPicture {
  width: number
  height: number
  /** 1 grey, 2 grey and opacity, 3 RGB, 4 RGB and opacity; interleaved. */
  channels: number
  data: Uint8Array | Uint8ClampedArray | Uint16Array | Float32Array
  /** Whether colours are multiplied by the opacity. */
  multiplied?: boolean
  profile: PictureProfile
  /** Directories of what is known of the taking. */
  about: Directory
  /** How it is to be turned to stand upright (Exif). */
  orientation: number
}

/** @throws RawError where a picture of that size is too large or none at all */
export function checkSize(width: number, height: number): void {
  if (!(width >= 16 && height >= 16))
    throw new RawError('unsupported', `This picture is only ${width} x ${height} pixels large.`)
  refuseTooLarge(width, height)
}

const isFloat = (d: DisplayPicture['data']): d is Float32Array => d instanceof Float32Array

/** Light over white, whole numbers up to `most`. */
const onWhite = (v: number, white: number, most: number) =>
  most === Infinity ? v + white : Math.min(Math.round(v + white), most)

/** Three channels without opacity: greys thrice, what is transparent on white. */
function opaqueRgb({
  width,
  height,
  channels,
  data,
  multiplied,
}: DisplayPicture): Uint8Array | Uint16Array | Float32Array {
  const pixels = width * height
  if (channels === 3) return data instanceof Uint8ClampedArray ? new Uint8Array(data) : data
  const top = isFloat(data) ? 1 : data instanceof Uint16Array ? 65535 : 255
  const out = isFloat(data)
    ? new Float32Array(pixels * 3)
    : data instanceof Uint16Array
      ? new Uint16Array(pixels * 3)
      : new Uint8Array(pixels * 3)
  const colours = channels > 2 ? 3 : 1
  const seeThrough = channels % 2 === 0
  for (let i = 0; i < pixels; i++) {
    const at = i * channels
    const opacity = seeThrough ? data[at + channels - 1] / top : 1
    for (let c = 0; c < 3; c++) {
      const v = data[at + (colours === 3 ? c : 0)]
      out[i * 3 + c] =
        opacity === 1
          ? v
          : onWhite(multiplied ? v : v * opacity, top * (1 - opacity), isFloat(data) ? Infinity : top)
    }
  }
  return out
}

/** Values at a table's places, held to 0..1. */
const heldAt = (curve: Curve, size: number): Float32Array =>
  Float32Array.from({ length: size }, (_, i) => Math.min(Math.max(curve(i / (size - 1)), 0), 1))

/** Curve by table: stored value to linear 0..65535. */
const tableOf = (curve: Curve, size: number): Uint16Array =>
  Uint16Array.from(heldAt(curve, size), (v) => Math.round(65535 * v))

/** Whether a curve is so flat at black that 16 bits of light tell its darkest levels no longer apart. */
const isFlat = (curve: Curve) => curve(1 / 255) * 65535 < 2

/** Light of encoded samples: floats, of 16 bits where those are exact enough. */
function lightOf(samples: Uint8Array | Uint16Array, curves: readonly Curve[]): Uint16Array | Float32Array {
  const tables = curves.map((c) => heldAt(c, samples instanceof Uint16Array ? 65536 : 256))
  if (samples instanceof Uint16Array) return Float32Array.from(samples, (v, i) => tables[i % 3][v])
  const halves = tables.map((t) => Uint16Array.from(t, toHalf))
  return Uint16Array.from(samples, (v, i) => halves[i % 3][v])
}

/** The nearest 16-bit float of a number of 0..1 (IEEE 754). */
function toHalf(v: number): number {
  const e = Math.max(Math.floor(Math.log2(v || 1e-9)), -14)
  const m = Math.round((v / 2 ** e) * 1024)
  // below the smallest normal number the exponent's code is 0; a mantissa that is full carries into it
  return m < 1024 ? m : ((e + 14) << 10) + m
}

/** RGB whose tables have been followed, on white where it was transparent. */
async function throughTables(
  picture: DisplayPicture,
  tables: Uint8Array,
  codecs: Codecs,
): Promise<{ picture: DisplayPicture; profile: RgbProfile }> {
  const rgb = opaqueRgb(picture)
  const grey = picture.channels < 3
  const top = isFloat(rgb) ? 1 : rgb instanceof Uint16Array ? 65535 : 255
  const encoded = new Float32Array(grey ? rgb.length / 3 : rgb.length)
  for (let i = 0; i < encoded.length; i++) encoded[i] = rgb[grey ? i * 3 : i] / top
  const { convertPicture, CONVERTED } = await codecs.profiles()
  const data = await convertPicture(tables, encoded, grey ? 1 : 3)
  return { picture: { ...picture, data, channels: 3 }, profile: CONVERTED }
}

/**
 * A finished picture as a DNG file that says so, its colours kept as they were stored.
 * @throws RawError where its profile cannot be used
 */
export async function displayDng(given: DisplayPicture, codecs: Codecs): Promise<Uint8Array> {
  const { picture, profile } = hasTables(given.profile)
    ? await throughTables(given, given.profile.tables, codecs)
    : { picture: given, profile: given.profile }
  const { width, height, about, orientation } = picture
  const stored = stores(opaqueRgb(picture), profile.curves)
  return writePlainDng({
    ...{ width, height, ...stored, layout: 'linear', referred: 'display' },
    white: stored.samples instanceof Float32Array || stored.halves ? 1 : 65535,
    colorMatrix: invert(profile.toXyz),
    asShotNeutral: [1, 1, 1],
    about: new Map([...about, [TAG.Orientation, { type: 'short', values: [orientation] }]]),
  })
}

/** Samples as the file keeps them: light, or what a table makes light. */
function stores(
  samples: Uint8Array | Uint16Array | Float32Array,
  curves: RgbProfile['curves'],
): Pick<PlainPicture, 'samples' | 'halves' | 'linearisation'> {
  if (isFloat(samples)) {
    for (let i = 0; i < samples.length; i++) samples[i] = curves[i % 3](samples[i])
    return { samples }
  }
  if (curves.some(isFlat)) {
    const light = lightOf(samples, curves)
    return { samples: light, halves: light instanceof Uint16Array }
  }
  const tables = curves.map((c) => tableOf(c, samples instanceof Uint16Array ? 65536 : 256))
  if (tables.every((t) => t.every((v, i) => v === tables[0][i]))) return { samples, linearisation: tables[0] }
  return { samples: Uint16Array.from(samples, (v, i) => tables[i % 3][v]) }
}
