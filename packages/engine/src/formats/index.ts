import { RawError } from '@dunkelkammer/core'
import type { Codecs } from './codecs'
import { displayDng } from './display'
import { decodeJpegPicture } from './jpeg'
import { libraryDng } from './libraryRaw'
import { decodeAvifPicture, decodeHeifPicture } from './modern'
import { decodePngPicture } from './png/png'
import { decodeTiffPicture } from './tiff/tiff'
import { decodeWebpPicture, isMoving } from './webp'
import { identify, type FormatId } from './identify'

export { sidecarAmong, sidecarPlace } from './sidecarName'
export { identify, FORMATS, ENDINGS, hasKnownEnding, type FormatId } from './identify'
export type { Codecs } from './codecs'

/** A file in the form that the engine opens, and what kind it was. */
export interface Adapted {
  dng: Uint8Array
  format: FormatId
  /** It holds several pictures in time: the first is taken. */
  moving?: boolean
}

/**
 * Turns a file of any kind that is read into a DNG file: a DNG is left as it is, another maker's raw file gives its
 * mosaic, a finished picture its colours.
 * @throws RawError with a sentence for the user
 */
export async function adapt(bytes: Uint8Array, codecs: Codecs): Promise<Adapted> {
  const format = identify(bytes)
  switch (format) {
    case 'dng':
      return { dng: bytes, format }
    case 'jpeg':
      return { dng: await displayDng(await decodeJpegPicture(bytes, codecs), codecs), format }
    case 'png':
      return { dng: await displayDng(decodePngPicture(bytes), codecs), format }
    case 'tiff':
      return { dng: await displayDng(await decodeTiffPicture(bytes, codecs), codecs), format }
    case 'webp':
      return {
        dng: await displayDng(await decodeWebpPicture(bytes, codecs), codecs),
        ...{ format, moving: isMoving(bytes) },
      }
    case 'avif':
      return { dng: await displayDng(await decodeAvifPicture(bytes, codecs), codecs), format }
    case 'heif':
      return { dng: await displayDng(await decodeHeifPicture(bytes, codecs), codecs), format }
    case 'raw': {
      let reading
      try {
        reading = await (await codecs.raw())(bytes)
      } catch (error) {
        if (error instanceof RawError) throw error
        throw new RawError('not-raw', 'This is neither a raw file nor a picture of a kind that is read.')
      }
      return { dng: libraryDng(reading), format }
    }
  }
}
