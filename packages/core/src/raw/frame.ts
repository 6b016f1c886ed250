import { RawError } from './error'
import type { CameraColour, FileProfile } from '../colour'
import type { Opcodes } from './dng/opcodes'
import type { Rect } from './rect'

/** One strip or tile of the picture in the file. */
export interface Segment extends Rect {
  /** Byte range in the file. */
  offset: number
  length: number
}

/** Colours of the filter by place: `size` x `size` of them, row by row; 0 red, 1 green, 2 blue. */
export interface CfaPattern {
  /** 2 for the Bayer patterns, 6 for the larger ones. */
  size: 2 | 6
  colours: readonly number[]
}

/** How the samples lie in the file. */
export interface Storage {
  compression: 'none' | 'lossless-jpeg' | 'deflate' | 'jpeg'
  /** Bits of a stored sample. */
  bits: number
  float: boolean
  /** Differences that deflated data are made of; `stride` in samples. */
  predictor: { kind: 'none' | 'horizontal' | 'float'; stride: number }
  /** Samples of a pixel: 1 in a mosaic, 3 in a linear picture. */
  samples: 1 | 3
  littleEndian: boolean
}

/** What lies between stored and linear light. All in linearised values. */
export interface Levels {
  /** Black by place (rows x columns from the active area's corner), each with one value a sample. */
  black: { rows: number; columns: number; values: readonly number[] }
  /** What is added to black by column and by row of the active area. */
  deltaH?: readonly number[]
  deltaV?: readonly number[]
  /** The highest black of all places by sample: the range up to white that light is measured in starts there. */
  highestBlack: readonly number[]
  /** White by sample. */
  white: readonly number[]
}

/** An Exif entry as the file has it, so that a delivery can carry it on. */
export interface ExifEntry {
  tag: number
  /** TIFF type. */
  type: number
  values: readonly number[]
}

/** What the camera wrote about the taking of the frame. */
export interface FrameMetadata {
  /** When a program last changed the file, ISO 8601. */
  changed?: string
  /** Stars that a camera or program gave. */
  stars?: number
  /** Pixels per inch that the file says. */
  ppi?: number
  /** What another program marked the frame with. */
  label?: string
  /** The file holds several pictures in time, of which this is the first. */
  moving?: true
  make?: string
  model?: string
  lens?: string
  iso?: number
  /** Seconds. */
  exposureTime?: number
  fNumber?: number
  /** Millimetres. */
  focalLength?: number
  /** Millimetres of a lens with the same view on full 35 mm film, where the file says so. */
  focalLength35?: number
  /** Where it was taken: degrees north and east, metres above the sea. */
  position?: { north: number; east: number; height?: number }
  /** ISO 8601 without zone unless the file gives one. */
  taken?: string
  artist?: string
  copyright?: string
  /** The light that the camera took it for. */
  asShot?: { kelvin: number; tint: number }
  /** What the file's own description field says. */
  description?: string
  /** Exif orientation, 1 to 8. */
  orientation: number
  /** Everything else of the Exif directory, maker notes included. */
  exif?: readonly ExifEntry[]
}

/** A picture in the file as the camera developed it. */
export interface EmbeddedPreview {
  offset: number
  length: number
  width: number
  height: number
}

/** A raw file understood: everything needed to read its samples, nothing decoded yet. */
export interface SensorFrame {
  width: number
  height: number
  layout: 'mosaic' | 'linear'
  /** Light of the scene, or of a picture already rendered for a display (DNG ColorimetricReference). */
  referred: 'scene' | 'display'
  /** Readable part of the sensor. */
  active: Rect
  /** Parts that get no light. */
  masked: readonly Rect[]
  /** The picture within the sensor. */
  picture: Rect
  /** Factor on width and height for square pixels. */
  pixelScale: readonly [number, number]
  /** Starts at the sensor's corner; for a linear picture of no meaning. */
  pattern: CfaPattern
  storage: Storage
  segments: readonly Segment[]
  /** Stored value to linear value, where the file has a table. */
  linearisation?: readonly number[]
  levels: Levels
  colour: CameraColour
  /** Stops that the maker wants added at the start. */
  baselineExposure: number
  /** The maker's own rendering, where the file has tables for it. */
  profile?: FileProfile
  /** What is to be done to the samples: as stored, once linear, once demosaiced. */
  opcodes: Opcodes
  /** Noise variance = a * signal + b by colour, signal 0..1 (DNG NoiseProfile). */
  noise?: readonly { a: number; b: number }[]
  metadata: FrameMetadata
  /** The largest JPEG in the file. */
  preview?: EmbeddedPreview
}

/** White above the mean of the black levels of a sample. */
export const spanOf = (levels: Levels, sample: number): number => {
  const n = levels.black.rows * levels.black.columns
  const samples = levels.black.values.length / n
  let sum = 0
  for (let i = 0; i < n; i++) sum += levels.black.values[i * samples + Math.min(sample, samples - 1)]
  return levels.white[sample] - sum / n
}

/** Largest picture taken in: beyond it the working memory would not do. */
export const MAX_MEGAPIXELS = 100

/** @throws RawError where a picture of that size would not fit the working memory */
export function refuseTooLarge(width: number, height: number): void {
  if (width * height > MAX_MEGAPIXELS * 1e6)
    throw new RawError(
      'too-large',
      `This picture has ${Math.round((width * height) / 1e6)} megapixels; at most ${MAX_MEGAPIXELS} can be developed.`,
    )
}
