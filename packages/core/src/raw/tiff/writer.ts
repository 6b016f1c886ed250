/** A value to write, by TIFF 6.0 type. */
export type TagValue =
  | { type: 'byte' | 'undefined'; values: ArrayLike<number> }
  | { type: 'ascii'; text: string }
  | { type: 'short' | 'long'; values: readonly number[] }
  | { type: 'rational' | 'srational'; values: readonly (readonly [number, number])[] }
  | { type: 'double'; values: readonly number[] }
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
  srational: 10,
  double: 12,
  directory: 4,
  directories: 4,
} as const

/**
 * Lays directories out, little-endian, from byte `base` of the file on.
 * @returns the bytes; the first directory starts them
 */
export function layOut(first: Directory, base: number): Uint8Array {
  const out: number[] = []
  const place = (dir: Directory): number => {
    const tags = [...dir.keys()].sort((a, b) => a - b)
    const start = out.length
    for (let i = 0; i < 2 + tags.length * 12 + 4; i++) out.push(0)
    set(out, start, tags.length, 2)
    tags.forEach((tag, i) => {
      const value = dir.get(tag)!
      const at = start + 2 + i * 12
      const { count, bytes } = encode(value)
      set(out, at, tag, 2)
      set(out, at + 2, TYPE[value.type], 2)
      set(out, at + 4, count, 4)
      if (bytes.length <= 4) bytes.forEach((b, k) => (out[at + 8 + k] = b))
      else {
        if (out.length % 2) out.push(0)
        set(out, at + 8, base + out.length, 4)
        for (const b of bytes) out.push(b)
      }
    })
    return start
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
        v.values.forEach((n) => push(bytes, n, 4))
        return { count: v.values.length, bytes }
      case 'rational':
      case 'srational':
        v.values.forEach(([p, q]) => (push(bytes, p, 4), push(bytes, q, 4)))
        return { count: v.values.length, bytes }
      case 'double':
        bytes.push(...new Uint8Array(Float64Array.from(v.values).buffer))
        return { count: v.values.length, bytes }
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

function set(out: number[], at: number, value: number, bytes: number): void {
  for (let k = 0; k < bytes; k++) out[at + k] = (value >>> (8 * k)) & 255
}

function push(out: number[], value: number, bytes: number): void {
  for (let k = 0; k < bytes; k++) out.push((value >>> (8 * k)) & 255)
}

/** The eight bytes that start a little-endian TIFF file whose first directory lies at `at`. */
export const tiffHeader = (at: number): Uint8Array => {
  const out = [0x49, 0x49, 42, 0]
  push(out, at, 4)
  return Uint8Array.from(out)
}
