import { spaces, type FileFormat, type FrameMetadata } from '@dunkelkammer/core'

/** What a file says beside its pixels. */
export interface Carried {
  /** Of the taking; nothing at all where missing. */
  metadata?: FrameMetadata
  /** An XMP packet. */
  xmp?: string
}

/** A picture that is to become a file. */
export interface SinkOrder extends Carried {
  /** Where the file is written; nobody else writes there. */
  path: string
  format: FileFormat
  width: number
  height: number
  bits: 8 | 16
  /** Profile of the colours, and its name. */
  icc?: Uint8Array
  label: string
  /** Pixels per inch that the file says. */
  ppi: number
}

/** Whether a picture's colours are those of sRGB. */
export const isSrgb = ({ label }: Pick<SinkOrder, 'label'>): boolean => label === spaces.srgb.label

/** Takes a picture band by band, from the top, and makes a file of it. */
export interface Sink {
  /** @param band interleaved RGB, whole lines without gaps; 16-bit samples in little-endian order */
  write(band: Uint8Array): Promise<void>
  /** Completes the file and makes sure that it is on the disk. */
  close(): Promise<void>
  /** Removes what there is of it. */
  abort(): Promise<void>
}

/** A picture that a format cannot hold; the message is for the user. */
export class DoesNotFit extends Error {
  constructor(message: string) {
    super(message)
    this.name = 'DoesNotFit'
  }
}
