import { long, normal, perfect, wide, type LensModel } from '../camera/lens'
import type { Scene } from '../render/march'
import { veldromPocket, type CameraModel } from '../camera/camera'
import { boathouse } from './boathouse'
import { cableYard } from './cableYard'
import { canalLeaning, canalLock } from './canalLock'
import { glazedTiles } from './glazedTiles'
import { kilnFacade } from './kilnFacade'
import { kilnHall } from './kilnHall'
import { kingfisher } from './kingfisher'
import { lampQuay } from './lampQuay'
import { lawn } from './lawn'
import { millMorning } from './millMorning'
import { mistyValley } from './mistyValley'
import { paleSails } from './paleSails'
import { sailcloth } from './sailcloth'

/** How a scene is photographed for the demo shoot. */
export interface DemoFrame {
  scene: Scene
  lens: LensModel
  fileName: string
  /** Veldrom 3 where missing. */
  camera?: CameraModel
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
  /** Time zone as Exif writes it. */
  zone?: string
  /** North and east in degrees, metres above the sea. */
  position?: readonly [number, number, number]
  /** Settings of the picture that the camera itself makes and embeds. */
  cameraLook: { steps: object }
}

/** What frames of the small camera share. */
const pocket = { camera: veldromPocket, width: 1512, height: 1008, zone: '+02:00' } as const

