import { damaged, readIcc, srgbProfile } from '@dunkelkammer/core'
import { imageProperties } from './boxes'
import { checkSize, type DisplayPicture } from './display'
import { aboutOf } from './exif'
import type { Codecs } from './codecs'

/** Chunks of a RIFF file (WebP container specification). */
function riffChunk(bytes: Uint8Array, name: string): Uint8Array | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  for (let at = 12; at + 8 <= bytes.length;) {
    const size = view.getUint32(at + 4, true)
    if (String.fromCharCode(...bytes.subarray(at, at + 4)) === name)
      return bytes.subarray(at + 8, at + 8 + size)
    at += 8 + size + (size & 1)
  }
  return undefined
}

const exact = (bytes: Uint8Array): ArrayBuffer => bytes.slice().buffer as ArrayBuffer

async function decoded<T>(work: () => T | Promise<T | null> | null): Promise<T> {
  try {
    const result = await work()
    if (result) return result
  } catch {
    // said below
  }
  throw damaged('the picture cannot be decompressed')
}

export async function decodeWebpPicture(bytes: Uint8Array, codecs: Codecs): Promise<DisplayPicture> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (view.getUint32(4, true) + 8 > bytes.length) throw damaged('it ends before the picture does')
  const webp = await codecs.webp()
  const { width, height, data } = await decoded(() => webp(exact(bytes)))
  checkSize(width, height)
  const icc = riffChunk(bytes, 'ICCP')
  const exif = riffChunk(bytes, 'EXIF')
  // some writers put the mark of a JPEG's segment before the block
  const block = exif && exif[0] === 0x45 ? exif.subarray(6) : exif
  return {
    ...{ width, height, data, channels: 4 },
    profile: icc ? readIcc(icc) : srgbProfile(),
    ...aboutOf(block),
  }
}

export async function decodeAvifPicture(bytes: Uint8Array, codecs: Codecs): Promise<DisplayPicture> {
  const p = imageProperties(bytes)
  checkSize(p.width, p.height)
  const avif = await codecs.avif()
  const { width, height, data } = await decoded(() => avif(exact(bytes), 16))
  return {
    ...{ width, height, data, channels: 4, profile: p.profile },
    ...aboutOf(p.exif),
    orientation: p.orientation,
  }
}

export async function decodeHeifPicture(bytes: Uint8Array, codecs: Codecs): Promise<DisplayPicture> {
  const p = imageProperties(bytes)
  checkSize(p.width, p.height)
  const heif = await codecs.heif()
  const { width, height, data } = await decoded(() => heif(bytes))
  // the decoder has turned it upright already
  return { ...{ width, height, data, channels: 4, profile: p.profile }, ...aboutOf(p.exif), orientation: 1 }
}
