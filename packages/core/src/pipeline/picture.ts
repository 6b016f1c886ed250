import { strideFor, type Raster } from '../memory'
import type { Levels, Rect, SensorFrame } from '../raw'
import { asShotBalance } from '../colour'
import { uprightSize } from '../geometry/upright'
import type { NoiseOf, PictureContext, SurveyMaps } from '../steps'
import { cameraNoise } from '../analysis/cameraNoise'
import type { Triple } from '../math'

/** A picture opened in an engine: where its samples lie, and what its steps may know. Plain data. */
export interface OpenPicture {
  id: number
  /** Stored samples, linearised: 16-bit or float, one plane for a mosaic, three for linear colours. */
  sensor: Raster
  active: Rect
  picture: Rect
  /** Exif orientation: how the picture is to be turned to stand upright. */
  orientation: number
  /** Its samples are levels of 8 bits: there is nothing between them. */
  coarse: boolean
  levels: Levels & {
    /** Factor on each colour's light. */
    balance: Triple
  }
  context: PictureContext
}

/** Shape of the raster that a file's samples are decoded into. */
export const sensorShape = ({ width, height, storage }: SensorFrame): Omit<Raster, 'offset'> => ({
  width,
  height,
  stride: strideFor(width),
  planes: storage.samples,
  format: storage.float ? 'f32' : 'u16',
})

/** Size of a file's picture as it is developed: pixels square, upright. */
export function developedSize({ picture, pixelScale, metadata }: SensorFrame): {
  width: number
  height: number
} {
  const square = {
    width: Math.round(picture.width * pixelScale[0]),
    height: Math.round(picture.height * pixelScale[1]),
  }
  return uprightSize(square, metadata.orientation)
}

/** Whether samples are levels of 8 bits, as finished pictures have them; where they are stored as light it has 16. */
const isCoarse = ({ referred, storage: { bits, float } }: SensorFrame) =>
  referred === 'display' && bits === (float ? 16 : 8)

/** Joins a file's description with the place of its samples in memory. */
export function describePicture(
  id: number,
  frame: SensorFrame,
  sensor: Raster,
  survey?: SurveyMaps,
  measured?: readonly NoiseOf[],
): OpenPicture {
  const balance = asShotBalance(frame.colour)
  return {
    id,
    sensor,
    active: frame.active,
    picture: frame.picture,
    orientation: frame.metadata.orientation,
    coarse: isCoarse(frame),
    levels: { ...frame.levels, balance },
    context: {
      ...developedSize(frame),
      sensorSize: { width: frame.picture.width, height: frame.picture.height },
      layout: frame.layout,
      referred: frame.referred,
      pattern: frame.pattern,
      colour: frame.colour,
      baselineExposure: frame.baselineExposure,
      profile: frame.profile,
      balance,
      noise: frame.noise,
      noiseModels: {
        file: frame.noise,
        camera: cameraNoise(frame.metadata),
        picture: measured,
      },
      survey,
    },
  }
}
