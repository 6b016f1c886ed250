// Lossless JPEG (ITU-T T.81 annex H): the entropy-coded scan. Headers are read in TypeScript.

/** Nothing is read beyond this address; past it the bits are zero and `overrun` counts. */
let end: usize = 0
let cursor: usize = 0
let bits: u64 = 0
let held: i32 = 0
let overrun: i32 = 0

// @ts-ignore: decorator
@inline function fill(): void {
  while (held <= 48) {
    let b: u64 = 0
    if (cursor < end) {
      b = load<u8>(cursor)
      if (b == 0xff) {
        // a stuffed zero follows a data byte of 255; anything else is a marker, where the scan ends
        if (cursor + 1 < end && load<u8>(cursor + 1) == 0) cursor += 2
        else { b = 0; end = cursor; overrun++ }
      } else cursor++
    } else overrun++
    bits |= b << (56 - held)
    held += 8
  }
}

const FAST = 12

/**
 * Builds the decoding table of one Huffman code at `table` (2^12 u16 quick entries: length << 8 | value; then
 * from byte 8192: 17 i32 largest code of each length, 17 i32 value offsets, 256 u8 values).
 * @returns 0, or 1 where the code is over-full
 */
export function ljpeg_table(counts: usize, values: usize, table: usize): i32 {
  const largest = table + 8192
  const offsets = largest + 68
  const vals = offsets + 68
  memory.fill(table, 0, 8192)
  let code: i32 = 0
  let k: i32 = 0
  for (let length = 1; length <= 16; length++) {
    const n = <i32>load<u8>(counts + length - 1)
    store<i32>(offsets + (<usize>length << 2), k - code)
    for (let i = 0; i < n; i++) {
      if (k > 255 || code >= 1 << length) return 1
      const value = load<u8>(values + k)
      store<u8>(vals + k, value)
      if (length <= FAST) {
        const first = code << (FAST - length)
        for (let j = 0; j < 1 << (FAST - length); j++) {
          store<u16>(table + (<usize>(first + j) << 1), <u16>((length << 8) | value))
        }
      }
      k++
      code++
    }
    store<i32>(largest + (<usize>length << 2), n > 0 ? code - 1 : -1)
    code <<= 1
  }
  return 0
}

// @ts-ignore: decorator
@inline function difference(table: usize): i32 {
  if (held < 32) fill()
  const quick = load<u16>(table + (<usize>(bits >> (64 - FAST)) << 1))
  let length = <i32>(quick >> 8)
  let size = <i32>(quick & 0xff)
  if (length == 0) {
    const largest = table + 8192
    const offsets = largest + 68
    const vals = offsets + 68
    length = FAST + 1
    while (length <= 16) {
      const code = <i32>(bits >> (64 - length))
      const top = load<i32>(largest + (<usize>length << 2))
      if (top >= 0 && code <= top) {
        size = load<u8>(vals + (code + load<i32>(offsets + (<usize>length << 2))))
        break
      }
      length++
    }
    if (length > 16) { overrun += 1000; return 0 }
  }
  bits <<= length
  held -= length
  if (size == 0) return 0
  if (size >= 16) return 32768
  if (held < size) fill()
  const raw = <i32>(bits >> (64 - size))
  bits <<= size
  held -= size
  return raw < 1 << (size - 1) ? raw - (1 << size) + 1 : raw
}

/**
 * The common case, left neighbour as prediction and one or two components: all state in locals, whole words read
 * where no byte of them is 255. Carries on from and leaves its state in the globals, a line at a time.
 */
