import { damaged, type Ifd } from '@dunkelkammer/core'
import { concatenated } from '../bytes'
import type { Codecs } from '../codecs'

/** Tables that all parts of a picture share (TIFF technical note 2). */
const JPEG_TABLES = 347

/** What tells a decoder whether three components are RGB or luma and chroma. */
const colourMark = (transformed: boolean) => {
  // the segment's name, which is a maker's
  const name = [65, 100, 111, 98, 101]
  return Uint8Array.from([0xff, 0xee, 0, 14, ...name, 0, 100, 0, 0, 0, 0, transformed ? 1 : 0])
}

const starts = (b: Uint8Array) => b.length >= 4 && b[0] === 0xff && b[1] === 0xd8

/** Decoder of a picture's strips or tiles that are JPEGs. */
export async function jpegParts(
  ifd: Ifd,
  transformed: boolean,
  codecs: Codecs,
): Promise<(part: Uint8Array, width: number, rows: number, channels: number) => Promise<Uint8Array>> {
  const stored = ifd.bytes(JPEG_TABLES)
  // without the marks of a file's start and end
  const tables = starts(stored) ? stored.subarray(2, stored.length - 2) : new Uint8Array()
  const decode = await codecs.jpeg()
  return async (part, width, rows, channels) => {
    if (!starts(part)) throw damaged('a part of the picture cannot be decompressed')
    const file = concatenated([part.subarray(0, 2), colourMark(transformed), tables, part.subarray(2)])
    const picture = await decode(file.buffer as ArrayBuffer).catch(() => undefined)
    if (!picture || picture.warning !== undefined)
      throw damaged('a part of the picture cannot be decompressed')
    if (picture.width !== width || picture.height < rows)
      throw damaged('a part of the picture has another size than it should')
    const out = new Uint8Array(width * rows * channels)
    for (let i = 0; i < width * rows; i++)
      for (let c = 0; c < channels; c++) out[i * channels + c] = picture.data[i * 4 + c]
    return out
  }
}
