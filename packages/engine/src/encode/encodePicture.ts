import {
  iccProfile,
  LINEAR,
  spaces,
  working,
  type DeliveryOptions,
  type FrameMetadata,
  type OutputSpace,
} from '@dunkelkammer/core'
import sharp from 'sharp'
import { exifBlock } from './exif'
import { withJpegMetadata, withPngMetadata } from './containers'
import { encodeTiff } from './tiff'

/** How to encode; the size is the picture's, not a wish. */
export interface EncodeOptions extends Omit<DeliveryOptions, 'longEdge'> {
  width: number
  height: number
  /** Nothing is said of the taking where missing. */
  metadata?: FrameMetadata
  /** An XMP packet to carry. */
  xmp?: string
}

/** Profile of an output space; the camera's own channels have none. */
function profileOf(space: OutputSpace): { icc: Uint8Array | undefined; label: string } {
  if (space === 'camera') return { icc: undefined, label: 'camera' }
  if (space === 'linear-rec2020') {
    const label = 'Rec. 2020 linear'
    return { icc: iccProfile(working, LINEAR, label), label }
  }
  return { icc: iccProfile(spaces[space]), label: spaces[space].label }
}

/**
 * Encodes a finished picture as a file, with profile and Exif.
 * @param pixels interleaved RGB, lines without gaps; 16-bit samples in little-endian order
 */
export async function encodePicture(
  pixels: Uint8Array<ArrayBuffer>,
  options: EncodeOptions,
): Promise<Uint8Array> {
  const { format, width, height, bits, quality, metadata, xmp } = options
  const { icc, label } = profileOf(options.space)
  if (format === 'tiff')
    return encodeTiff(pixels, width, height, bits, options.compression, icc, metadata, xmp)
  const samples = bits === 16 ? new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.length / 2) : pixels
  const bare = sharp(samples, { raw: { width, height, channels: 3 }, limitInputPixels: false })
  // the encoder knows where each kind of file keeps its XMP
  const source = xmp ? bare.withXmp(xmp) : bare
  const exif = metadata && exifBlock(metadata)
  if (format === 'png') {
    const deep = bits === 16 ? source.toColourspace('rgb16') : source
    const png = await deep.png({ compressionLevel: 6 }).toBuffer()
    return withPngMetadata(png, { exif, icc, label })
  }
  const chromaSubsampling = quality >= 90 ? '4:4:4' : '4:2:0'
  const jpeg = await source.jpeg({ quality, chromaSubsampling }).toBuffer()
  return withJpegMetadata(jpeg, { exif, icc })
}

/** Encodes greys, line by line, as a PNG. */
export const encodeGrey = ({
  width,
  height,
  grey,
}: {
  width: number
  height: number
  grey: Uint8Array
}): Promise<Uint8Array> =>
  sharp(grey, { raw: { width, height, channels: 1 }, limitInputPixels: false })
    .toColourspace('b-w')
    .png({ compressionLevel: 6 })
    .toBuffer()
