import { xmpPacket, type FrameMetadata } from '@dunkelkammer/core'
import { wordElements } from './write'
import type { Words, XmpWords } from './xmpWords'

const NONE: Words = { title: '', caption: '', creator: '', copyright: '', keywords: [] }

/** What a file says of the taking: the camera's words with those of its maker over them. Stars stand in its XMP. */
export const metadataWith = (original: FrameMetadata, words: Partial<Words>): FrameMetadata => ({
  ...original,
  artist: words.creator || undefined,
  copyright: words.copyright || undefined,
  description: words.caption || undefined,
  stars: undefined,
})

/**
 * XMP of a file that is made from another one, with what that one says; undefined where there is nothing to say.
 * @param alone whether words go along, but neither stars nor label
 * @param more elements of other properties
 */
export function carriedXmp(
  { words, rating, label }: XmpWords,
  alone: boolean,
  more: readonly string[] = [],
): string | undefined {
  const stars = rating === undefined || alone ? [] : [`<xmp:Rating>${rating}</xmp:Rating>`]
  const elements = [...wordElements({ ...NONE, ...words }, alone ? undefined : label), ...stars, ...more]
  return elements.length ? xmpPacket(elements) : undefined
}
