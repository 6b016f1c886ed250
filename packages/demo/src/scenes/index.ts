import { normal, perfect, wide, type LensModel } from '../camera/lens'
import type { Scene } from '../render/march'
import { canalLock } from './canalLock'
import { kilnHall } from './kilnHall'
import { millMorning } from './millMorning'

/** How a scene is photographed for the demo shoot. */
export interface DemoFrame {
  scene: Scene
  lens: LensModel
  fileName: string
  width: number
  height: number
  iso: number
  /** 14 where missing. */
  bits?: 12 | 14
  /** Sensor signal (1 = saturation) per unit of scene radiance. */
  exposure: number
  /** Colour of the light that the camera takes for neutral, scene-linear Rec. 2020. */
  takenNeutral: readonly [number, number, number]
  focalLength: number
  fNumber: number
  exposureTime: readonly [number, number]
  taken: string
  /** Settings of the picture that the camera itself makes and embeds. */
  cameraLook: { steps: object }
}

/** The demo shoot, in the order taken. To add a frame, write its scene and add one entry here. */
export const demoFrames: readonly DemoFrame[] = [
  {
    scene: millMorning,
    lens: perfect,
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
    cameraLook: { steps: { exposure: { ev: 0.35 }, baseRendering: { grade: 2.9 } } },
  },
  {
    scene: kilnHall,
    lens: wide,
    bits: 12,
    fileName: 'HM0431.dng',
    width: 2256,
    height: 1504,
    iso: 800,
    exposure: 2,
    takenNeutral: [1, 0.72, 0.36],
    focalLength: 20,
    fNumber: 4,
    exposureTime: [1, 30],
    taken: '2026-05-14T09:20:37',
    cameraLook: {
      steps: { exposure: { ev: 0.9 }, baseRendering: { grade: 2.4 }, highlights: { rebuild: 0 } },
    },
  },
  {
    scene: canalLock,
    lens: normal,
    fileName: 'HM0466.dng',
    width: 2256,
    height: 1504,
    iso: 100,
    exposure: 1.05,
    takenNeutral: [1, 0.985, 0.95],
    focalLength: 35,
    fNumber: 8,
    exposureTime: [1, 500],
    taken: '2026-05-14T12:04:58',
    cameraLook: { steps: { exposure: { ev: 0.2 }, baseRendering: { grade: 3 }, highlights: { rebuild: 0 } } },
  },
]
