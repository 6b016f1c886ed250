import { createHash } from 'node:crypto'
import type { WordBlocks } from './blocks'
import { decodedXml } from './encoding'
import { readIim } from './iptc'
import { Properties } from './rdf'
import { heldWords, wordsIn, type Words, type XmpWords } from './xmpWords'

/** What the camera's notes say that are words too, and when a program last changed them. */
export interface ExifWords {
  artist?: string
  copyright?: string
  description?: string
  /** ISO 8601. */
  changed?: string
  stars?: number
}

/** Texts under the keywords that the standard of PNG names. */
const pngWords = (texts: ReadonlyMap<string, string> | undefined): Partial<Words> => ({
  title: texts?.get('Title'),
  creator: texts?.get('Author'),
  caption: texts?.get('Description'),
  copyright: texts?.get('Copyright'),
})

function xmpIn({ xmp }: WordBlocks): XmpWords {
  if (!xmp) return { words: {} }
  try {
    return wordsIn(new Properties(decodedXml(xmp)))
  } catch {
    return { words: {} }
  }
}

/** Whether one moment of ISO 8601 lies after another, as clocks show it; false where one is not known. */
export const isLater = (a: string | undefined, b: string | undefined): boolean =>
  a !== undefined && b !== undefined && a.slice(0, 19) > b.slice(0, 19)

const isChanged = ({ iim, iimDigest }: WordBlocks) =>
  iim !== undefined &&
  iimDigest !== undefined &&
  iimDigest.some((v) => v !== 0) &&
  !createHash('md5').update(iim).digest().equals(iimDigest)

/**
 * Words, stars and label that lie in a file. Where its blocks differ, XMP counts before IIM, and that before Exif;
 * but IIM that was changed since the XMP was written counts first, as does Exif that is dated later.
 * @param exif what the camera's notes say
 */
export function wordsOf(blocks: WordBlocks, exif: ExifWords = {}): XmpWords {
  const xmp = xmpIn(blocks)
  const iim = heldWords(blocks.iim ? readIim(blocks.iim) : {})
  const noted = heldWords({
    caption: exif.description,
    creator: exif.artist,
    copyright: exif.copyright,
  })
  const order = isChanged(blocks) ? [iim, xmp.words] : [xmp.words, iim]
  const all = isLater(exif.changed, xmp.changed) ? [noted, ...order] : [...order, noted]
  const words = Object.assign({}, heldWords(pngWords(blocks.texts)), ...all.reverse()) as Partial<Words>
  const rating = xmp.rating ?? exif.stars
  return { ...xmp, ...(rating !== undefined && { rating }), words }
}