const tiles = (name: string, focus: number, taken: string): DemoFrame => ({
  ...pocket,
  scene: glazedTiles(name, focus),
  lens: long,
  fileName: `${name}.dng`,
  iso: 200,
  exposure: 1.25,
  takenNeutral: [0.97, 0.99, 1],
  focalLength: 50,
  fNumber: 2.8,
  exposureTime: [1, 60],
  taken,
  cameraLook: { steps: { exposure: { ev: 0.3 }, baseRendering: { grade: 2.8 }, highlights: { rebuild: 0 } } },
})

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
  {
    ...pocket,
    scene: canalLeaning,
    lens: normal,
    fileName: 'HM0468.dng',
    iso: 100,
    exposure: 1.0,
    takenNeutral: [1, 0.985, 0.95],
    focalLength: 23,
    fNumber: 8,
    exposureTime: [1, 400],
    taken: '2026-05-14T12:07:31.200',
    position: [52.0739, 4.9088, 1],
    cameraLook: { steps: { exposure: { ev: 0.2 }, baseRendering: { grade: 3 }, highlights: { rebuild: 0 } } },
  },
  {
    ...pocket,
    scene: mistyValley('wide', { yaw: 0.08 }),
    lens: long,
    fileName: 'HM0403.dng',
    iso: 200,
    exposure: 0.62,
    takenNeutral: [1, 0.93, 0.84],
    focalLength: 80,
    fNumber: 5.6,
    exposureTime: [1, 250],
    taken: '2026-05-14T05:41:09.310',
    position: [52.0714, 4.9031, 2],
    cameraLook: { steps: { exposure: { ev: 0.25 }, baseRendering: { grade: 3 } } },
  },
  {
    ...pocket,
    scene: mistyValley('upright', { yaw: 0.15, pitch: 0.07, fieldOfView: 0.24, upright: true }),
    lens: long,
    fileName: 'HM0405.dng',
    iso: 200,
    exposure: 0.62,
    takenNeutral: [1, 0.93, 0.84],
    focalLength: 97,
    fNumber: 5.6,
    exposureTime: [1, 250],
    taken: '2026-05-14T05:43:52.070',
    position: [52.0714, 4.9031, 2],
    cameraLook: { steps: { exposure: { ev: 0.25 }, baseRendering: { grade: 3 } } },
  },
  {
    ...pocket,
    scene: kingfisher,
    lens: long,
    fileName: 'HM0472.dng',
    iso: 800,
    exposure: 0.8,
    takenNeutral: [1, 0.985, 0.95],
    focalLength: 110,
    fNumber: 5.6,
    exposureTime: [1, 1000],
    taken: '2026-05-14T12:31:44.620',
    position: [52.0737, 4.9086, 1],
    cameraLook: { steps: { exposure: { ev: 0.2 }, baseRendering: { grade: 2.8 } } },
  },
  {
    ...pocket,
    scene: kilnFacade,
    lens: wide,
    fileName: 'HM0488.dng',
    iso: 100,
    exposure: 0.72,
    takenNeutral: [1, 0.985, 0.95],
    focalLength: 12.5,
    fNumber: 8,
    exposureTime: [1, 200],
    taken: '2026-05-14T13:31:20.550',
    position: [52.0733, 4.9077, 3],
    cameraLook: { steps: { exposure: { ev: 0.3 }, baseRendering: { grade: 2.9 } } },
  },
  tiles('HM0502', 0.68, '2026-05-14T14:20:05.120'),
  tiles('HM0503', 0.83, '2026-05-14T14:20:05.480'),
  tiles('HM0504', 1.08, '2026-05-14T14:20:05.870'),
  tiles('HM0505', 1.42, '2026-05-14T14:20:06.250'),
  {
    ...pocket,
    scene: lampQuay('upright', { upright: true, yaw: -0.2, pitch: 0.02, fieldOfView: 0.85 }),
    lens: normal,
    fileName: 'HM0551.dng',
    iso: 6400,
    exposure: 4.2,
    takenNeutral: [1, 0.78, 0.5],
    focalLength: 25,
    fNumber: 2,
    exposureTime: [1, 30],
    taken: '2026-05-14T22:48:31.440',
    position: [52.0748, 4.9102, 1],
    cameraLook: { steps: { exposure: { ev: 0.2 }, baseRendering: { grade: 2.6 } } },
  },
  {
    ...pocket,
    scene: lampQuay('wide', { fieldOfView: 0.95 }),
    lens: normal,
    fileName: 'HM0553.dng',
    iso: 3200,
    exposure: 4.2,
    takenNeutral: [1, 0.78, 0.5],
    focalLength: 23,
    fNumber: 2,
    exposureTime: [1, 15],
    taken: '2026-05-14T22:52:07.900',
    position: [52.0748, 4.9102, 1],
    cameraLook: { steps: { exposure: { ev: 0.2 }, baseRendering: { grade: 2.6 } } },
  },
  {
    ...pocket,
    scene: lawn,
    lens: normal,
    fileName: 'HM0477.dng',
    iso: 200,
    exposure: 0.95,
    takenNeutral: [1, 0.985, 0.95],
    focalLength: 23,
    fNumber: 8,
    exposureTime: [1, 320],
    taken: '2026-05-14T12:49:16.380',
    position: [52.0741, 4.909, 1],
    cameraLook: { steps: { exposure: { ev: 0.2 }, baseRendering: { grade: 2.8 } } },
  },
  {
    ...pocket,
    scene: cableYard,
    lens: perfect,
    fileName: 'HM0491.dng',
    iso: 100,
    exposure: 0.72,
    takenNeutral: [1, 0.985, 0.95],
    focalLength: 19,
    fNumber: 8,
    exposureTime: [1, 250],
    taken: '2026-05-14T13:38:02.910',
    position: [52.0733, 4.9076, 3],
    cameraLook: { steps: { exposure: { ev: 0.3 }, baseRendering: { grade: 2.8 } } },
  },
  {
    ...pocket,
    scene: sailcloth,
    lens: perfect,
    fileName: 'HM0512.dng',
    iso: 400,
    exposure: 0.95,
    takenNeutral: [1, 0.975, 0.92],
    focalLength: 35,
    fNumber: 5.6,
    exposureTime: [1, 60],
    taken: '2026-05-14T15:02:40.070',
    cameraLook: { steps: { exposure: { ev: 0.1 }, baseRendering: { grade: 2.6 } } },
  },
  {
    ...pocket,
    scene: boathouse,
    lens: normal,
    fileName: 'HM0521.dng',
    iso: 200,
    exposure: 0.62,
    takenNeutral: [1, 1.03, 1.08],
    focalLength: 24,
    fNumber: 8,
    exposureTime: [1, 160],
    taken: '2026-05-14T15:38:12.410',
    position: [52.0751, 4.9115, 1],
    cameraLook: { steps: { exposure: { ev: 0.2 }, baseRendering: { grade: 2.8 } } },
  },
  {
    ...pocket,
    scene: paleSails,
    lens: normal,
    fileName: 'HM0527.dng',
    iso: 100,
    exposure: 0.8,
    takenNeutral: [1, 0.99, 0.96],
    focalLength: 31,
    fNumber: 8,
    exposureTime: [1, 250],
    taken: '2026-05-14T15:57:44.030',
    position: [52.0739, 4.9071, 2],
    cameraLook: { steps: { exposure: { ev: 0.2 }, baseRendering: { grade: 2.8 } } },
  },
]
