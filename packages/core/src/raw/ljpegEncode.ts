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
  /** Code tables, up to one for each component: 1 where missing. */
  tables?: number
}

/**
 * Differences of samples from what is predicted, modulo 2^16 (T.81, table H.1). Each predictor has a loop of its own:
 * with one for all of them the call costs more than the sum.
 */
function differences(
  samples: Uint16Array,
  wide: number,
  high: number,
  precision: number,
  components: number,
  predictor: number,
): Int32Array {
  const out = new Int32Array(wide * high)
  const start = 1 << (precision - 1)
  for (let y = 0; y < high; y++) {
    const line = y * wide
    const from = line + components
    const to = line + wide
    for (let i = line; i < from; i++) out[i] = samples[i] - (y === 0 ? start : samples[i - wide])
    const n = components
    switch (y === 0 ? 1 : predictor) {
      case 1:
        for (let i = from; i < to; i++) out[i] = samples[i] - samples[i - n]
        break
      case 2:
        for (let i = from; i < to; i++) out[i] = samples[i] - samples[i - wide]
        break
      case 3:
        for (let i = from; i < to; i++) out[i] = samples[i] - samples[i - wide - n]
        break
      case 4:
        for (let i = from; i < to; i++)
          out[i] = samples[i] - (samples[i - n] + samples[i - wide] - samples[i - wide - n])
        break
      case 5:
        for (let i = from; i < to; i++)
          out[i] = samples[i] - (samples[i - n] + ((samples[i - wide] - samples[i - wide - n]) >> 1))
        break
      case 6:
        for (let i = from; i < to; i++)
          out[i] = samples[i] - (samples[i - wide] + ((samples[i - n] - samples[i - wide - n]) >> 1))
        break
      case 7:
        for (let i = from; i < to; i++) out[i] = samples[i] - ((samples[i - n] + samples[i - wide]) >> 1)
        break
    }
    for (let i = from; i < to; i++) out[i] = (out[i] << 16) >> 16
  }
  return out
}

/** Codes of one component's differences. */
interface CodeTable {
  counts: readonly number[]
  values: readonly number[]
  /** By category. */
  codes: Int32Array
  lengths: Int32Array
}

function codeTable(histogram: ArrayLike<number>): CodeTable {
  const { counts, values } = codeLengths(Array.from(histogram))
  const codes = new Int32Array(17)
  const lengths = new Int32Array(17)
  let code = 0
  let k = 0
  counts.forEach((n, i) => {
    for (let j = 0; j < n; j++) {
      codes[values[k]] = code++
      lengths[values[k++]] = i + 1
    }
    code <<= 1
  })
  return { counts, values, codes, lengths }
}

/** How often each category comes, by table; components share the last of the tables. */
function histograms(all: Int32Array, components: number, tables: number): Int32Array[] {
  const out = Array.from({ length: tables }, () => new Int32Array(17))
  for (let i = 0, c = 0; i < all.length; i++) {
    out[Math.min(c, tables - 1)][category(all[i])]++
    if (++c === components) c = 0
  }
  return out
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
  { components = 2, predictor = 1, joined = 1, tables = 1 }: LosslessLayout = {},
): Uint8Array {
  const wide = width * joined
  const high = height / joined
  const all = differences(samples, wide, high, precision, components, predictor)
  const counted = histograms(all, components, tables)
  const made = counted.map(codeTable)

  const columns = wide / components
  const tableOf = (i: number) => Math.min(i, tables - 1)
  const each = <T>(f: (i: number) => T[]) => Array.from({ length: components }, (_, i) => f(i)).flat()
  const head = [
    ...[0xff, 0xd8],
    ...made.flatMap(({ counts, values }, t) => [0xff, 0xc4, 0, 19 + values.length, t, ...counts, ...values]),
    ...[0xff, 0xc3, 0, 8 + 3 * components, precision, high >> 8, high & 255, columns >> 8, columns & 255],
    ...[components, ...each((i) => [i, 0x11, 0])],
    ...[0xff, 0xda, 0, 6 + 2 * components, components, ...each((i) => [i, tableOf(i) << 4]), predictor, 0, 0],
  ]
  const bits = counted.reduce(
    (sum, histogram, t) =>
      histogram.reduce((s, n, i) => s + n * (made[t].lengths[i] + (i < 16 ? i : 0)), sum),
    0,
  )
  // at worst every byte is one that is escaped
  const out = new Uint8Array(head.length + Math.ceil(bits / 4) + 16)
  out.set(head)
  let at = head.length
  let acc = 0
  let held = 0
  // all tables in one array, 17 places each
  const codes = new Int32Array(17 * components)
  const lengths = new Int32Array(17 * components)
  for (let c = 0; c < components; c++) {
    codes.set(made[tableOf(c)].codes, c * 17)
    lengths.set(made[tableOf(c)].lengths, c * 17)
  }
  const end = components * 17
  for (let i = 0, table = 0; i < all.length; i++) {
    const d = all[i]
    const n = category(d)
    const place = table + n
    table += 17
    if (table === end) table = 0
    // a code has 16 bits at most, a difference too: less than 8 are held before each
    acc = (acc << lengths[place]) | codes[place]
    held += lengths[place]
    while (held >= 8) {
      held -= 8
      const byte = (acc >> held) & 255
      out[at++] = byte
      if (byte === 255) out[at++] = 0
    }
    if (n === 0 || n === 16) continue
    acc = (acc << n) | (d > 0 ? d : d + (1 << n) - 1)
    held += n
    while (held >= 8) {
      held -= 8
      const byte = (acc >> held) & 255
      out[at++] = byte
      if (byte === 255) out[at++] = 0
    }
  }
  // filled up with ones
  if (held > 0) {
    const byte = ((acc << (8 - held)) | ((1 << (8 - held)) - 1)) & 255
    out[at++] = byte
    if (byte === 255) out[at++] = 0
  }
  out[at++] = 0xff
  out[at++] = 0xd9
  return out.slice(0, at)
}

/** Which of some predictors stores samples in the fewest bits, by every eighth line. */
export function bestPredictor(
  samples: Uint16Array,
  wide: number,
  high: number,
  precision: number,
  components: number,
  predictors: readonly number[],
): number {
  const cost = (predictor: number) => {
    let bits = 0
    for (let y = 0; y + 1 < high; y += 8) {
      const lines = samples.subarray(y * wide, (y + 2) * wide)
      const all = differences(lines, wide, 2, precision, components, predictor)
      for (let i = wide; i < all.length; i++) bits += category(all[i])
    }
    return bits
  }
  const costs = predictors.map(cost)
  return predictors[costs.indexOf(Math.min(...costs))]
}
