import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'

/** A picture as the raw decoding library gives it. */
export interface LibraryImage {
  width: number
  height: number
  colors: number
  bits: number
  data: Uint8Array | Uint16Array
}

export interface Library {
  open(bytes: Uint8Array, settings: object): Promise<void>
  imageData(): Promise<LibraryImage>
  rawImageData(): Promise<unknown>
  delete?(): void
}

/** The raw decoding library, for comparison only. */
export async function library(): Promise<new () => Library> {
  const wasm = createRequire(import.meta.url)
    .resolve('libraw-wasm')
    .replace(/index\.js$/, 'libraw.wasm')
  const path = wasm.replace(/\.wasm$/, '.js')
  const { default: factory } = await import(path)
  return (await factory({ wasmBinary: readFileSync(wasm) })).LibRaw
}
