import { layOut, TAG, tiffHeader, type Directory, type FrameMetadata } from '@dunkelkammer/core'
import { promisify } from 'node:util'
import { deflate } from 'node:zlib'
import { exifDirectory } from './exif'

const deflateAsync = promisify(deflate)

const STRIP_BYTES = 1 << 20

/** Horizontal differencing (TIFF 6.0, section 14), so that deflate finds something to do; a copy. */
function differenced(strip: Uint8Array, lineBytes: number, bits: 8 | 16): Uint8Array {
  const out = strip.slice()
  const samples = bits === 8 ? out : new Uint16Array(out.buffer)
  const line = bits === 8 ? lineBytes : lineBytes / 2
  for (let start = 0; start < samples.length; start += line)
    for (let i = start + line - 1; i >= start + 3; i--) samples[i] -= samples[i - 3]
  return out
}

/**
 * A baseline RGB TIFF in strips, little-endian.
 * @param pixels interleaved, lines without gaps; 16-bit samples in this machine's (little-endian) order
 */
export async function encodeTiff(
  pixels: Uint8Array,
  width: number,
  height: number,
  bits: 8 | 16,
  compression: 'none' | 'deflate',
  icc: Uint8Array | undefined,
  metadata?: FrameMetadata,
  xmp?: string,
): Promise<Uint8Array> {
  const lineBytes = (width * 3 * bits) / 8
  const rows = Math.max(1, Math.min(height, Math.floor(STRIP_BYTES / lineBytes)))
  const strips: Uint8Array[] = []
  for (let y = 0; y < height; y += rows) {
    const strip = pixels.subarray(y * lineBytes, Math.min(y + rows, height) * lineBytes)
    strips.push(compression === 'none' ? strip : await deflateAsync(differenced(strip, lineBytes, bits)))
  }
  const offsets: number[] = []
  let at = 8
  for (const s of strips) {
    offsets.push(at)
    at += s.length + (s.length & 1)
  }
  const dir: Directory = metadata ? exifDirectory(metadata) : new Map()
  const set = (tag: number, type: 'short' | 'long', ...values: number[]) => dir.set(tag, { type, values })
  set(TAG.ImageWidth, 'long', width)
  set(TAG.ImageLength, 'long', height)
  set(TAG.BitsPerSample, 'short', bits, bits, bits)
  set(TAG.Compression, 'short', compression === 'none' ? 1 : 8)
  set(TAG.PhotometricInterpretation, 'short', 2)
  set(TAG.SamplesPerPixel, 'short', 3)
  set(TAG.PlanarConfiguration, 'short', 1)
  set(TAG.RowsPerStrip, 'long', rows)
  set(TAG.StripOffsets, 'long', ...offsets)
  set(TAG.StripByteCounts, 'long', ...strips.map((s) => s.length))
  if (compression === 'deflate') set(TAG.Predictor, 'short', 2)
  dir.set(TAG.XResolution, { type: 'rational', values: [[300, 1]] })
  dir.set(TAG.YResolution, { type: 'rational', values: [[300, 1]] })
  set(TAG.ResolutionUnit, 'short', 2)
  if (xmp) dir.set(TAG.Xmp, { type: 'byte', values: new TextEncoder().encode(xmp) })
  if (icc) dir.set(TAG.IccProfile, { type: 'undefined', values: icc })
  const tail = layOut(dir, at)
  const out = new Uint8Array(at + tail.length)
  out.set(tiffHeader(at))
  strips.forEach((s, i) => out.set(s, offsets[i]))
  out.set(tail, at)
  return out
}
