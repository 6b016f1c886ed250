import { Ifd, readMetadata, readPointed, TAG, type Directory, type FrameMetadata } from '@dunkelkammer/core'
import { exifDirectory } from '../encode/exif'

/** What is known of a taking, and how its picture is to be turned. */
export interface About {
  about: Directory
  orientation: number
}

/** The first directory of a block of Exif. @throws RawError where it is damaged */
function mainDirectory(block: Uint8Array): Ifd | undefined {
  const view = new DataView(block.buffer, block.byteOffset, block.byteLength)
  const mark = view.getUint16(0)
  if (mark !== 0x4949 && mark !== 0x4d4d) return undefined
  const little = mark === 0x4949
  return new Ifd(view, little, view.getUint32(4, little))
}

/** The directory of interoperability, and its index (Exif 2.32, 4.6.4). */
const [INTEROPERABILITY, INDEX] = [40965, 1]

/** Whether a block of Exif says that its picture's colours are the optional ones of cameras (DCF 2.0): those of opRGB. */
export function isWide(block: Uint8Array | undefined): boolean {
  if (!block || block.length < 14) return false
  try {
    const main = mainDirectory(block)
    const exif = main && readPointed(block, main, TAG.ExifIfd)
    const interoperability = exif && readPointed(block, exif, INTEROPERABILITY)
    return interoperability?.text(INDEX) === 'R03'
  } catch {
    return false
  }
}

/** Metadata of a block of Exif as picture files carry it: a TIFF file without pictures. Nothing where it is damaged. */
export function metadataOf(block: Uint8Array | undefined): FrameMetadata {
  const none: FrameMetadata = { orientation: 1 }
  if (!block || block.length < 14) return none
  try {
    const main = mainDirectory(block)
    if (!main) return none
    return readMetadata(main, readPointed(block, main, TAG.ExifIfd), readPointed(block, main, TAG.GpsIfd))
  } catch {
    // a picture without its notes is better than no picture
    return none
  }
}

/** @param ppi pixels per inch that the file says elsewhere, where its Exif says none */
export function aboutOf(block: Uint8Array | undefined, ppi?: number): About {
  const metadata = metadataOf(block)
  return {
    about: exifDirectory({ ...metadata, ppi: metadata.ppi ?? ppi }),
    orientation: metadata.orientation,
  }
}
