import { concatenated } from '../formats/bytes'
import { crc32 } from './crc'
import { deflateSync } from 'node:zlib'

const latin = (text: string) => Uint8Array.from([...text].map((c) => c.charCodeAt(0)))

function segment(marker: number, body: Uint8Array): Uint8Array {
  const size = body.length + 2
  return concatenated([Uint8Array.of(0xff, marker, size >> 8, size & 255), body])
}

const ICC_CHUNK = 65519

/** What goes into a file beside its picture. */
export interface Beside {
  /** A TIFF file without a picture (Exif 3). */
  exif?: Uint8Array
  icc?: Uint8Array
}

/** Exif (APP1) and the profile (APP2, ICC.1 annex B.4), those that there are, as they stand right behind a JPEG's start. */
export function jpegHead({ exif, icc = new Uint8Array() }: Beside): Uint8Array {
  const count = Math.ceil(icc.length / ICC_CHUNK)
  const profile = Array.from({ length: count }, (_, i) =>
    segment(
      0xe2,
      concatenated([
        latin('ICC_PROFILE\0'),
        Uint8Array.of(i + 1, count),
        icc.slice(i * ICC_CHUNK, (i + 1) * ICC_CHUNK),
      ]),
    ),
  )
  return concatenated([...(exif ? [segment(0xe1, concatenated([latin('Exif\0\0'), exif]))] : []), ...profile])
}

function chunk(name: string, body: Uint8Array): Uint8Array {
  const named = concatenated([latin(name), body])
  const out = new Uint8Array(named.length + 8)
  const view = new DataView(out.buffer)
  view.setUint32(0, body.length)
  out.set(named, 4)
  view.setUint32(4 + named.length, crc32(named))
  return out
}

/** Bytes of a PNG's signature and its IHDR chunk. */
export const PNG_HEAD = 8 + 25

/** The profile (iCCP) and Exif (eXIf), those that there are, as they stand behind a PNG's header. */
export function pngHead({ exif, icc, label }: Beside & { label: string }): Uint8Array {
  const parts: Uint8Array[] = []
  if (icc) parts.push(chunk('iCCP', concatenated([latin(`${label}\0\0`), deflateSync(icc)])))
  if (exif) parts.push(chunk('eXIf', exif))
  return concatenated(parts)
}
