import {
  damaged,
  inflate,
  readDirectories,
  readGrid,
  readIcc,
  readMetadata,
  readPointed,
  srgbProfile,
  TAG,
  toFloats,
  undoPrediction,
  unsupported,
  type Ifd,
  type Storage,
} from '@dunkelkammer/core'
import { exifDirectory } from '../encode/exif'
import { checkSize, type DisplayPicture } from './display'
import { unLzw, unPackBits } from './lzw'

const PREDICTORS = { 1: 'none', 2: 'horizontal', 3: 'float' } as const

function unpack(kind: number, data: Uint8Array, size: number): Uint8Array {
  switch (kind) {
    case 1:
      if (data.length < size) throw damaged('a part of the picture is cut off')
      return data.slice(0, size)
    case 5:
      return unLzw(data, size)
    case 8:
    case 32946:
      return inflate(data, size)
    case 32773:
      return unPackBits(data, size)
    default:
      throw unsupported('its kind of compression')
  }
}

/** The largest picture of the file: some carry small ones too. */
function largest(directories: readonly Ifd[]): Ifd {
  const area = (d: Ifd) => (d.number(TAG.ImageWidth) ?? 0) * (d.number(TAG.ImageLength) ?? 0)
  const [best] = [...directories].sort((a, b) => area(b) - area(a))
  if (!best) throw damaged('it holds no picture')
  return best
}

/**
 * Decodes a TIFF picture (TIFF 6.0) of grey, RGB or palette colours, 8 or 16 bits or floats, in strips or tiles,
 * its channels together or apart.
 * @throws RawError where it is damaged or of another kind; nothing is decompressed beyond its stated size
 */
export function decodeTiffPicture(bytes: Uint8Array): DisplayPicture {
  const directories = readDirectories(bytes)
  const ifd = largest(directories)
  const width = ifd.required(TAG.ImageWidth, 'how wide the picture is')
  const height = ifd.required(TAG.ImageLength, 'how high the picture is')
  checkSize(width, height)
  const channels = ifd.number(TAG.SamplesPerPixel) ?? 1
  const photometric = ifd.number(TAG.PhotometricInterpretation) ?? 1
  const known = { 0: [1, 2], 1: [1, 2], 2: [3, 4], 3: [1] }[photometric]
  if (!known?.includes(channels)) throw unsupported('its kind of colours')
  const depths = ifd.numbers(TAG.BitsPerSample)
  const bits = depths[0] ?? 1
  const float = ifd.number(TAG.SampleFormat) === 3
  if (depths.some((d) => d !== bits) || !(float ? [16, 32] : [8, 16]).includes(bits))
    throw unsupported(`samples of ${bits} bits${float ? ' with a floating point' : ''}`)
  if (![1, 3, undefined].includes(ifd.number(TAG.SampleFormat))) throw unsupported('its kind of samples')
  const kind = PREDICTORS[(ifd.number(TAG.Predictor) ?? 1) as 1 | 2 | 3]
  if (!kind || (kind === 'float') !== (float && kind !== 'none')) throw unsupported('its kind of prediction')
  const apart = ifd.number(TAG.PlanarConfiguration) === 2 && channels > 1
  const inPart = apart ? 1 : channels
  const storage: Storage = {
    compression: 'none',
    bits,
    float,
    predictor: { kind, stride: 1 },
    samples: inPart as 1 | 3,
    littleEndian: ifd.littleEndian,
  }
  const { tiled, offsets, lengths, w, h } = readGrid(ifd, width, height)
  const across = Math.ceil(width / w)
  const down = Math.ceil(height / h)
  const parts = across * down * (apart ? channels : 1)
  if (offsets.length < parts || lengths.length < parts) throw damaged('parts of the picture are missing')
  const size = width * height * channels
  const data = float ? new Float32Array(size) : bits === 16 ? new Uint16Array(size) : new Uint8Array(size)
  const line = (w * inPart * bits) / 8
  const floats = new Float32Array(w * inPart)
  const compression = ifd.number(TAG.Compression) ?? 1
  for (let i = 0; i < parts; i++) {
    const plane = Math.floor(i / (across * down))
    const x = (i % across) * w
    const y = Math.floor((i % (across * down)) / across) * h
    const rows = tiled ? h : Math.min(h, height - y)
    if (offsets[i] + lengths[i] > bytes.length) throw damaged('it ends before the picture does')
    const source = bytes.subarray(offsets[i], offsets[i] + lengths[i])
    const all = unpack(compression, source, line * rows)
    for (let j = 0; j < Math.min(rows, height - y); j++) {
      const row = undoPrediction(all.subarray(j * line, (j + 1) * line), storage)
      const view = new DataView(row.line.buffer, row.line.byteOffset, row.line.byteLength)
      if (float) toFloats(row.line, bits, row.littleEndian, floats)
      const at = ((y + j) * width + x) * channels
      const count = Math.min(w, width - x) * inPart
      for (let k = 0; k < count; k++) {
        const to = apart ? at + k * channels + plane : at + k
        data[to] = float ? floats[k] : bits === 16 ? view.getUint16(k * 2, row.littleEndian) : row.line[k]
      }
    }
  }
  const icc = ifd.bytes(TAG.IccProfile)
  const metadata = readMetadata(
    directories[0],
    readPointed(bytes, directories[0], TAG.ExifIfd),
    readPointed(bytes, directories[0], TAG.GpsIfd),
  )
  const picture = {
    width,
    height,
    profile: icc.length ? readIcc(icc) : srgbProfile(),
    about: exifDirectory(metadata),
    orientation: metadata.orientation,
  }
  if (photometric === 3) return { ...picture, channels: 3, data: coloured(data, ifd.numbers(320), bits) }
  if (photometric === 0) {
    const top = float ? 1 : bits === 16 ? 65535 : 255
    for (let i = 0; i < size; i += channels) data[i] = top - data[i]
  }
  return { ...picture, channels, data }
}

/** Palette entries to RGB; the map holds all reds, then all greens, then all blues. */
function coloured(data: ArrayLike<number>, map: readonly number[], bits: number): Uint16Array {
  const n = 2 ** bits
  if (map.length < 3 * n) throw damaged('its palette is incomplete')
  const out = new Uint16Array(data.length * 3)
  for (let i = 0; i < data.length; i++) for (let c = 0; c < 3; c++) out[i * 3 + c] = map[c * n + data[i]]
  return out
}
