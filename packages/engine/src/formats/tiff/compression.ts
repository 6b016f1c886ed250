import { damaged, inflate, unsupported } from '@dunkelkammer/core'
import { unLzw, unPackBits } from './lzw'

/** The one whose parts are pictures of their own. */
export const JPEG = 7

/** Compressions that are known by name but not read. */
const NAMES: Readonly<Record<number, string>> = {
  2: 'fax',
  3: 'fax',
  4: 'fax',
  32771: 'fax',
  32809: '4-bit runs',
  33003: 'JPEG 2000',
  33005: 'JPEG 2000',
  34661: 'JBIG',
  34676: 'logarithmic',
  34712: 'JPEG 2000',
  34887: 'LERC',
  34925: 'LZMA',
  50000: 'ZSTD',
  50001: 'WEBP',
  50002: 'JPEG XL',
  52546: 'JPEG XL',
}

const READ = [1, 5, JPEG, 8, 32773, 32946]

/** Whether a picture's compression is one that pictures have, read or not; makers' own ones are others. */
export const isPictureCompression = (kind: number): boolean => READ.includes(kind) || kind in NAMES

/** @throws RawError that names what cannot be read */
export function refuseCompression(kind: number): void {
  if (READ.includes(kind)) return
  throw unsupported(kind in NAMES ? `${NAMES[kind]} compression` : `compression ${kind}`)
}

/** Each byte with its bits the other way round. */
const TURNED = Uint8Array.from({ length: 256 }, (_, v) => {
  let out = 0
  for (let i = 0; i < 8; i++) if (v & (1 << i)) out |= 128 >> i
  return out
})

/**
 * Decompresses a strip or tile to a known size.
 * @param turned whether the first bit of a byte is its lowest (TIFF 6.0, FillOrder 2)
 * @throws RawError where it is damaged or too short
 */
export function unpack(kind: number, source: Uint8Array, size: number, turned: boolean): Uint8Array {
  const data = turned ? source.map((v) => TURNED[v]) : source
  switch (kind) {
    case 5:
      return unLzw(data, size)
    case 8:
    case 32946:
      return inflate(data, size)
    case 32773:
      return unPackBits(data, size)
    default:
      if (data.length < size) throw damaged('a part of the picture is cut off')
      return data.slice(0, size)
  }
}
