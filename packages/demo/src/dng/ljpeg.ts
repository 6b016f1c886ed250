/** Lossless JPEG (ITU-T T.81, process 14), predictor 1, as DNG writers use it: two components a line. */

/** Bits of the difference category: 0 for 0, n for 2^(n-1)..2^n - 1. */
const category = (d: number) => 32 - Math.clz32(Math.abs(d))

/** Code lengths of the best Huffman code of at most 16 bits, by T.81 annex K.2. */
function codeLengths(histogram: readonly number[]): { counts: number[]; values: number[] } {
  const freq = [...histogram, 1] // one code point is reserved, so that no code is all ones
  const size = freq.map(() => 0)
  const others = freq.map(() => -1)
  for (;;) {
    let c1 = -1
    let c2 = -1
    for (let i = 0; i < freq.length; i++) if (freq[i] > 0 && (c1 < 0 || freq[i] <= freq[c1])) c1 = i
    for (let i = 0; i < freq.length; i++)
      if (freq[i] > 0 && i !== c1 && (c2 < 0 || freq[i] <= freq[c2])) c2 = i
    if (c2 < 0) break
    freq[c1] += freq[c2]
    freq[c2] = 0
    let at = c1
    for (;;) {
      size[at]++
      if (others[at] < 0) break
      at = others[at]
    }
    others[at] = c2
    for (at = c2; at >= 0; at = others[at]) size[at]++
  }
  const bits = new Array<number>(33).fill(0)
  for (const s of size) if (s > 0) bits[s]++
  for (let i = 32; i > 16; i--)
    while (bits[i] > 0) {
      let j = i - 2
      while (bits[j] === 0) j--
      bits[i] -= 2
      bits[i - 1]++
      bits[j + 1] += 2
      bits[j]--
    }
  let last = 16
  while (bits[last] === 0) last--
  bits[last]--
  const values: number[] = []
  for (let s = 1; s <= 32; s++) for (let i = 0; i < histogram.length; i++) if (size[i] === s) values.push(i)
  return { counts: bits.slice(1, 17), values }
}

/**
 * Encodes a tile of samples.
 * @param samples width * height values of at most `precision` bits; width even
 */
export function encodeLosslessJpeg(
  samples: Uint16Array,
  width: number,
  height: number,
  precision: number,
): Uint8Array {
  const difference = (x: number, y: number) => {
    const i = y * width + x
    if (x >= 2) return samples[i] - samples[i - 2]
    return y === 0 ? samples[i] - (1 << (precision - 1)) : samples[i] - samples[i - width]
  }
  const histogram = new Array<number>(17).fill(0)
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) histogram[category(difference(x, y))]++
  const { counts, values } = codeLengths(histogram)
  const codes: { code: number; length: number }[] = []
  let code = 0
  let k = 0
  counts.forEach((n, i) => {
    for (let j = 0; j < n; j++) codes[values[k++]] = { code: code++, length: i + 1 }
    code <<= 1
  })

  const columns = width / 2
  const head = [
    0xff,
    0xd8,
    0xff,
    0xc4,
    0,
    19 + values.length,
    0,
    ...counts,
    ...values,
    0xff,
    0xc3,
    0,
    14,
    precision,
    height >> 8,
    height & 255,
    columns >> 8,
    columns & 255,
    2,
    0,
    0x11,
    0,
    1,
    0x11,
    0,
    0xff,
    0xda,
    0,
    10,
    2,
    0,
    0,
    1,
    0,
    1,
    0,
    0,
  ]
  const out = new Uint8Array(head.length + samples.length * 4 + 16)
  out.set(head)
  let at = head.length
  let acc = 0
  let held = 0
  const put = (value: number, length: number) => {
    for (let i = length - 1; i >= 0; i--) {
      acc = (acc << 1) | ((value >>> i) & 1)
      if (++held === 8) {
        out[at++] = acc
        if (acc === 255) out[at++] = 0
        acc = 0
        held = 0
      }
    }
  }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const d = difference(x, y)
      const n = category(d)
      put(codes[n].code, codes[n].length)
      if (n > 0 && n < 16) put(d > 0 ? d : d + (1 << n) - 1, n)
    }
  while (held > 0) put(1, 1)
  out[at++] = 0xff
  out[at++] = 0xd9
  return out.slice(0, at)
}
