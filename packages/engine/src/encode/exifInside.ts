import type { Extent } from '@dunkelkammer/core'
import { concatenated, viewOf } from '../formats/bytes'
import { readItems } from '../formats/container/items'
import { chunkOf, chunks, textBytes } from '../formats/riff'

/** Flag of a WebP's header that it has Exif, and where the header's flags stand in the file. */
const HAS_EXIF = 0x08
const [HEADER, FLAGS] = [12, 20]

/** The header that a WebP of a picture alone does without. */
function headerOf({ width, height }: Extent): Uint8Array {
  const body = new Uint8Array(10)
  const view = viewOf(body)
  // each less one, in three bytes
  for (const [at, size] of [
    [4, width - 1],
    [7, height - 1],
  ]) {
    view.setUint16(at, size & 65535, true)
    body[at + 2] = size >> 16
  }
  return chunkOf('VP8X', body)
}

/** A WebP file of a size, with its Exif put in place of what it has. */
export function webpWithExif(bytes: Uint8Array, exif: Uint8Array, size: Extent): Uint8Array {
  const parts = [...chunks(bytes, HEADER)].filter((c) => c.name !== 'EXIF')
  const words = parts.filter((c) => c.name === 'XMP ')
  const rest = parts.filter((c) => c.name !== 'XMP ')
  const body = concatenated([
    textBytes('WEBP'),
    ...(rest[0]?.name === 'VP8X' ? [] : [headerOf(size)]),
    ...rest.map((c) => c.whole),
    chunkOf('EXIF', exif),
    ...words.map((c) => c.whole),
  ])
  const out = chunkOf('RIFF', body)
  out[FLAGS] |= HAS_EXIF
  return out
}

/**
 * An AVIF file with its Exif put in place of what it has: at its end, where the table of places then points.
 * @throws Error where it has no place for it
 */
export function avifWithExif(bytes: Uint8Array, exif: Uint8Array): Uint8Array {
  const items = readItems(bytes)
  const id = [...items.kinds].find(([, kind]) => kind.type === 'Exif')?.[0]
  const [extent, ...more] = (id !== undefined && items.places.get(id)) || []
  if (!extent || more.length || extent.stands.offset.size !== 4 || extent.stands.length.size !== 4)
    throw new Error('no place for Exif')
  // how far the block lies behind this number
  const data = concatenated([new Uint8Array(4), exif])
  const head = new Uint8Array(8)
  viewOf(head).setUint32(0, head.length + data.length)
  head.set(textBytes('mdat'), 4)
  const out = concatenated([bytes, head, data])
  const view = viewOf(out)
  view.setUint32(extent.stands.offset.at, bytes.length + head.length - extent.stands.base)
  view.setUint32(extent.stands.length.at, data.length)
  return out
}
