import { Ifd, readMetadata, readPointed, TAG, type Directory, type FrameMetadata } from '@dunkelkammer/core'
import { exifDirectory } from '../encode/exif'

/** What is known of a taking, and how its picture is to be turned. */
export interface About {
  about: Directory
  orientation: number
}

/** Metadata of a block of Exif as picture files carry it: a TIFF file without pictures. Nothing where it is damaged. */
export function metadataOf(block: Uint8Array | undefined): FrameMetadata {
  const none: FrameMetadata = { orientation: 1 }
  if (!block || block.length < 14) return none
  try {
    const view = new DataView(block.buffer, block.byteOffset, block.byteLength)
    const mark = view.getUint16(0)
    if (mark !== 0x4949 && mark !== 0x4d4d) return none
    const little = mark === 0x4949
    const main = new Ifd(view, little, view.getUint32(4, little))
    return readMetadata(main, readPointed(block, main, TAG.ExifIfd), readPointed(block, main, TAG.GpsIfd))
  } catch {
    // a picture without its notes is better than no picture
    return none
  }
}

export function aboutOf(block: Uint8Array | undefined): About {
  const metadata = metadataOf(block)
  return { about: exifDirectory(metadata), orientation: metadata.orientation }
}
