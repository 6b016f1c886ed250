/** A value to write, by TIFF 6.0 type. */
export type TagValue =
  | { type: 'byte' | 'undefined'; values: ArrayLike<number> }
  | { type: 'ascii'; text: string }
  | { type: 'short' | 'long'; values: readonly number[] }
  | { type: 'slong'; values: readonly number[] }
  | { type: 'rational' | 'srational'; values: readonly (readonly [number, number])[] }
  | { type: 'float' | 'double'; values: readonly number[] }
  | { type: 'directory'; entries: Directory }
  | { type: 'directories'; list: readonly Directory[] }

/** Tags and values of a directory. */
export type Directory = Map<number, TagValue>

const TYPE = {
  byte: 1,
  ascii: 2,
  short: 3,
  long: 4,
  rational: 5,
  undefined: 7,
  slong: 9,
  srational: 10,
  float: 11,
  double: 12,
  directory: 4,
  directories: 4,
} as const

const PLAIN = [
  'byte',
  'short',
  'long',
  'rational',
  'undefined',
  'slong',
  'srational',
  'float',
  'double',
] as const

/** The plain kind of value that a TIFF type number stands for; nothing for text and unknown types. */
export const plainType = (code: number): (typeof PLAIN)[number] | undefined =>
  PLAIN.find((name) => TYPE[name] === code)

/**
 * Lays directories out from byte `base` of the file on.
 * @returns the bytes; the first directory starts them
 */
export function layOut(first: Directory, base: number, littleEndian = true): Uint8Array {
  const out: number[] = []
  const set = (at: number, value: number, bytes: number) => {
    for (let k = 0; k < bytes; k++) out[at + k] = (value >>> (8 * (littleEndian ? k : bytes - 1 - k))) & 255
  }
  const push = (to: number[], value: number, bytes: number) => {
    for (let k = 0; k < bytes; k++) to.push((value >>> (8 * (littleEndian ? k : bytes - 1 - k))) & 255)
  }
  const place = (dir: Directory): number => {
    const tags = [...dir.keys()].sort((a, b) => a - b)
    const start = out.length
    for (let i = 0; i < 2 + tags.length * 12 + 4; i++) out.push(0)
    set(start, tags.length, 2)
    tags.forEach((tag, i) => {
      const value = dir.get(tag)!
      const at = start + 2 + i * 12
      const { count, bytes } = encode(value)
      set(at, tag, 2)
      set(at + 2, TYPE[value.type], 2)
      set(at + 4, count, 4)
      if (bytes.length <= 4) bytes.forEach((b, k) => (out[at + 8 + k] = b))
      else {
        if (out.length % 2) out.push(0)
        set(at + 8, base + out.length, 4)
        for (const b of bytes) out.push(b)
      }
    })
    return start
  }
  const floats = (values: readonly number[], size: 4 | 8) => {
    const view = new DataView(new ArrayBuffer(values.length * size))
    values.forEach((v, i) =>
      size === 4 ? view.setFloat32(i * 4, v, littleEndian) : view.setFloat64(i * 8, v, littleEndian),
    )
    return [...new Uint8Array(view.buffer)]
  }
  const encode = (v: TagValue): { count: number; bytes: number[] } => {
    const bytes: number[] = []
    switch (v.type) {
      case 'ascii': {
        const text = [...new TextEncoder().encode(v.text), 0]
        return { count: text.length, bytes: text }
      }
      case 'byte':
      case 'undefined':
        return { count: v.values.length, bytes: Array.from(v.values) }
      case 'short':
        v.values.forEach((n) => push(bytes, n, 2))
        return { count: v.values.length, bytes }
      case 'long':
      case 'slong':
        v.values.forEach((n) => push(bytes, n, 4))
        return { count: v.values.length, bytes }
      case 'rational':
      case 'srational':
        v.values.forEach(([p, q]) => (push(bytes, p, 4), push(bytes, q, 4)))
        return { count: v.values.length, bytes }
      case 'float':
        return { count: v.values.length, bytes: floats(v.values, 4) }
      case 'double':
        return { count: v.values.length, bytes: floats(v.values, 8) }
      case 'directory':
        if (out.length % 2) out.push(0)
        push(bytes, base + place(v.entries), 4)
        return { count: 1, bytes }
      case 'directories':
        for (const d of v.list) {
          if (out.length % 2) out.push(0)
          push(bytes, base + place(d), 4)
        }
        return { count: v.list.length, bytes }
    }
  }
  place(first)
  return Uint8Array.from(out)
}

/** The eight bytes that start a TIFF file whose first directory lies at `at`. */
export function tiffHeader(at: number, littleEndian = true): Uint8Array {
  const out = new Uint8Array(8)
  const view = new DataView(out.buffer)
  view.setUint16(0, littleEndian ? 0x4949 : 0x4d4d)
  view.setUint16(2, 42, littleEndian)
  view.setUint32(4, at, littleEndian)
  return out
}
