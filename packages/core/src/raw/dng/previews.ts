import type { EmbeddedPreview } from '../frame'
import type { Ifd } from '../tiff/reader'
import { TAG } from '../tiff/tags'

/** JPEGs in the file that show the picture as the camera developed it, the largest first. */
export function readPreviews(bytes: Uint8Array, directories: readonly Ifd[]): EmbeddedPreview[] {
  const found: EmbeddedPreview[] = []
  for (const ifd of directories) {
    const photometric = ifd.number(TAG.PhotometricInterpretation)
    if ((photometric !== 6 && photometric !== 2) || ifd.number(TAG.Compression) !== 7) continue
    const offsets = ifd.numbers(TAG.StripOffsets)
    const lengths = ifd.numbers(TAG.StripByteCounts)
    if (offsets.length !== 1 || lengths.length !== 1 || offsets[0] + lengths[0] > bytes.length) continue
    if (bytes[offsets[0]] !== 0xff || bytes[offsets[0] + 1] !== 0xd8) continue
    const width = ifd.number(TAG.ImageWidth) ?? 0
    found.push({ offset: offsets[0], length: lengths[0], width, height: ifd.number(TAG.ImageLength) ?? 0 })
  }
  return found.sort((a, b) => b.width - a.width)
}
