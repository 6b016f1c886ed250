import {
  damaged,
  readDirectories,
  readGrid,
  readMetadata,
  readPointed,
  srgbProfile,
  TAG,
  type Ifd,
} from '@dunkelkammer/core'
import { exifDirectory } from '../../encode/exif'
import type { Codecs } from '../codecs'
import { checkSize, type DisplayPicture } from '../display'
import { JPEG, unpack } from './compression'
import { largest } from './directories'
import { jpegParts } from './jpegPart'
import { lineReader, readSamples, roomFor, topOf, type SampleArray, type Samples } from './samples'
import { profileFrom } from '../pictureProfile'

const [FILL_ORDER, COLOUR_MAP] = [266, 320]
const YCBCR = 6

/**
 * Decodes a TIFF or BigTIFF picture (TIFF 6.0 and its technical notes) of grey, RGB or palette colours, whole numbers
 * or floats, in strips or tiles, its channels together or apart, as JPEGs too.
 * @throws RawError where it is damaged or of another kind; nothing is decompressed beyond its stated size
 */
export async function decodeTiffPicture(bytes: Uint8Array, codecs: Codecs): Promise<DisplayPicture> {
  const directories = readDirectories(bytes)
  const ifd = largest(directories)
  if (!ifd) throw damaged('it holds no picture')
  const width = ifd.required(TAG.ImageWidth, 'how wide the picture is')
  const height = ifd.required(TAG.ImageLength, 'how high the picture is')
  checkSize(width, height)
  const samples = readSamples(ifd, ifd.number(TAG.Compression) === JPEG)
  const stored = await readAll(bytes, ifd, width, height, samples, codecs)
  const icc = [ifd, directories[0]].map((d) => d.bytes(TAG.IccProfile)).find((b) => b.length)
  const main = directories[0]
  const metadata = readMetadata(
    main,
    readPointed(bytes, main, TAG.ExifIfd),
    readPointed(bytes, main, TAG.GpsIfd),
  )
  return {
    ...{ width, height },
    ...shown(stored, samples, ifd),
    profile: icc ? profileFrom(icc) : srgbProfile(),
    about: exifDirectory(metadata),
    orientation: ifd.number(TAG.Orientation) ?? metadata.orientation,
  }
}

/** All samples as they are stored, interleaved. */
async function readAll(
  bytes: Uint8Array,
  ifd: Ifd,
  width: number,
  height: number,
  samples: Samples,
  codecs: Codecs,
): Promise<SampleArray> {
  const { channels, bits } = samples
  const compression = ifd.number(TAG.Compression) ?? 1
  const apart = ifd.number(TAG.PlanarConfiguration) === 2 && channels > 1
  const inPart = apart ? 1 : channels
  const { tiled, offsets, lengths, w, h } = readGrid(ifd, width, height)
  const across = Math.ceil(width / w)
  const down = Math.ceil(height / h)
  const parts = across * down * (apart ? channels : 1)
  if (offsets.length < parts || lengths.length < parts) throw damaged('parts of the picture are missing')
  const transformed = ifd.number(TAG.PhotometricInterpretation) === YCBCR
  const fromJpeg = compression === JPEG ? await jpegParts(ifd, transformed, codecs) : undefined
  const turned = ifd.number(FILL_ORDER) === 2
  const line = Math.ceil((w * inPart * bits) / 8)
  const readLine = lineReader(samples, inPart, ifd.littleEndian)
  const row = roomFor(samples, w * inPart)
  const data = roomFor(samples, width * height * channels)
  for (let i = 0; i < parts; i++) {
    const plane = Math.floor(i / (across * down))
    const x = (i % across) * w
    const y = Math.floor((i % (across * down)) / across) * h
    const rows = tiled ? h : Math.min(h, height - y)
    if (offsets[i] + lengths[i] > bytes.length) throw damaged('it ends before the picture does')
    const source = bytes.subarray(offsets[i], offsets[i] + lengths[i])
    const all = fromJpeg
      ? await fromJpeg(source, w, rows, inPart)
      : unpack(compression, source, line * rows, turned)
    const count = Math.min(w, width - x)
    for (let j = 0; j < Math.min(rows, height - y); j++) {
      readLine(all.subarray(j * line, (j + 1) * line), row)
      const at = ((y + j) * width + x) * channels
      if (!apart) data.set(row.subarray(0, count * channels), at)
      else for (let k = 0; k < count; k++) data[at + k * channels + plane] = row[k]
    }
  }
  return data
}

/** What the samples stand for: colours, and opacity where there is one. */
function shown(
  stored: SampleArray,
  { channels, colours, opacity, inverted, palette, bits }: Samples,
  ifd: Ifd,
): Pick<DisplayPicture, 'data' | 'channels' | 'multiplied'> {
  const top = topOf(stored)
  if (inverted) for (let i = 0; i < stored.length; i += channels) stored[i] = top - stored[i]
  const picture = palette ? coloured(stored, channels, ifd.numbers(COLOUR_MAP), bits) : stored
  const inPicture = palette ? 3 : channels
  if (palette || channels === colours) return { data: picture, channels: inPicture }
  const kept = opacity ? [...Array(colours).keys(), opacity.channel] : [...Array(colours).keys()]
  const pixels = stored.length / channels
  const data = stored.slice(0, pixels * kept.length)
  for (let i = 0; i < pixels; i++)
    kept.forEach((c, k) => (data[i * kept.length + k] = stored[i * channels + c]))
  return { data, channels: kept.length, multiplied: opacity?.multiplied }
}

/** Palette entries to RGB; the map holds all reds, then all greens, then all blues. */
function coloured(
  data: ArrayLike<number>,
  channels: number,
  map: readonly number[],
  bits: number,
): Uint16Array {
  const n = 2 ** bits
  if (map.length < 3 * n) throw damaged('its palette is incomplete')
  const pixels = data.length / channels
  const out = new Uint16Array(pixels * 3)
  for (let i = 0; i < pixels; i++)
    for (let c = 0; c < 3; c++) out[i * 3 + c] = map[c * n + data[i * channels]]
  return out
}
