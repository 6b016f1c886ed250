import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import {
  heifWith,
  jpegWith,
  type Codecs,
  type HeifModule,
  type JpegModule,
  type LibraryReading,
  type RawModule,
  type Rgba,
} from '../codecs'

const require = createRequire(import.meta.url)
const compiled = (file: string) => new WebAssembly.Module(readFileSync(require.resolve(file)))

/** Keeps what a function made the first time. */
const once = <T>(make: () => Promise<T>): (() => Promise<T>) => {
  let made: Promise<T> | undefined
  return () => (made ??= make())
}

interface ImageCodec<T> {
  default: T
  init(module: WebAssembly.Module): Promise<void>
}

/** The decoders take the browser's class for their results. */
function pretendImageData(): void {
  const world = globalThis as { ImageData?: unknown }
  world.ImageData ??= class {
    constructor(
      readonly data: Uint8ClampedArray,
      readonly width: number,
      readonly height: number,
    ) {}
  }
}

async function imageCodec<T>(script: string, wasm: string): Promise<T> {
  pretendImageData()
  const codec = (await import(script)) as ImageCodec<T>
  await codec.init(compiled(wasm))
  return codec.default
}

type Webp = (bytes: ArrayBuffer) => Promise<Rgba>
type Avif = (bytes: ArrayBuffer, options: { bitDepth: 16 }) => Promise<Rgba>

/** Decoders under Node: their modules loaded from the packages' files when first needed. */
export const nodeCodecs: Codecs = {
  jpeg: once(async () => {
    pretendImageData()
    const { default: decode, init } = (await import('@jsquash/jpeg/decode.js')) as JpegModule
    const module = compiled('@jsquash/jpeg/codec/dec/mozjpeg_dec.wasm')
    return jpegWith(decode, (options) => init(module, options))
  }),
  webp: once(() => imageCodec<Webp>('@jsquash/webp/decode.js', '@jsquash/webp/codec/dec/webp_dec.wasm')),
  avif: once(async () => {
    const decode = await imageCodec<Avif>('@jsquash/avif/decode.js', '@jsquash/avif/codec/dec/avif_dec.wasm')
    return (bytes: ArrayBuffer, bitDepth: 16) => decode(bytes, { bitDepth })
  }),
  heif: once(async () => {
    const make = require('libheif-js/libheif-wasm/libheif.js') as (o: object) => Promise<HeifModule>
    const wasmBinary = readFileSync(require.resolve('libheif-js/libheif-wasm/libheif.wasm'))
    // what the library prints is said by our own errors
    return heifWith(await make({ wasmBinary, print: () => undefined, printErr: () => undefined }))
  }),
  profiles: () => import('../../profiles/input'),
  raw: once(async () => {
    const wasm = require.resolve('libraw-wasm').replace(/index\.js$/, 'libraw.wasm')
    const { default: make } = (await import(wasm.replace(/\.wasm$/, '.js'))) as {
      default(o: object): Promise<RawModule>
    }
    const library = await make({ wasmBinary: readFileSync(wasm), printErr: () => undefined })
    return async (bytes: Uint8Array) => {
      const file = new library.LibRaw()
      try {
        await file.open(bytes, {})
        const metadata = (await file.metadata(true)) as LibraryReading['metadata']
        const mosaic = (await file.rawImageData()) as LibraryReading['mosaic']
        return { metadata, mosaic: { ...mosaic, data: mosaic.data.slice() } }
      } finally {
        file.delete?.()
      }
    }
  }),
}
