import sharp from 'sharp'
import type { Development } from '@dunkelkammer/core'
import type { Picture } from '../host/picture'
import { fitLongEdge } from '../host/sizes'
import { uprightJpeg } from './upright'

/** Longer side of stored thumbnails: sharp on the contact sheet at its largest size. */
export const THUMB_EDGE = 640
const QUALITY = 82
/** Of what is looked at pixel by pixel. */
const LOOKED_AT_QUALITY = 95

/**
 * A small JPEG of a picture file or an embedded preview, upright, in sRGB.
 * @param orientation of the file it lies in, for previews that have none of their own (Exif)
 */
export async function smallJpeg(bytes: Uint8Array, edge: number, orientation = 1): Promise<Uint8Array> {
  const own = (await sharp(bytes).metadata()).orientation
  const upright = own || orientation === 1 ? bytes : await uprightJpeg(bytes, orientation)
  const size = { width: edge, height: edge, fit: 'inside', withoutEnlargement: true } as const
  return sharp(upright)
    .rotate()
    .resize(size)
    .flatten({ background: '#fff' })
    .jpeg({ quality: QUALITY })
    .toBuffer()
}

/** Kinds of files that hold a picture which the image library reads. */
const READABLE = ['jpeg', 'png', 'tiff', 'webp', 'heif', 'avif']

/** A finished file as an sRGB JPEG, small where an edge is said; nothing where it holds something else. */
export async function pictureIn(path: string, edge?: number): Promise<Uint8Array | undefined> {
  const source = sharp(path, { limitInputPixels: false })
  const format = await source.metadata().then(
    (m) => m.format,
    () => undefined,
  )
  // a linear DNG is a TIFF to some
  if (!format || !READABLE.includes(format) || /\.dng$/i.test(path)) return undefined
  const sized = edge
    ? source.resize({ width: edge, height: edge, fit: 'inside', withoutEnlargement: true })
    : source
  return sized
    .withIccProfile('srgb', { attach: false })
    .jpeg({ quality: edge ? QUALITY : LOOKED_AT_QUALITY, chromaSubsampling: edge ? '4:2:0' : '4:4:4' })
    .toBuffer()
}

/** A small JPEG of a development, made the quick way where the exact picture is not at hand. */
export async function developedThumb(
  picture: Picture,
  development: Development,
  signal?: AbortSignal,
  edge = THUMB_EDGE,
): Promise<{ jpeg: Uint8Array; width: number; height: number }> {
  const frame = await picture.square(development)
  const size = fitLongEdge(frame.width, frame.height, edge)
  const region = { x: 0, y: 0, ...size }
  const { rgba } = await picture.view({ development, ...size, region, quick: true }, signal)
  const raw = { ...size, channels: 4 as const }
  const jpeg = await sharp(Buffer.from(rgba.buffer), { raw })
    .removeAlpha()
    .jpeg({ quality: QUALITY })
    .toBuffer()
  return { jpeg, ...size }
}
