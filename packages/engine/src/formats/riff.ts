import { concatenated, viewOf } from './bytes'

export interface Chunk {
  name: string
  /** With its name and size, and what fills it up to an even length. */
  whole: Uint8Array
  body: Uint8Array
}

/** Chunks of a RIFF file or of a part of one (WebP container specification). */
export function* chunks(bytes: Uint8Array, from: number): Generator<Chunk> {
  const view = viewOf(bytes)
  for (let at = from; at + 8 <= bytes.length;) {
    const size = view.getUint32(at + 4, true)
    const end = at + 8 + size + (size & 1)
    yield {
      name: String.fromCharCode(...bytes.subarray(at, at + 4)),
      whole: bytes.subarray(at, end),
      body: bytes.subarray(at + 8, at + 8 + size),
    }
    at = end
  }
}

export const textBytes = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0))

/** A chunk, filled up to an even length. */
export function chunkOf(name: string, body: Uint8Array): Uint8Array {
  const size = new Uint8Array(4)
  viewOf(size).setUint32(0, body.length, true)
  return concatenated([textBytes(name), size, body, new Uint8Array(body.length & 1)])
}
