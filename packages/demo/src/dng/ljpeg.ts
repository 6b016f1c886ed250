/** Lossless JPEG (ITU-T T.81, process 14) as DNG writers use it. */

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

/** How a stream lays its samples out; the usual way of DNG writers where nothing is said. */
export interface LosslessLayout {
  /** Components of a line: 2 where missing. */
  components?: number
  /** Predictor 1 to 7, 1 where missing. */
  predictor?: number
  /** Rows of the segment that one line of the stream joins: 1 where missing. */
  joined?: number
}

/**
 * Encodes a tile of samples.
 * @param samples width * height values of at most `precision` bits; width * joined a multiple of components
 */
export function encodeLosslessJpeg(
  samples: Uint16Array,
  width: number,
  height: number,
  precision: number,
  { components = 2, predictor = 1, joined = 1 }: LosslessLayout = {},
): Uint8Array {
  const wide = width * joined
  const high = height / joined
  const difference = (x: number, y: number) => {
    const i = y * wide + x
    const start = 1 << (precision - 1)
    if (x < components) return samples[i] - (y === 0 ? start : samples[i - wide])
    const a = samples[i - components]
    if (y === 0 || predictor === 1) return samples[i] - a
    const b = samples[i - wide]
    const c = samples[i - wide - components]
    const guess = [0, a, b, c, a + b - c, a + ((b - c) >> 1), b + ((a - c) >> 1), (a + b) >> 1][predictor]
    // differences are modulo 2^16
    const d = (samples[i] - guess) & 0xffff
    return d > 32768 ? d - 65536 : d
  }
  const histogram = new Array<number>(17).fill(0)
  for (let y = 0; y < high; y++) for (let x = 0; x < wide; x++) histogram[category(difference(x, y))]++
  const { counts, values } = codeLengths(histogram)
  const codes: { code: number; length: number }[] = []
  let code = 0
  let k = 0
  counts.forEach((n, i) => {
    for (let j = 0; j < n; j++) codes[values[k++]] = { code: code++, length: i + 1 }
    code <<= 1
  })

  const columns = wide / components
  const each = <T>(f: (i: number) => T[]) => Array.from({ length: components }, (_, i) => f(i)).flat()
  const head = [
    ...[0xff, 0xd8, 0xff, 0xc4, 0, 19 + values.length, 0, ...counts, ...values],
    ...[0xff, 0xc3, 0, 8 + 3 * components, precision, high >> 8, high & 255, columns >> 8, columns & 255],
    ...[components, ...each((i) => [i, 0x11, 0])],
    ...[0xff, 0xda, 0, 6 + 2 * components, components, ...each((i) => [i, 0]), predictor, 0, 0],
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
  for (let y = 0; y < high; y++)
    for (let x = 0; x < wide; x++) {
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
