import {
  refuseTooLarge,
  RawError,
  TAG,
  invert,
  writePlainDng,
  type Directory,
  type RgbProfile,
} from '@dunkelkammer/core'

/** A finished picture as its decoder gives it. */
export interface DisplayPicture {
  width: number
  height: number
  /** 1 grey, 2 grey and opacity, 3 RGB, 4 RGB and opacity; interleaved. */
  channels: number
  data: Uint8Array | Uint8ClampedArray | Uint16Array | Float32Array
  /** Whether colours are multiplied by the opacity. */
  multiplied?: boolean
  profile: RgbProfile
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

/** Curve by table: stored value to linear 0..65535. */
const tableOf = (curve: (v: number) => number, size: number): Uint16Array =>
  Uint16Array.from({ length: size }, (_, i) =>
    Math.round(65535 * Math.min(Math.max(curve(i / (size - 1)), 0), 1)),
  )

/** A finished picture as a DNG file that says so, its colours kept as they were stored. */
export function displayDng(picture: DisplayPicture): Uint8Array {
  const { width, height, profile, about, orientation } = picture
  let samples = opaqueRgb(picture)
  let linearisation: Uint16Array | undefined
  const [r, g, b] = profile.curves
  if (samples instanceof Float32Array) {
    const curves = [r, g, b]
    for (let i = 0; i < samples.length; i++) samples[i] = curves[i % 3](samples[i])
  } else {
    const size = samples instanceof Uint16Array ? 65536 : 256
    const tables = [r, g, b].map((c) => tableOf(c, size))
    if (tables.every((t) => t.every((v, i) => v === tables[0][i]))) linearisation = tables[0]
    else {
      const linear = new Uint16Array(samples.length)
      for (let i = 0; i < linear.length; i++) linear[i] = tables[i % 3][samples[i]]
      samples = linear
    }
  }
  return writePlainDng({
    width,
    height,
    samples,
    layout: 'linear',
    referred: 'display',
    white: samples instanceof Float32Array ? 1 : 65535,
    linearisation,
    colorMatrix: invert(profile.toXyz),
    asShotNeutral: [1, 1, 1],
    about: new Map([...about, [TAG.Orientation, { type: 'short', values: [orientation] }]]),
  })
}
