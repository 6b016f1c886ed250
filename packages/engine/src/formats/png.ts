import { damaged, readIcc, srgbProfile } from '@dunkelkammer/core'
import { decode } from 'fast-png'
import { checkSize, type DisplayPicture } from './display'
import { aboutOf } from './exif'

/** Content of the first chunk of a name (PNG, 3rd edition, 5.3). */
function chunk(bytes: Uint8Array, name: string): Uint8Array | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  for (let at = 8; at + 12 <= bytes.length;) {
    const size = view.getUint32(at)
    if (String.fromCharCode(...bytes.subarray(at + 4, at + 8)) === name)
      return bytes.subarray(at + 8, at + 8 + size)
    at += 12 + size
  }
  return undefined
}

/** Palette entries to RGB. */
function unpalette(
  data: ArrayLike<number>,
  palette: readonly (readonly number[])[],
  pixels: number,
): Uint8Array {
  const out = new Uint8Array(pixels * 3)
  for (let i = 0; i < pixels; i++) {
    const colour = palette[data[i]] ?? [0, 0, 0]
    for (let c = 0; c < 3; c++) out[i * 3 + c] = colour[c]
  }
  return out
}

/** Samples of 1, 2 or 4 bits as bytes, each line beginning at a byte. */
function unpackBits(data: Uint8Array, width: number, height: number, bits: number): Uint8Array {
  const line = Math.ceil((width * bits) / 8)
  const out = new Uint8Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const bit = x * bits
      out[y * width + x] = (data[y * line + (bit >> 3)] >> (8 - bits - (bit & 7))) & (2 ** bits - 1)
    }
  return out
}

/** Decodes a PNG of any kind. */
export function decodePngPicture(bytes: Uint8Array): DisplayPicture {
  const head = chunk(bytes, 'IHDR')
  if (!head || head.length < 13) throw damaged('it has no header')
  const view = new DataView(head.buffer, head.byteOffset)
  const [width, height] = [view.getUint32(0), view.getUint32(4)]
  checkSize(width, height)
  if (!chunk(bytes, 'IEND')) throw damaged('it ends before the picture does')
  let png
  try {
    png = decode(bytes)
  } catch {
    throw damaged('the picture cannot be decompressed')
  }
  const small = png.depth < 8
  let data: Uint8Array | Uint16Array = png.data as Uint8Array | Uint16Array
  if (small) data = unpackBits(data as Uint8Array, width, height, png.depth)
  let channels: number = png.channels
  if (png.palette) {
    data = unpalette(data, png.palette, width * height)
    channels = 3
  } else if (small) {
    const top = 2 ** png.depth - 1
    data = Uint8Array.from(data, (v) => Math.round((v * 255) / top))
  }
  const icc = png.iccEmbeddedProfile?.profile
  return {
    width,
    height,
    channels,
    data,
    profile: icc ? readIcc(icc) : srgbProfile(),
    ...aboutOf(chunk(bytes, 'eXIf')),
  }
}
