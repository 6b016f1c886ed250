import { exposeCrop, frameFile, needed, objectMask, renderCrop, throughLens } from '@dunkelkammer/demo'
import type { DemoFrame, Scene } from '@dunkelkammer/demo'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { projectRoot } from '../src/paths'

/** Something of the size of a picture, line by line. */
export interface Plane {
  width: number
  height: number
  values: Float32Array
}

/** A demo frame as its lens lays a scene of its own on the sensor: shares of white, standing upright. */
function photographed(frame: DemoFrame, scene: Scene): Plane {
  const { width, height } = frame
  const crop = { x: 0, y: 0, width, height }
  const part = needed(frame.lens, frame, crop)
  const rgb = renderCrop(scene, width, height, part)
  const light = throughLens(frame.lens, frame, { ...part, rgb }, crop)
  const green = Float32Array.from({ length: width * height }, (_, i) => light[3 * i + 1])
  if (!frame.scene.upright) return { width, height, values: green }
  // its file says that the sensor's left edge is up
  const values = Float32Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % height, Math.floor(i / height)]
    return green[(height - 1 - x) * width + y]
  })
  return { width: height, height: width, values }
}

/** Made once: rendering takes minutes. */
function kept(name: string, make: () => Buffer): Buffer {
  const file = join(projectRoot(), '.cache/truths', name)
  if (existsSync(file)) return readFileSync(file)
  mkdirSync(join(projectRoot(), '.cache/truths'), { recursive: true })
  const bytes = make()
  writeFileSync(file, bytes)
  return bytes
}

/** Where a frame shows some objects: shares of each pixel, as the renderer knows them. */
export function truthOf(frame: DemoFrame, ...objects: string[]): Plane {
  const { width, height, scene } = frame
  const name = `${scene.id}-${width}x${height}-${objects.join('-').replaceAll(' ', '-')}.u8`
  const bytes = kept(name, () =>
    Buffer.from(photographed(frame, objectMask(scene, ...objects)).values.map((v) => Math.round(v * 255))),
  )
  const size = scene.upright ? { width: height, height: width } : { width, height }
  return { ...size, values: Float32Array.from(bytes, (v) => v / 255) }
}

/** The same scene in other light, with other noise, smaller, and four times as sensitive. */
export const variationOf = (frame: DemoFrame): DemoFrame => ({
  ...frame,
  fileName: frame.fileName.replace('HM', 'VA9'),
  width: 756,
  height: 504,
  iso: 4 * frame.iso,
  exposure: 0.72 * frame.exposure,
  takenNeutral: [1, 0.94, 0.84],
})

/** The file of a frame that is not in the shoot. */
export function fileOf(frame: DemoFrame): Uint8Array {
  const { width, height } = frame
  return kept(`${frame.scene.id}-${width}x${height}-${frame.iso}.dng`, () => {
    const crop = { x: 0, y: 0, width, height }
    const part = needed(frame.lens, frame, crop)
    const rgb = renderCrop(frame.scene, width, height, part)
    return Buffer.from(frameFile(frame, exposeCrop(frame, { ...part, rgb }, crop).mosaic))
  })
}

/** A frame of the demo shoot. */
export const shootFile = ({ fileName }: DemoFrame): Uint8Array =>
  readFileSync(join(projectRoot(), 'packages/demo/frames', fileName))
