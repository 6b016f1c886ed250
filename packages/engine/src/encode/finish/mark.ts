import { placeOfMark, type Extent, type Mark, type Triple } from '@dunkelkammer/core'
import sharp from 'sharp'
import { DoesNotFit } from '../sinks'
import type { ToFile } from './colour'
import { outlinesOf } from './words'

/** Something to lay over a picture: encoded colours of the file, and how much they cover. */
export interface Overlay extends Extent {
  x: number
  y: number
  /** R, G, B, cover, all 0..1. */
  rgba: Float32Array
}

/** A mark as it lies over a file of this size. @throws DoesNotFit where its picture cannot be read */
export async function overlayOf(mark: Mark, file: Extent, toFile: ToFile): Promise<Overlay> {
  const short = Math.min(file.width, file.height)
  const pixels = mark.kind === 'words' ? await words(mark, short) : await picture(mark, short)
  const { width, height, data } = pixels
  const rgba = new Float32Array(width * height * 4)
  const known = new Map<number, Triple>()
  for (let i = 0; i < width * height; i++) {
    const cover = data[i * 4 + 3]
    if (cover === 0) continue
    const code = (data[i * 4] << 16) | (data[i * 4 + 1] << 8) | data[i * 4 + 2]
    let colour = known.get(code)
    if (!colour) {
      colour = toFile([data[i * 4] / 255, data[i * 4 + 1] / 255, data[i * 4 + 2] / 255])
      known.set(code, colour)
    }
    rgba.set([...colour, (cover / 255) * mark.opacity], i * 4)
  }
  return { ...placeOfMark(mark, file, { width, height }), width, height, rgba }
}

interface Pixels extends Extent {
  data: Uint8Array
}

async function words(
  { text, size, colour }: Extract<Mark, { kind: 'words' }>,
  short: number,
): Promise<Pixels> {
  const { path, width } = outlinesOf(text)
  const line = Math.max(4, Math.round((short * size) / 100))
  const extent = { width: Math.max(1, Math.ceil(width * line)), height: line }
  const svg =
    `<svg xmlns="http://www.w3.org/2000/svg" width="${extent.width}" height="${extent.height}">` +
    `<path transform="scale(${line})" d="${path}" fill="${colour}"/></svg>`
  return { ...extent, data: await sharp(Buffer.from(svg)).ensureAlpha().raw().toBuffer() }
}

async function picture({ data, size }: Extract<Mark, { kind: 'picture' }>, short: number): Promise<Pixels> {
  const long = Math.max(1, Math.round((short * size) / 100))
  try {
    const made = await sharp(Buffer.from(data, 'base64'))
      .resize({ width: long, height: long, fit: 'inside' })
      .toColourspace('srgb')
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true })
    return { width: made.info.width, height: made.info.height, data: made.data }
  } catch {
    throw new DoesNotFit('The picture of the mark cannot be read.')
  }
}
