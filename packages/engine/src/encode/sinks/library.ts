import type { PictureFormat } from '@dunkelkammer/core'
import { open, readFile, rm } from 'node:fs/promises'
import sharp, { type Sharp, type SharpOptions } from 'sharp'
import { jpegHead, pngHead, PNG_HEAD } from '../containers'
import { exifBlock } from '../exif'
import { avifWithExif, webpWithExif } from '../exifInside'
import { syncFile, writeAll, writeSynced } from '../writeFile'
import { TiffSink } from './tiff'
import { isSrgb, type Sink, type SinkOrder } from './sink'

/** Samples up to which a JPEG's codes are fitted to the picture, for which all of it is held. */
const FITTED_PIXELS = 30e6
const COPY_BYTES = 1 << 20
/** Endings of what is needed beside a file until it is whole. */
export const BESIDE = ['.plain', '.made'] as const

/** What goes into a file behind its first bytes, where the encoder does not put it there itself. */
interface Inserted {
  at: number
  bytes: Uint8Array
}

interface Encoding {
  encode(source: Sharp): Sharp
  insert?: Inserted
  /** Where bytes cannot be put in at one place: makes the file anew. */
  remake?(bytes: Uint8Array): Uint8Array
}

/** How the image library is to encode a picture, and what it leaves to be added. */
function encodingOf(order: SinkOrder & { format: Exclude<PictureFormat, { kind: 'tiff' }> }): Encoding {
  const { format, bits, metadata, icc, label, width, height, ppi } = order
  const exif = metadata && exifBlock(metadata, { width, height, ppi }, isSrgb(order))
  switch (format.kind) {
    case 'jpeg': {
      const { quality, chroma } = format
      const full = chroma === 'automatic' ? quality >= 90 : chroma === '4:4:4'
      return {
        encode: (source) =>
          source.jpeg({
            quality,
            chromaSubsampling: full ? '4:4:4' : '4:2:0',
            optimiseCoding: width * height <= FITTED_PIXELS,
          }),
        insert: { at: 2, bytes: jpegHead({ exif, icc }) },
      }
    }
    case 'png':
      return {
        encode: (source) =>
          (bits === 16 ? source.toColourspace('rgb16') : source).png({ compressionLevel: 6 }),
        insert: { at: PNG_HEAD, bytes: pngHead({ exif, icc, label }) },
      }
    case 'webp':
      return {
        encode: (source) => source.keepIccProfile().webp({ quality: format.quality, smartSubsample: true }),
        remake: exif && ((bytes) => webpWithExif(bytes, exif, { width, height })),
      }
    case 'avif': {
      const { quality } = format
      return {
        // a place for Exif is there where the encoder has some
        encode: (source) =>
          (exif ? source.withExif({ IFD0: { Software: 'Dunkelkammer' } }) : source)
            .keepIccProfile()
            .avif({ quality, chromaSubsampling: '4:4:4', effort: 3 }),
        remake: exif && ((bytes) => avifWithExif(bytes, exif)),
      }
    }
  }
}

/**
 * Files that a general image library encodes. It takes whole pictures from memory, but reads a plain file line by line,
 * so the picture goes by way of one.
 */
export class LibrarySink implements Sink {
  private constructor(
    private readonly plain: TiffSink,
    private readonly order: SinkOrder,
    private readonly encoding: Encoding,
  ) {}

  static async create(order: SinkOrder): Promise<LibrarySink> {
    const { path, format, width, height, bits, icc, label, ppi } = order
    if (
      format.kind === 'tiff' ||
      format.kind === 'pdf' ||
      format.kind === 'dng' ||
      format.kind === 'original'
    )
      throw new Error(`${format.kind} has its own way`)
    const plain = { path: `${path}.plain`, format, width, height, bits, icc, label, ppi }
    return new LibrarySink(await TiffSink.create(plain, 'none'), order, encodingOf({ ...order, format }))
  }

  write(band: Uint8Array): Promise<void> {
    return this.plain.write(band)
  }

  async close(): Promise<void> {
    const { order, encoding } = this
    const { path, xmp } = order
    await this.plain.close()
    // the colours are those of the profile already
    const bare = sharp(`${path}.plain`, {
      ignoreIcc: true,
      sequentialRead: true,
      limitInputPixels: false,
    } as SharpOptions)
    const source = xmp ? bare.withXmp(xmp) : bare
    const made = encoding.insert || encoding.remake ? `${path}.made` : path
    await encoding.encode(source).toFile(made)
    if (encoding.insert) await copyWith(made, path, encoding.insert)
    else if (encoding.remake) await writeSynced(path, encoding.remake(await readFile(made)), 'w')
    else await syncFile(path)
    await this.tidy()
  }

  async abort(): Promise<void> {
    await this.plain.abort()
    await this.tidy()
    await rm(this.order.path, { force: true })
  }

  private async tidy(): Promise<void> {
    for (const ending of BESIDE) await rm(this.order.path + ending, { force: true })
  }
}

/** Copies a file with bytes put in. */
async function copyWith(from: string, to: string, { at, bytes }: Inserted): Promise<void> {
  const source = await open(from, 'r')
  try {
    const file = await open(to, 'w')
    try {
      const room = new Uint8Array(COPY_BYTES)
      const head = await source.read(room, 0, at, 0)
      await writeAll(file, room.subarray(0, head.bytesRead))
      await writeAll(file, bytes)
      for (let read = at; ;) {
        const { bytesRead } = await source.read(room, 0, room.length, read)
        if (bytesRead === 0) break
        await writeAll(file, room.subarray(0, bytesRead))
        read += bytesRead
      }
      await file.sync()
    } finally {
      await file.close()
    }
  } finally {
    await source.close()
  }
}
