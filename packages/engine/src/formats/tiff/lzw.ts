import { damaged } from '@dunkelkammer/core'

const CLEAR = 256
const END = 257

/**
 * Decompresses a strip or tile of a TIFF file (TIFF 6.0, section 13) to a known size and not a byte more.
 * @throws RawError where it is damaged or too short
 */
export function unLzw(data: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size)
  // an entry is its last byte and the entry before it
  const before = new Uint16Array(4096)
  const last = new Uint8Array(4096)
  const length = new Uint16Array(4096)
  for (let i = 0; i < 256; i++) {
    last[i] = i
    length[i] = 1
  }
  let next = 258
  let bits = 9
  let previous = -1
  let held = 0
  let holding = 0
  let from = 0
  let at = 0
  while (at < size) {
    while (holding < bits) {
      if (from >= data.length) throw damaged('a part of the picture is cut off')
      held = ((held << 8) | data[from++]) & 0xffffff
      holding += 8
    }
    const code = (held >> (holding - bits)) & ((1 << bits) - 1)
    holding -= bits
    if (code === END) break
    if (code === CLEAR) {
      next = 258
      bits = 9
      previous = -1
      continue
    }
    if (code > next || (previous < 0 && code > 255))
      throw damaged('a part of the picture cannot be decompressed')
    const known = code < next
    let entry = known ? code : previous
    const count = length[entry] + (known ? 0 : 1)
    let write = at + count - 1
    if (!known) write--
    let first = 0
    for (let k = length[entry]; k > 0; k--, write--) {
      first = last[entry]
      if (write < size) out[write] = first
      entry = before[entry]
    }
    if (!known && at + count - 1 < size) out[at + count - 1] = first
    if (previous >= 0 && next < 4096) {
      before[next] = previous
      last[next] = first
      length[next] = length[previous] + 1
      next++
    }
    // the code grows one early, as the standard asks
    bits = next >= 2047 ? 12 : next >= 1023 ? 11 : next >= 511 ? 10 : 9
    previous = code
    at += count
  }
  if (at < size) throw damaged('a part of the picture is cut off')
  return out
}

/** Runs of bytes (TIFF 6.0, section 9). */
export function unPackBits(data: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size)
  let at = 0
  for (let from = 0; at < size;) {
    if (from + 1 >= data.length) throw damaged('a part of the picture is cut off')
    const n = (data[from++] << 24) >> 24
    if (n === -128) continue
    if (n >= 0) {
      out.set(data.subarray(from, from + Math.min(n + 1, size - at)), at)
      from += n + 1
      at += n + 1
    } else {
      out.fill(data[from++], at, Math.min(at + 1 - n, size))
      at += 1 - n
    }
  }
  return out
}
