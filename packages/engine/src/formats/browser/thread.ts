import decodeAvif from '@jsquash/avif/decode.js'
import decodeJpeg, { init as initJpeg } from '@jsquash/jpeg/decode.js'
import decodeWebp from '@jsquash/webp/decode.js'
import {
  heifWith,
  jpegWith,
  type Codecs,
  type DecodedJpeg,
  type HeifModule,
  type JpegModule,
  type LibraryReading,
  type Rgba,
} from '../codecs'
import type { AdaptRequest } from '../messages'
import { serveAdapt } from '../serveAdapt'

/** Decoders in the browser: each is fetched from the server when first needed. */
let jpeg: Promise<(bytes: ArrayBuffer) => Promise<DecodedJpeg>> | undefined
const codecs: Codecs = {
  jpeg: () => (jpeg ??= jpegWith(decodeJpeg as JpegModule['default'], initJpeg as JpegModule['init'])),
  webp: () => Promise.resolve((bytes: ArrayBuffer) => decodeWebp(bytes) as Promise<Rgba>),
  avif: () =>
    Promise.resolve((bytes: ArrayBuffer, bitDepth: 16) => decodeAvif(bytes, { bitDepth }) as Promise<Rgba>),
  async heif() {
    const { default: make } = (await import('libheif-js/libheif-wasm/libheif-bundle.mjs')) as {
      default(options: object): HeifModule | Promise<HeifModule>
    }
    return heifWith(await make({}))
  },
  profiles: () => import('../../profiles/input'),
  async raw() {
    // the library brings a worker of its own
    const { default: Library } = await import('libraw-wasm')
    return async (bytes: Uint8Array): Promise<LibraryReading> => {
      const file = new Library()
      await file.open(bytes as Uint8Array<ArrayBuffer>, {})
      const metadata = (await file.metadata(true)) as { timestamp?: unknown }
      // the package's wrapper makes a date of it, the module under Node leaves the seconds
      if (metadata.timestamp instanceof Date) metadata.timestamp = metadata.timestamp.getTime() / 1000
      const mosaic = await file.rawImageData()
      return { metadata, mosaic } as unknown as LibraryReading
    }
  },
}

// several at once: the library's worker and ours take turns by themselves
addEventListener('message', (event: MessageEvent<AdaptRequest>) => {
  void serveAdapt(event.data, codecs).then((answer) =>
    postMessage(answer, { transfer: 'dng' in answer ? [answer.dng.buffer as ArrayBuffer] : [] }),
  )
})
