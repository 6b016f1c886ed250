import type { Scene } from '../render/march'
import { millMorning } from './millMorning'

/** How a scene is photographed for the demo shoot. */
export interface DemoFrame {
  scene: Scene
  fileName: string
  width: number
  height: number
  iso: number
  /** Sensor signal (1 = saturation) per unit of scene radiance. */
  exposure: number
  /** Colour of the light that the camera takes for neutral, scene-linear Rec. 2020. */
  takenNeutral: readonly [number, number, number]
  focalLength: number
  fNumber: number
  exposureTime: readonly [number, number]
  taken: string
}

/** The demo shoot, in the order taken. To add a frame, write its scene and add one entry here. */
export const demoFrames: readonly DemoFrame[] = [
  {
    scene: millMorning,
    fileName: 'HM0417.dng',
    width: 2256,
    height: 1504,
    iso: 100,
    exposure: 0.55,
    takenNeutral: [1, 0.985, 0.93],
    focalLength: 28,
    fNumber: 8,
    exposureTime: [1, 320],
    taken: '2026-05-14T06:52:11',
  },
]
