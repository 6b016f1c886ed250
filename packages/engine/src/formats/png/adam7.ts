import { damaged, inflate } from '@dunkelkammer/core'

/** Where each pass begins, and its steps (PNG, 3rd edition, 8.1). */
const PASSES = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
] as const

function paeth(a: number, b: number, c: number): number {
  const p = a + b - c
  const [pa, pb, pc] = [Math.abs(p - a), Math.abs(p - b), Math.abs(p - c)]
  return pa <= pb && pa <= pc ? a : pb <= pc ? b : c
}

/** Undoes a line's filter in place (9.2); with less than 8 bits a pixel its neighbour is the byte before. */
function unfilter(kind: number, line: Uint8Array, above: Uint8Array): void {
  for (let i = 0; i < line.length; i++) {
    const [a, b, c] = [i > 0 ? line[i - 1] : 0, above[i], i > 0 ? above[i - 1] : 0]
    const predicted = [0, a, b, (a + b) >> 1, paeth(a, b, c)][kind]
    if (predicted === undefined) throw damaged('the picture cannot be decompressed')
    line[i] += predicted
  }
}

/**
 * Samples of an interlaced picture of one channel with 1, 2 or 4 bits.
 * @param parts contents of its IDAT chunks
 * @returns a byte a sample
 */
export function deinterlaced(
  parts: readonly Uint8Array[],
  width: number,
  height: number,
  bits: number,
): Uint8Array {
  const packed = new Uint8Array(parts.reduce((n, p) => n + p.length, 0))
  parts.reduce((at, p) => (packed.set(p, at), at + p.length), 0)
  // what is read has at least 16 pixels to a side: no pass is empty
  const passes = PASSES.map(([x, y, dx, dy]) => {
    const [w, h] = [Math.ceil((width - x) / dx), Math.ceil((height - y) / dy)]
    return { x, y, dx, dy, w, h, line: Math.ceil((w * bits) / 8) }
  })
  const data = inflate(
    packed,
    passes.reduce((n, { h, line }) => n + h * (line + 1), 0),
  )
  const out = new Uint8Array(width * height)
  let at = 0
  for (const { x, y, dx, dy, w, h, line } of passes) {
    let above: Uint8Array = new Uint8Array(line)
    for (let j = 0; j < h; j++) {
      const own = data.subarray(at + 1, at + 1 + line)
      unfilter(data[at], own, above)
      for (let i = 0; i < w; i++) {
        const bit = i * bits
        out[(y + j * dy) * width + x + i * dx] = (own[bit >> 3] >> (8 - bits - (bit & 7))) & (2 ** bits - 1)
      }
      above = own
      at += line + 1
    }
  }
  return out
}
