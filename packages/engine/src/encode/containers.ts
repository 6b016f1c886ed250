import { crc32 } from './crc'
import { deflateSync } from 'node:zlib'

const latin = (text: string) => Uint8Array.from([...text].map((c) => c.charCodeAt(0)))

function join(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((n, p) => n + p.length, 0))
  let at = 0
  for (const p of parts) {
    out.set(p, at)
    at += p.length
  }
  return out
}

function segment(marker: number, body: Uint8Array): Uint8Array {
  const size = body.length + 2
  return join([Uint8Array.of(0xff, marker, size >> 8, size & 255), body])
}

const ICC_CHUNK = 65519

/** Puts Exif (APP1) and the profile (APP2, ICC.1 annex B.4) right behind a JPEG's start. */
export function withJpegMetadata(
  jpeg: Uint8Array,
  exif: Uint8Array,
  icc: Uint8Array = new Uint8Array(),
): Uint8Array {
  const count = Math.ceil(icc.length / ICC_CHUNK)
  const profile = Array.from({ length: count }, (_, i) =>
    segment(
      0xe2,
      join([
        latin('ICC_PROFILE\0'),
        Uint8Array.of(i + 1, count),
        icc.slice(i * ICC_CHUNK, (i + 1) * ICC_CHUNK),
      ]),
    ),
  )
  return join([jpeg.slice(0, 2), segment(0xe1, join([latin('Exif\0\0'), exif])), ...profile, jpeg.slice(2)])
}

function chunk(name: string, body: Uint8Array): Uint8Array {
  const named = join([latin(name), body])
  const out = new Uint8Array(named.length + 8)
  const view = new DataView(out.buffer)
  view.setUint32(0, body.length)
  out.set(named, 4)
  view.setUint32(4 + named.length, crc32(named))
  return out
}

/** Bytes of a PNG's signature and its IHDR chunk. */
const PNG_HEAD = 8 + 25

/** Puts the profile (iCCP), where there is one, and Exif (eXIf) behind a PNG's header. */
export function withPngMetadata(
  png: Uint8Array,
  exif: Uint8Array,
  icc: Uint8Array | undefined,
  label: string,
): Uint8Array {
  const profile = icc ? [chunk('iCCP', join([latin(`${label}\0\0`), deflateSync(icc)]))] : []
  return join([png.slice(0, PNG_HEAD), ...profile, chunk('eXIf', exif), png.slice(PNG_HEAD)])
}
