import {
  calibrationsOf,
  levelsOf,
  mosaicOf,
  neutralOf,
  noiseOf,
  veldrom,
  type CameraModel,
  type Shot,
} from './camera/camera'
import type { Triple } from '@dunkelkammer/core'
import { BLUR_MARGIN, needed, perfect, throughLens, type Piece } from './camera/lens'
import { writeDng, type DngContents, type WrittenCalibration } from './dng/writer'
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

/** Pixels around the frame that are rendered too: a lens lays light from there on the sensor. */
export const RENDER_MARGIN = 56

export const shotOf = (frame: DemoFrame, noise = true): Shot => ({
  iso: frame.iso,
  exposure: frame.exposure,
  seed: Number(frame.fileName.replace(/\D/g, '')),
  bits: frame.bits,
  noise,
})

/** Renders and photographs any crop of a demo frame, the same values as in the whole frame. */
export function photographCrop(
  frame: DemoFrame,
  crop: Crop,
  camera: CameraModel = frame.camera ?? veldrom,
): CropTruth {
  const part = needed(frame.lens, frame, crop)
  const rgb = renderCrop(frame.scene, frame.width, frame.height, part)
  return exposeCrop(frame, { ...part, rgb }, crop, camera)
}

/** The same from radiance that has been rendered already, at least of the part that the lens needs. */
export function exposeCrop(
  frame: DemoFrame,
  scene: Piece,
  crop: Crop,
  camera: CameraModel = frame.camera ?? veldrom,
): CropTruth {
  const light = throughLens(frame.lens, frame, scene, crop)
  const longEdge = Math.max(frame.width, frame.height)
  return { light, mosaic: mosaicOf(camera, shotOf(frame), light, { ...crop, longEdge }) }
}

/** What the maker writes into all its files: matrices under two lights. */
export const writtenCalibrations = (camera: CameraModel): WrittenCalibration[] =>
  calibrationsOf(camera).map((fitted, i) => ({ illuminant: i ? 21 : 17, ...fitted }))

/** A file of a camera with nothing in it but what the camera always writes. */
export function cameraFile(
  camera: CameraModel,
  { width, height }: { width: number; height: number },
  mosaic: Uint16Array,
  taken: Triple,
  part: Partial<DngContents> = {},
): Uint8Array {
  return writeDng({
    width,
    height,
    mosaic,
    bits: 14,
    ...levelsOf(camera, {}),
    pattern: [0, 1, 1, 2],
    calibrations: writtenCalibrations(camera),
    asShotNeutral: neutralOf(camera, taken),
    make: camera.make,
    model: camera.model,
    compression: 'none',
    ...part,
  })
}

/** The frame's file: a losslessly compressed DNG. */
export function frameFile(
  frame: DemoFrame,
  mosaic: Uint16Array,
  preview?: DngContents['preview'],
  camera: CameraModel = frame.camera ?? veldrom,
): Uint8Array {
  return cameraFile(camera, frame, mosaic, frame.takenNeutral, {
    bits: frame.bits ?? 14,
    ...levelsOf(camera, frame),
    noise: noiseOf(camera, frame),
    lens: frame.lens.name,
    iso: frame.iso,
    exposureTime: frame.exposureTime,
    fNumber: frame.fNumber,
    focalLength: frame.focalLength,
    focalLength35: Math.round(frame.focalLength * camera.crop),
    taken: frame.taken,
    zone: frame.zone,
    position: frame.position,
    orientation: frame.scene.upright ? 6 : 1,
    artist: 'Marit Oudendijk',
    copyright: 'Hollenbeek Mills trust',
    preview,
    compression: 'lossless-jpeg',
    tile: frame.camera ? 504 : 752,
  })
}

/** What a lens without faults lays on a sensor from interleaved radiance, BLUR_MARGIN wider on every side. */
export function plainLight(rgb: Float32Array, width: number, height: number): Float32Array {
  const m = BLUR_MARGIN
  const crop = { x: 0, y: 0, width, height }
  const scene = { x: -m, y: -m, width: width + 2 * m, height: height + 2 * m, rgb }
  return throughLens(perfect, crop, scene, crop)
}
