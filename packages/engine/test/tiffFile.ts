/** An entry of a directory: its type (TIFF 6.0) and values, or bytes as they are. */
export type TiffEntry = readonly [tag: number, type: 1 | 3 | 4 | 7, values: readonly number[] | Uint8Array]

export interface TiffPage {
  entries: readonly TiffEntry[]
  /** Parts of the picture; their places and lengths are entered as strips, or as tiles. */
  parts: readonly Uint8Array[]
  tiled?: boolean
}

const SIZES = { 1: 1, 3: 2, 4: 4, 7: 1, 16: 8 } as const

/** A TIFF file by its directories, or a BigTIFF; for tests of what no library at hand writes. */
export function tiffFile(
  pages: readonly TiffPage[],
  { big = false, littleEndian = true }: { big?: boolean; littleEndian?: boolean } = {},
): Uint8Array {
  const out = Buffer.alloc(1 << 20)
  const view = new DataView(out.buffer, out.byteOffset)
  const u16 = (at: number, v: number) => view.setUint16(at, v, littleEndian)
  const word = (at: number, v: number) =>
    big ? view.setBigUint64(at, BigInt(v), littleEndian) : view.setUint32(at, v, littleEndian)
  const wordSize = big ? 8 : 4
  out.write(littleEndian ? 'II' : 'MM', 0, 'latin1')
  u16(2, big ? 43 : 42)
  if (big) u16(4, 8)
  let link = big ? 8 : 4
  let end = big ? 16 : 8
  for (const { entries, parts, tiled } of pages) {
    const starts = parts.map((part) => {
      const at = end
      out.set(part, at)
      end += part.length + (part.length & 1)
      return at
    })
    const all = [
      ...entries,
      [tiled ? 324 : 273, big ? 16 : 4, starts] as const,
      [tiled ? 325 : 279, 4, parts.map((p) => p.length)] as const,
    ].sort((a, b) => a[0] - b[0])
    word(link, end)
    let at = end
    if (big) word(at, all.length)
    else u16(at, all.length)
    at += big ? 8 : 2
    const size = 4 + 2 * wordSize
    link = at + all.length * size
    end = link + wordSize
    for (const [tag, type, values] of all) {
      u16(at, tag)
      u16(at + 2, type)
      word(at + 4, values.length)
      const room = values.length * SIZES[type]
      let to = at + 4 + wordSize
      if (room > wordSize) {
        word(to, end)
        to = end
        end += room + (room & 1)
      }
      for (const v of values) {
        if (type === 16) view.setBigUint64(to, BigInt(v), littleEndian)
        else if (type === 4) view.setUint32(to, v, littleEndian)
        else if (type === 3) u16(to, v)
        else out[to] = v
        to += SIZES[type]
      }
      at += size
    }
  }
  return new Uint8Array(out.subarray(0, end))
}
