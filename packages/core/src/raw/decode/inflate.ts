import { Unzlib } from 'fflate'
import { damaged } from '../error'

/** Bytes given to the decompressor at once: what it can make of them stays bounded. */
const PIECE = 8192

/**
 * Decompresses zlib data to a known size and not a byte more, whatever the data would grow to.
 * @throws RawError where they are damaged or too short
 */
export function inflate(data: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size)
  let at = 0
  const stream = new Unzlib((chunk) => {
    if (at < size) out.set(chunk.length > size - at ? chunk.subarray(0, size - at) : chunk, at)
    at = Math.min(at + chunk.length, size)
  })
  try {
    for (let i = 0; i < data.length && at < size; i += PIECE)
      stream.push(data.slice(i, i + PIECE), i + PIECE >= data.length)
  } catch {
    throw damaged('a part of the picture cannot be decompressed')
  }
  if (at < size) throw damaged('a part of the picture is cut off')
  return out
}
