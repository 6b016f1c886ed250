import { writeDng } from '@dunkelkammer/demo'
import type { Kernels } from '../src/kernels/kernels'
import type { Scratch } from '../src/memory'
import { RawError } from '../src/raw'
import { random } from './bench'
import { contents, decodeFile } from './files'

const six = [
  ...[1, 1, 0, 1, 1, 2, 1, 1, 2, 1, 1, 0, 2, 0, 1, 0, 2, 1],
  ...[1, 1, 2, 1, 1, 0, 1, 1, 0, 1, 1, 2, 0, 2, 1, 2, 0, 1],
]
const rgb = Uint16Array.from({ length: 64 * 48 * 3 }, (_, i) => 600 + (i % 900))
const light = Float32Array.from({ length: 64 * 48 }, (_, i) => (i % 100) / 50)
const u32 = (...n: number[]) => n.flatMap((v) => [v >>> 24, (v >> 16) & 255, (v >> 8) & 255, v & 255])

/** Small files of every kind that the reader takes, to be damaged. */
export function seeds(): Uint8Array[] {
  const stored = Uint8Array.from([...u32(1, 5, 0x01030000, 1, 20), ...u32(0, 1, 0, 9, 9)])
  const map = {
    hues: 2,
    saturations: 2,
    levels: 1,
    values: Float32Array.from({ length: 12 }, () => 1),
    encoded: false,
  }
  const list = [
    contents(),
    contents({ compression: 'none', tile: undefined, bigEndian: true, orientation: 6 }),
    contents({ compression: 'none', packed: true, bits: 12, white: 4095, tile: undefined, rowsPerStrip: 5 }),
    contents({ compression: 'deflate', bits: 16, predictor: 2, bigEndian: true }),
    contents({
      compression: 'deflate',
      bits: 24,
      float: true,
      predictor: 3,
      mosaic: light,
      black: 0,
      white: 1,
    }),
    contents({ layout: 'linear', mosaic: rgb, black: 0, lossless: { components: 3, predictor: 6 } }),
    contents({ pattern: six, tile: undefined, opcodes: { stored }, linearisation: [0, 5, 9, 65535] }),
    contents({
      profile: {
        maps: [map],
        look: map,
        toneCurve: [
          [0, 0],
          [1, 1],
        ],
      },
      makerNote: Uint8Array.of(1, 2, 3, 4, 5, 6),
      preview: { jpeg: Uint8Array.of(0xff, 0xd8, 1, 2, 0xff, 0xd9), width: 6, height: 4 },
    }),
  ]
  return list.map(writeDng)
}

const ODD = [0, 1, 2, 0x7f, 0x80, 0xff]

/** A damaged copy: bytes, words or runs replaced, parts cut out, moved or repeated. */
export function mutate(seed: Uint8Array, next: () => number): Uint8Array {
  let out = seed.slice()
  const place = () => Math.floor(next() * out.length)
  for (let k = 0; k < 1 + Math.floor(next() * 4); k++) {
    const kind = next()
    const at = place()
    if (kind < 0.4) out[at] = next() < 0.5 ? ODD[Math.floor(next() * 6)] : Math.floor(next() * 256)
    else if (kind < 0.65) {
      // a whole number where one is likely to stand
      const value = [0, 1, 0xffffffff, 0x7fffffff, out.length, Math.floor(next() * 2 ** 32)][
        Math.floor(next() * 6)
      ]
      const even = at & ~1
      for (let i = 0; i < 4 && even + i < out.length; i++) out[even + i] = (value >>> (8 * i)) & 255
    } else if (kind < 0.75) out.fill(Math.floor(next() * 256), at, at + Math.floor(next() * 64))
    else if (kind < 0.85) out = out.slice(0, Math.max(at, 4))
    else if (kind < 0.93) out.copyWithin(at, place(), place())
    else out = Uint8Array.from([...out.subarray(0, at), ...out.subarray(place())])
    if (out.length === 0) return Uint8Array.of(0)
  }
  return out
}

export interface FuzzCount {
  read: number
  refused: number
}

/**
 * Reads damaged files, each to the end.
 * @throws what is no sentence for the user, with the number of the mutant that brought it about
 */
export function fuzz(kernels: Kernels, scratch: Scratch, from: number, to: number): FuzzCount {
  const originals = seeds()
  const count = { read: 0, refused: 0 }
  for (let i = from; i < to; i++) {
    const broken = mutate(originals[i % originals.length], random(i + 1))
    scratch.release()
    try {
      decodeFile(kernels, scratch, broken)
      count.read++
    } catch (error) {
      if (!(error instanceof RawError)) throw new Error(`mutant ${i}: ${String(error)}`, { cause: error })
      count.refused++
    }
  }
  return count
}
