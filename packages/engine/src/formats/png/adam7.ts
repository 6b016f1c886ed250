import { damaged, inflate } from '@dunkelkammer/core'
import { concatenated } from '../bytes'
import { unpackBits } from './bits'

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

/** What a filter makes of the bytes before, above, and above that before (9.2). */
function predicted(kind: number, a: number, b: number, c: number): number {
  switch (kind) {
    case 0:
      return 0
    case 1:
      return a
    case 2:
      return b
    case 3:
      return (a + b) >> 1
    case 4:
      return paeth(a, b, c)
    default:
      throw damaged('the picture cannot be decompressed')
  }
}

function paeth(a: number, b: number, c: number): number {
  const p = a + b - c
  const [pa, pb, pc] = [Math.abs(p - a), Math.abs(p - b), Math.abs(p - c)]
  return pa <= pb && pa <= pc ? a : pb <= pc ? b : c
}

/** Undoes a line's filter in place; with less than 8 bits a pixel its neighbour is the byte before. */
function unfilter(kind: number, line: Uint8Array, above: Uint8Array): void {
  let [before, aboveBefore] = [0, 0]
  for (let i = 0; i < line.length; i++) {
    line[i] += predicted(kind, before, above[i], aboveBefore)
    before = line[i]
    aboveBefore = above[i]
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
  // what is read has at least 16 pixels to a side: no pass is empty
  const passes = PASSES.map(([x, y, dx, dy]) => {
    const [w, h] = [Math.ceil((width - x) / dx), Math.ceil((height - y) / dy)]
    return { x, y, dx, dy, w, h, line: Math.ceil((w * bits) / 8) }
  })
  const data = inflate(
    concatenated(parts),
    passes.reduce((n, { h, line }) => n + h * (line + 1), 0),
  )
  const out = new Uint8Array(width * height)
  let at = 0
  for (const { x, y, dx, dy, w, h, line } of passes) {
    let above: Uint8Array = new Uint8Array(line)
    for (let j = 0; j < h; j++) {
      const own = data.subarray(at + 1, at + 1 + line)
      unfilter(data[at], own, above)
      unpackBits(own, w, 1, bits).forEach((v, i) => (out[(y + j * dy) * width + x + i * dx] = v))
      above = own
      at += line + 1
    }
  }
  return out
}
