import { damaged, RawError } from '../error'

const TYPE_BYTES: Readonly<Record<number, number>> = {
  1: 1,
  2: 1,
  3: 2,
  4: 4,
  5: 8,
  6: 1,
  7: 1,
  8: 2,
  9: 4,
  10: 8,
  11: 4,
  12: 8,
  13: 4,
  16: 8,
  17: 8,
  18: 8,
}
const MAX_ENTRIES = 1000
const MAX_VALUES = 1 << 20

interface Entry {
  type: number
  count: number
  at: number
}

/** Sizes of a directory's parts in bytes: of TIFF 6.0, and of BigTIFF, whose addresses have 64 bits. */
const PLAIN = { count: 2, entry: 12, word: 4 } as const
const BIG = { count: 8, entry: 20, word: 8 } as const

/** One image file directory; values are read and checked when asked for. */
export class Ifd {
  private readonly entries = new Map<number, Entry>()
  /** Address of the next directory, 0 at the end. */
  readonly next: number

  /**
   * @param big whether the file is a BigTIFF
   * @throws RawError where the directory does not lie inside the file
   */
  constructor(
    private readonly view: DataView,
    readonly littleEndian: boolean,
    at: number,
    readonly big = false,
  ) {
    const parts = big ? BIG : PLAIN
    const word = (from: number) => (big ? this.long8(from) : view.getUint32(from, littleEndian))
    if (at < 8 || at + parts.count > view.byteLength) throw damaged('a directory lies outside it')
    const count = big ? this.long8(at) : view.getUint16(at, littleEndian)
    const first = at + parts.count
    if (count > MAX_ENTRIES || first + count * parts.entry + parts.word > view.byteLength)
      throw damaged('a directory is longer than the file')
    for (let i = 0; i < count; i++) {
      const e = first + i * parts.entry
      const type = view.getUint16(e + 2, littleEndian)
      const n = word(e + 4)
      const bytes = (TYPE_BYTES[type] ?? 0) * n
      if (bytes === 0) continue
      const value = e + 4 + parts.word
      const data = bytes <= parts.word ? value : word(value)
      this.entries.set(view.getUint16(e, littleEndian), { type, count: n, at: data })
    }
    this.next = word(first + count * parts.entry)
  }

  has(tag: number): boolean {
    return this.entries.has(tag)
  }

  /**
   * All numbers of a tag; rationals as quotients. Empty where the tag is missing.
   * @throws RawError where they lie outside the file
   */
  numbers(tag: number): number[] {
    const e = this.entries.get(tag)
    if (!e) return []
    if (e.count > MAX_VALUES || e.at + e.count * TYPE_BYTES[e.type] > this.view.byteLength)
      throw damaged(`the values of tag ${tag} lie outside it`)
    const out = new Array<number>(e.count)
    for (let i = 0; i < e.count; i++) out[i] = this.value(e.type, e.at + i * TYPE_BYTES[e.type])
    return out
  }

  /** Numerators and denominators of a tag of rationals, one after the other. */
  pairs(tag: number): number[] {
    const e = this.entries.get(tag)
    if (!e) return []
    if (e.count > MAX_VALUES || e.at + e.count * 8 > this.view.byteLength)
      throw damaged(`the values of tag ${tag} lie outside it`)
    const half = e.type === 10 ? 9 : 4
    return Array.from({ length: e.count * 2 }, (_, i) => this.value(half, e.at + i * 4))
  }

  number(tag: number): number | undefined {
    return this.numbers(tag)[0]
  }

  /** @throws RawError where the tag is missing */
  required(tag: number, what: string): number {
    const v = this.number(tag)
    if (v === undefined) throw damaged(`it does not say ${what}`)
    return v
  }

  /**
   * A tag's values as bytes of the file, for what has a structure of its own. Empty where the tag is missing.
   * @throws RawError where they lie outside the file
   */
  bytes(tag: number): Uint8Array {
    const e = this.entries.get(tag)
    if (!e) return new Uint8Array()
    const length = e.count * TYPE_BYTES[e.type]
    if (e.at + length > this.view.byteLength) throw damaged(`the values of tag ${tag} lie outside it`)
    return new Uint8Array(this.view.buffer, this.view.byteOffset + e.at, length)
  }

  /** Tags in it with their TIFF types and counts of values. */
  tags(): { tag: number; type: number; count: number }[] {
    return [...this.entries].map(([tag, { type, count }]) => ({ tag, type, count }))
  }

  /** Text up to the first NUL, trimmed. */
  text(tag: number): string | undefined {
    const e = this.entries.get(tag)
    if (!e || e.type !== 2) return undefined
    const codes = this.numbers(tag)
    const end = codes.indexOf(0)
    const bytes = Uint8Array.from(end < 0 ? codes : codes.slice(0, end))
    return new TextDecoder().decode(bytes).trim() || undefined
  }

  /** Beyond 2^53 the number is not exact, and beyond any file. */
  private long8(at: number): number {
    return Number(this.view.getBigUint64(at, this.littleEndian))
  }

  private value(type: number, at: number): number {
    const { view, littleEndian: le } = this
    switch (type) {
      case 1:
      case 2:
      case 7:
        return view.getUint8(at)
      case 3:
        return view.getUint16(at, le)
      case 4:
      case 13:
        return view.getUint32(at, le)
      case 5:
        return view.getUint32(at, le) / view.getUint32(at + 4, le)
      case 6:
        return view.getInt8(at)
      case 8:
        return view.getInt16(at, le)
      case 9:
        return view.getInt32(at, le)
      case 10:
        return view.getInt32(at, le) / view.getInt32(at + 4, le)
      case 11:
        return view.getFloat32(at, le)
      case 16:
      case 17:
      case 18:
        return this.long8(at)
      default:
        return view.getFloat64(at, le)
    }
  }
}

/**
 * Directories of a TIFF or BigTIFF file: the chain and, one level down, their SubIFDs, each once.
 * @throws RawError where it is none, or damaged
 */
export function readDirectories(bytes: Uint8Array): Ifd[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const mark = bytes.length >= 8 ? view.getUint16(0) : 0
  const littleEndian = mark === 0x4949
  const version = mark ? view.getUint16(2, littleEndian) : 0
  // BigTIFF says that its addresses have 8 bytes, and a zero after that
  const big =
    version === 43 && bytes.length >= 16 && view.getUint32(4, littleEndian) === (littleEndian ? 8 : 8 << 16)
  if ((!littleEndian && mark !== 0x4d4d) || (version !== 42 && !big))
    throw new RawError('not-raw', 'This is not a raw file in DNG format.')
  const seen = new Set<number>()
  const found: Ifd[] = []
  const open = (at: number): Ifd | undefined => {
    if (seen.has(at) || seen.size > 64) return undefined
    seen.add(at)
    const ifd = new Ifd(view, littleEndian, at, big)
    found.push(ifd)
    return ifd
  }
  const start = big ? Number(view.getBigUint64(8, littleEndian)) : view.getUint32(4, littleEndian)
  for (let at = start; at !== 0;) {
    const ifd = open(at)
    if (!ifd) break
    for (const sub of ifd.numbers(330).slice(0, 16)) open(sub)
    at = ifd.next
  }
  return found
}

/** A directory that another one points to (Exif). */
export function readPointed(bytes: Uint8Array, from: Ifd, tag: number): Ifd | undefined {
  const at = from.number(tag)
  // a pointer out of the file loses the camera's notes, not the picture
  if (at === undefined || !(at >= 8 && at + 2 <= bytes.length)) return undefined
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  return new Ifd(view, from.littleEndian, at, from.big)
}
