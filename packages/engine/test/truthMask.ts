import { demoFrames, needed, objectMask, renderCrop, throughLens } from '@dunkelkammer/demo'

/** A third of a demo frame's size, at which masks are compared. */
export const [W, H] = [504, 336]

/** How much of each place of a demo frame shows some of its objects. */
export function truthOf(name: string, ...objects: string[]): Float32Array {
  const frame = { ...demoFrames.find((f) => f.fileName === `${name}.dng`)!, width: W, height: H }
  const crop = { x: 0, y: 0, width: W, height: H }
  const part = needed(frame.lens, frame, crop)
  const rgb = renderCrop(objectMask(frame.scene, ...objects), W, H, part)
  const light = throughLens(frame.lens, frame, { ...part, rgb }, crop)
  return Float32Array.from({ length: W * H }, (_, i) => light[3 * i + 1])
}
