import type { CameraColour } from '../colour'

export interface Rect {
  x: number
  y: number
  width: number
  height: number
}

/** One strip or tile of the mosaic in the file. */
export interface Segment extends Rect {
  /** Byte range in the file. */
  offset: number
  length: number
}

/** Colour of each place of the 2 x 2 pattern: 0 red, 1 green, 2 blue. */
export type BayerPattern = readonly [number, number, number, number]

/** What the camera wrote about the taking of the frame. */
export interface FrameMetadata {
  make?: string
  model?: string
  lens?: string
  iso?: number
  /** Seconds. */
  exposureTime?: number
  fNumber?: number
  /** Millimetres. */
  focalLength?: number
  /** ISO 8601 without zone unless the file gives one. */
  taken?: string
  artist?: string
  copyright?: string
  /** Exif orientation, 1 to 8. */
  orientation: number
}

/** A JPEG in the file that shows the picture as the camera developed it. */
export interface EmbeddedPreview {
  offset: number
  length: number
  width: number
  height: number
}

/** A raw file understood: everything needed to read its mosaic, nothing decoded yet. */
export interface SensorFrame {
  width: number
  height: number
  /** Readable part of the mosaic. */
  active: Rect
  /** The picture within the mosaic. */
  picture: Rect
  pattern: BayerPattern
  compression: 'none' | 'lossless-jpeg'
  littleEndian: boolean
  segments: readonly Segment[]
  /** Stored value to linear value, where the file has a table. */
  linearisation?: readonly number[]
  /** Black by place in the pattern, white for all, in linearised values. */
  black: readonly [number, number, number, number]
  white: number
  colour: CameraColour
  /** Noise variance = a * signal + b by colour, signal 0..1 (DNG NoiseProfile). */
  noise?: readonly { a: number; b: number }[]
  metadata: FrameMetadata
  preview?: EmbeddedPreview
}

/** Largest picture taken in: beyond it the working memory would not do. */
export const MAX_MEGAPIXELS = 100
