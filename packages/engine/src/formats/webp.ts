import { damaged, srgbProfile } from '@dunkelkammer/core'
import { concatenated, viewOf } from './bytes'
import type { Codecs, Rgba } from './codecs'
import { decoded, exact } from './decoded'
import { checkSize, type DisplayPicture } from './display'
import { aboutOf } from './exif'
import { chunkOf, chunks, textBytes } from './riff'
import { profileFrom } from './pictureProfile'

/** The body of a chunk of a WebP file. */
export function webpChunk(bytes: Uint8Array, name: string): Uint8Array | undefined {
  for (const chunk of chunks(bytes, 12)) if (chunk.name === name) return chunk.body
  return undefined
}

/** Whether a WebP file holds several pictures in time. */
export const isMoving = (bytes: Uint8Array): boolean => webpChunk(bytes, 'ANMF') !== undefined

const u24 = (b: Uint8Array, at: number) => b[at] | (b[at + 1] << 8) | (b[at + 2] << 16)

/** The first picture of a moving one as a file of its own, and where it lies on the whole. */
function firstPicture(frame: Uint8Array) {
  const [x, y] = [u24(frame, 0) * 2, u24(frame, 3) * 2]
  const parts = [...chunks(frame, 16)].filter((c) => ['ALPH', 'VP8 ', 'VP8L'].includes(c.name))
  const head = new Uint8Array(10)
  // it may be transparent, and is as large as the frame says
  head[0] = 0x10
  head.set(frame.subarray(6, 12), 4)
  const lossless = parts.some((c) => c.name === 'VP8L')
  const inside = [...(lossless ? [] : [chunkOf('VP8X', head)]), ...parts.map((c) => c.whole)]
  return { x, y, file: chunkOf('RIFF', concatenated([textBytes('WEBP'), ...inside])) }
}

/** A picture on a transparent ground; what lies beyond it is left out. */
function laidOn(width: number, height: number, part: Rgba, x: number, y: number): Rgba {
  if (x === 0 && y === 0 && part.width === width && part.height === height) return part
  const data = new Uint8ClampedArray(width * height * 4)
  const count = Math.min(part.width, width - x)
  for (let j = 0; j < Math.min(part.height, height - y); j++) {
    const from = j * part.width * 4
    data.set(part.data.subarray(from, from + count * 4), ((y + j) * width + x) * 4)
  }
  return { width, height, data }
}

/**
 * Decodes a WebP picture; of a moving one the first picture.
 * @throws RawError where it is damaged
 */
export async function decodeWebpPicture(bytes: Uint8Array, codecs: Codecs): Promise<DisplayPicture> {
  if (viewOf(bytes).getUint32(4, true) + 8 > bytes.length) throw damaged('it ends before the picture does')
  const frame = webpChunk(bytes, 'ANMF')
  const first = frame && frame.length > 24 ? firstPicture(frame) : undefined
  const webp = await codecs.webp()
  const part = await decoded(() => webp(exact(first?.file ?? bytes)))
  const whole = first && webpChunk(bytes, 'VP8X')
  if (whole) checkSize(u24(whole, 4) + 1, u24(whole, 7) + 1)
  const { width, height, data } =
    first && whole ? laidOn(u24(whole, 4) + 1, u24(whole, 7) + 1, part, first.x, first.y) : part
  checkSize(width, height)
  const icc = webpChunk(bytes, 'ICCP')
  const exif = webpChunk(bytes, 'EXIF')
  // some writers put the mark of a JPEG's segment before the block
  const block = exif && exif[0] === 0x45 ? exif.subarray(6) : exif
  return {
    ...{ width, height, data, channels: 4 },
    profile: icc ? profileFrom(icc) : srgbProfile(),
    ...aboutOf(block),
  }
}
