import {
  BLUR_MARGIN,
  mosaicOf,
  neutralOf,
  noiseOf,
  throughLens,
  veldrom,
  type CameraModel,
  type Shot,
} from './camera/camera'
import { writeDng, type DngContents } from './dng/writer'
import { renderCrop } from './render/march'
import type { DemoFrame } from './scenes'

/** Place and size of a crop on the sensor. */
export interface Crop {
  x: number
  y: number
  width: number
  height: number
}

/** A crop of a demo frame with all that is known about it. */
export interface CropTruth {
  /** What the lens lays on the sensor: interleaved scene-linear Rec. 2020, before exposure. */
  light: Float32Array
  /** Stored values, noise and defects included, as they are in the frame's file. */
  mosaic: Uint16Array
}

export const shotOf = (frame: DemoFrame, noise = true): Shot => ({
  iso: frame.iso,
  exposure: frame.exposure,
  seed: Number(frame.fileName.replace(/\D/g, '')),
  noise,
})

/** Renders and photographs any crop of a demo frame, the same values as in the whole frame. */
export function photographCrop(frame: DemoFrame, crop: Crop, camera: CameraModel = veldrom): CropTruth {
  const m = BLUR_MARGIN
  const around = { x: crop.x - m, y: crop.y - m, width: crop.width + 2 * m, height: crop.height + 2 * m }
  const radiance = renderCrop(frame.scene, frame.width, frame.height, around)
  return exposeCrop(frame, radiance, crop, camera)
}

/** The same from radiance that has been rendered already, BLUR_MARGIN wider on every side. */
export function exposeCrop(
  frame: DemoFrame,
  radiance: Float32Array,
  crop: Crop,
  camera: CameraModel = veldrom,
): CropTruth {
  const light = throughLens(camera, radiance, crop.width, crop.height)
  return { light, mosaic: mosaicOf(camera, shotOf(frame), light, crop.x, crop.y, crop.width, crop.height) }
}

/** The frame's file: a losslessly compressed DNG. */
export function frameFile(
  frame: DemoFrame,
  mosaic: Uint16Array,
  preview?: DngContents['preview'],
  camera: CameraModel = veldrom,
): Uint8Array {
  return writeDng({
    width: frame.width,
    height: frame.height,
    mosaic,
    bits: camera.bits,
    black: camera.black,
    white: camera.white,
    pattern: [0, 1, 1, 2],
    colorMatrix: camera.colorMatrix,
    asShotNeutral: neutralOf(camera, frame.takenNeutral),
    noise: noiseOf(camera, frame),
    make: camera.make,
    model: camera.model,
    lens: camera.lens,
    iso: frame.iso,
    exposureTime: frame.exposureTime,
    fNumber: frame.fNumber,
    focalLength: frame.focalLength,
    taken: frame.taken,
    artist: 'Marit Oudendijk',
    copyright: 'Hollenbeek Mills trust',
    preview,
    compression: 'lossless-jpeg',
    tile: 752,
  })
}