function quick_line(tables: usize, components: i32, wide: i32, previous: usize, current: usize, first: i32): void {
  let at = cursor
  const stop = end
  let b = bits
  let n = held
  const second = tables + (components == 2 ? <usize>8584 : 0)
  let left0 = first >= 0 ? first : <i32>load<u16>(previous)
  let left1 = first >= 0 ? first : <i32>load<u16>(previous, 2)
  for (let i = 0; i < wide; i++) {
    const odd = components == 2 && (i & 1) != 0
    const table = odd ? second : tables
    if (n < 32) {
      const word = at + 4 <= stop ? load<u32>(at) : <u32>0xffffffff
      const turned = ~word
      if (((turned - 0x01010101) & ~turned & 0x80808080) == 0) {
        b |= <u64>bswap<u32>(word) << (32 - n)
        n += 32
        at += 4
      } else {
        cursor = at
        bits = b
        held = n
        fill()
        at = cursor
        b = bits
        n = held
      }
    }
    const quick = <i32>load<u16>(table + (<usize>(b >> (64 - FAST)) << 1))
    const length = quick >> 8
    const size = quick & 0xff
    let d = 0
    if (length != 0 && size < 16) {
      // a code of up to 12 and a difference of up to 15 bits lie within the 32 that are there
      b <<= length
      if (size != 0) {
        const raw = <i32>(b >> (64 - size))
        b <<= size
        d = raw < 1 << (size - 1) ? raw - (1 << size) + 1 : raw
      }
      n -= length + size
    } else {
      cursor = at
      bits = b
      held = n
      d = difference(table)
      at = cursor
      b = bits
      n = held
    }
    if (odd) {
      left1 = (left1 + d) & 0xffff
      store<u16>(current + (<usize>i << 1), <u16>left1)
    } else {
      left0 = (left0 + d) & 0xffff
      store<u16>(current + (<usize>i << 1), <u16>left0)
    }
  }
  cursor = at
  bits = b
  held = n
}

/**
 * Decodes one scan of `rows` lines of `columns` x `components` samples into 16-bit samples at `dst`, lines
 * `dstStride` samples apart; only the first `keepW` samples of a line and `keepH` lines are stored.
 * @param tables one decoding table (8584 bytes apart) for each component
 * @param line two lines of columns * components u16 as scratch
 * @returns 0, 1 where the data end too early or are damaged
 */
export function ljpeg_scan(
  data: usize, length: i32, tables: usize, components: i32, columns: i32, rows: i32,
  predictor: i32, precision: i32, line: usize, dst: usize, dstStride: i32, keepW: i32, keepH: i32,
): i32 {
  cursor = data
  end = data + length
  bits = 0
  held = 0
  overrun = 0
  const wide = columns * components
  let previous = line
  let current = line + (<usize>wide << 1)
  const quick = predictor == 1 && components <= 2
  for (let y = 0; y < rows; y++) {
    if (quick) quick_line(tables, components, wide, previous, current, y == 0 ? 1 << (precision - 1) : -1)
    else for (let i = 0; i < wide; i++) {
      const c = components == 1 ? 0 : i % components
      let guess: i32
      if (i < components) {
        guess = y == 0 ? 1 << (precision - 1) : <i32>load<u16>(previous + (<usize>i << 1))
      } else {
        const a = <i32>load<u16>(current + (<usize>(i - components) << 1))
        if (y == 0 || predictor == 1) guess = a
        else {
          const b = <i32>load<u16>(previous + (<usize>i << 1))
          const d = <i32>load<u16>(previous + (<usize>(i - components) << 1))
          switch (predictor) {
            case 2: { guess = b; break }
            case 3: { guess = d; break }
            case 4: { guess = a + b - d; break }
            case 5: { guess = a + ((b - d) >> 1); break }
            case 6: { guess = b + ((a - d) >> 1); break }
            default: { guess = (a + b) >> 1; break }
          }
        }
      }
      store<u16>(current + (<usize>i << 1), <u16>(guess + difference(tables + <usize>c * 8584)))
    }
    if (y < keepH) memory.copy(dst + (<usize>(y * dstStride) << 1), current, <usize>min(wide, keepW) << 1)
    // eight bytes may be read ahead of the last code; more than that missing means a cut-off scan
    if (overrun > 16) return 1
    const swap = previous
    previous = current
    current = swap
  }
  // a sound scan ends at a marker, just ahead of what has been read; data left over mean that bits went astray
  if (overrun == 0) {
    const limit = min(end - 1, cursor + 16)
    while (cursor < limit) {
      if (load<u8>(cursor) == 0xff && load<u8>(cursor + 1) == 0xd9) return 0
      cursor++
    }
    return 1
  }
  return 0
}
