import { RawError, readDirectories, TAG, type Ifd } from '@dunkelkammer/core'
import { isPictureCompression } from './tiff/compression'
import { largest } from './tiff/directories'

export const FORMATS = ['dng', 'raw', 'jpeg', 'png', 'tiff', 'webp', 'avif', 'heif'] as const
export type FormatId = (typeof FORMATS)[number]

/** Endings of file names that are taken up when a folder is brought in; the content decides what a file is. */
export const ENDINGS: readonly string[] = (
  'dng jpg jpeg png tif tiff webp avif heic heif hif ' +
  '3fr arw cr2 cr3 crw dcr erf iiq k25 kdc mef mos mrw nef nrw orf pef raf raw rw2 rwl sr2 srf srw x3f'
).split(' ')

export const hasKnownEnding = (name: string): boolean =>
  ENDINGS.includes(name.slice(name.lastIndexOf('.') + 1).toLowerCase())

const text = (bytes: Uint8Array, at: number, length: number) =>
  String.fromCharCode(...bytes.subarray(at, at + length))

/** TIFF files are of many kinds: DNG, pictures, and makers' own raw files. */
function kindOfTiff(bytes: Uint8Array): FormatId {
  let directories: Ifd[]
  try {
    directories = readDirectories(bytes)
  } catch {
    return 'dng'
  }
  const main = directories[0]
  if (!main || main.has(TAG.DngVersion)) return 'dng'
  const shows = (d: Ifd) => d.number(TAG.PhotometricInterpretation) ?? -1
  if (directories.some((d) => shows(d) === 32803)) return 'raw'
  const best = largest(directories)!
  // a colour picture may have a small copy before it; a maker's mosaic looks like grey after a small colour picture
  if (best !== main && samplesOf(best) < Math.max(samplesOf(main), 3) && !areAlike(best, main)) return 'raw'
  return [best, main].every((d) => PICTURES.includes(shows(d)) && isPictureCompression(compressionOf(d)))
    ? 'tiff'
    : 'raw'
}

/** What pictures' numbers can stand for: grey, RGB, palette, inks, luma and chroma, Lab. */
const PICTURES = [0, 1, 2, 3, 5, 6, 8]

const samplesOf = (d: Ifd) => d.number(TAG.SamplesPerPixel) ?? 1
/** Makers' raw files of old store their mosaic as if it were a grey picture of an unknown compression. */
const compressionOf = (d: Ifd) => d.number(TAG.Compression) ?? 1
const areAlike = (a: Ifd, b: Ifd) =>
  [TAG.SamplesPerPixel, TAG.BitsPerSample, TAG.PhotometricInterpretation].every(
    (tag) => a.numbers(tag).join() === b.numbers(tag).join(),
  )

/**
 * What kind of file the first bytes speak of.
 * @throws RawError where it is empty or plainly something else
 */
export function identify(bytes: Uint8Array): FormatId {
  if (bytes.length === 0) throw new RawError('damaged', 'This file is empty.')
  if (bytes[0] === 0xff && bytes[1] === 0xd8) return 'jpeg'
  if (text(bytes, 0, 8) === '\x89PNG\r\n\x1a\n') return 'png'
  if (text(bytes, 0, 4) === 'RIFF' && text(bytes, 8, 4) === 'WEBP') return 'webp'
  if (text(bytes, 4, 4) === 'ftyp') {
    const brand = text(bytes, 8, 4)
    if (brand === 'avif' || brand === 'avis') return 'avif'
    if (['heic', 'heix', 'heim', 'heis', 'hevc', 'hevx', 'mif1', 'msf1'].includes(brand)) {
      const all = text(bytes, 8, Math.min(new DataView(bytes.buffer, bytes.byteOffset).getUint32(0), 80) - 8)
      return all.includes('avif') && !all.includes('heic') ? 'avif' : 'heif'
    }
    return 'raw'
  }
  const mark = text(bytes, 0, 4)
  if (['II*\0', 'MM\0*', 'II+\0', 'MM\0+'].includes(mark)) return kindOfTiff(bytes)
  if (bytes.length < 4096 || isText(bytes))
    throw new RawError('not-raw', 'This is neither a raw file nor a picture of a kind that is read.')
  return 'raw'
}

/** Plain text: no control characters but line ends and tabs in its beginning. */
const isText = (bytes: Uint8Array) =>
  bytes.subarray(0, 512).every((b) => b === 9 || b === 10 || b === 13 || (b >= 32 && b !== 127))
