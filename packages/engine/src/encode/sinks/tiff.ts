import { layOut, TAG, tiffHeader, type Compression, type Directory } from '@dunkelkammer/core'
import { open, rm, type FileHandle } from 'node:fs/promises'
import { promisify } from 'node:util'
import { deflate } from 'node:zlib'
import { exifDirectory } from '../exif'
import { lzw } from '../lzw'
import { writeAll } from '../writeFile'
import { DoesNotFit, isSrgb, type Sink, type SinkOrder } from './sink'

const deflateAsync = promisify(deflate)

const STRIP_BYTES = 1 << 20
/** Strips that are compressed at a time. */
const AT_ONCE = 4
/** What a file with offsets of 32 bits can hold, less room for its directories. */
const MOST_BYTES = 2 ** 32 - (1 << 24)

const CODES: Readonly<Record<Compression, number>> = { none: 1, deflate: 8, lzw: 5 }

/** Horizontal differencing (TIFF 6.0, section 14), so that compression finds something to do; in place. */
function difference(strip: Uint8Array<ArrayBuffer>, lineBytes: number, bits: 8 | 16): Uint8Array {
  const samples = bits === 8 ? strip : new Uint16Array(strip.buffer, strip.byteOffset, strip.length / 2)
  const line = bits === 8 ? lineBytes : lineBytes / 2
  for (let start = 0; start < samples.length; start += line)
    for (let i = start + line - 1; i >= start + 3; i--) samples[i] -= samples[i - 3]
  return strip
}

/** A baseline RGB TIFF in strips (TIFF 6.0), little-endian, written as the picture comes. */
export class TiffSink implements Sink {
  private readonly lineBytes: number
  private readonly rows: number
  private strip: Uint8Array<ArrayBuffer>
  private filled = 0
  private lines = 0
  private readonly pending: Promise<Uint8Array>[] = []
  private readonly offsets: number[] = []
  private readonly counts: number[] = []
  private at = 8

  private constructor(
    private readonly file: FileHandle,
    private readonly order: SinkOrder,
    private readonly compression: Compression,
  ) {
    const { width, height, bits } = order
    this.lineBytes = (width * 3 * bits) / 8
    this.rows = Math.max(1, Math.min(height, Math.floor(STRIP_BYTES / this.lineBytes)))
    this.strip = this.freshStrip()
  }

  static async create(order: SinkOrder, compression: Compression): Promise<TiffSink> {
    const file = await open(order.path, 'w')
    await writeAll(file, tiffHeader(0))
    return new TiffSink(file, order, compression)
  }

  async write(band: Uint8Array): Promise<void> {
    for (let from = 0; from < band.length;) {
      const n = Math.min(band.length - from, this.strip.length - this.filled)
      this.strip.set(band.subarray(from, from + n), this.filled)
      from += n
      this.filled += n
      if (this.filled === this.strip.length) await this.endStrip()
    }
  }

  async close(): Promise<void> {
    while (this.pending.length > 0) await this.writeNext()
    const tail = layOut(this.directory(), this.at)
    await writeAll(this.file, tail)
    await this.file.write(tiffHeader(this.at), 0, 8, 0)
    await this.file.sync()
    await this.file.close()
  }

  async abort(): Promise<void> {
    await Promise.allSettled(this.pending)
    await this.file.close().catch(() => undefined)
    await rm(this.order.path, { force: true })
  }

  private freshStrip(): Uint8Array<ArrayBuffer> {
    return new Uint8Array(Math.min(this.rows, this.order.height - this.lines) * this.lineBytes)
  }

  private async endStrip(): Promise<void> {
    const { strip, lineBytes, compression } = this
    this.lines += strip.length / lineBytes
    const packed =
      compression === 'none'
        ? Promise.resolve(strip)
        : compression === 'lzw'
          ? Promise.resolve(lzw(difference(strip, lineBytes, this.order.bits)))
          : deflateAsync(difference(strip, lineBytes, this.order.bits))
    packed.catch(() => undefined)
    this.pending.push(packed)
    this.filled = 0
    this.strip = this.freshStrip()
    while (this.pending.length >= AT_ONCE) await this.writeNext()
  }

  private async writeNext(): Promise<void> {
    const bytes = await this.pending.shift()!
    // every strip begins on a whole word
    const odd = bytes.length & 1
    if (this.at + bytes.length + odd > MOST_BYTES)
      throw new DoesNotFit('A TIFF holds at most 4 GB. Deliver it smaller, with 8 bits or compressed.')
    this.offsets.push(this.at)
    this.counts.push(bytes.length)
    await writeAll(this.file, bytes)
    if (odd) await writeAll(this.file, Uint8Array.of(0))
    this.at += bytes.length + odd
  }

  private directory(): Directory {
    const { width, height, bits, ppi, metadata, xmp, icc } = this.order
    const dir: Directory = metadata ? exifDirectory(metadata, 'tiff', isSrgb(this.order)) : new Map()
    const set = (tag: number, type: 'short' | 'long', ...values: number[]) => dir.set(tag, { type, values })
    set(TAG.ImageWidth, 'long', width)
    set(TAG.ImageLength, 'long', height)
    set(TAG.BitsPerSample, 'short', bits, bits, bits)
    set(TAG.Compression, 'short', CODES[this.compression])
    set(TAG.PhotometricInterpretation, 'short', 2)
    set(TAG.SamplesPerPixel, 'short', 3)
    set(TAG.PlanarConfiguration, 'short', 1)
    set(TAG.RowsPerStrip, 'long', this.rows)
    set(TAG.StripOffsets, 'long', ...this.offsets)
    set(TAG.StripByteCounts, 'long', ...this.counts)
    if (this.compression !== 'none') set(TAG.Predictor, 'short', 2)
    const resolution = [Math.round(ppi * 100), 100] as const
    dir.set(TAG.XResolution, { type: 'rational', values: [resolution] })
    dir.set(TAG.YResolution, { type: 'rational', values: [resolution] })
    set(TAG.ResolutionUnit, 'short', 2)
    if (xmp) dir.set(TAG.Xmp, { type: 'byte', values: new TextEncoder().encode(xmp) })
    if (icc) dir.set(TAG.IccProfile, { type: 'undefined', values: icc })
    return dir
  }
}
