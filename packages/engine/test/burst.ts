import { ciede2000, labFromXyz, D50, adaptation, apply, xyOf, type Triple } from '@dunkelkammer/core'
import {
  cameraFile,
  CHART,
  daylight,
  glowing,
  hash,
  levelsOf,
  signalsOf,
  times,
  veldrom,
  type CameraModel,
  type Spectrum,
} from '@dunkelkammer/demo'

/** A burst of one scene with a chart in it, by spectra, as the simulated camera takes it. */

export interface BurstShot {
  /** Stops by the shutter, which the file tells of. */
  ev: number
  /** Colour temperature that the camera takes the light for. */
  takenFor: number
  /** Of the light itself; 5500 K where missing. */
  light?: number
  /** Stops by which the light itself is brighter, of which the file knows nothing. */
  brighter?: number
  /** Pixels by which the camera has wandered, and by which somebody has walked on. */
  shift?: number
  walked?: number
  seed?: number
  /** Another scene altogether: what lies around the chart. */
  scene?: number
  camera?: CameraModel
  /** Times the size of 360 x 240. */
  scale?: number
  /** The f-number that the same signal was taken with; 4 where missing. */
  fNumber?: number
  /** Leaves out the exposure that the camera noted. */
  silent?: boolean
}

const SIZE = { width: 360, height: 240 }
const PATCH = 22
const CHART_AT = { x: 200, y: 130 }
/** Signal of a white surface at no stops, of saturation. */
const WHITE_SIGNAL = 0.22

const signals = new Map<string, Triple[]>()
function signalsUnder(light: Spectrum, key: string): Triple[] {
  let found = signals.get(key)
  if (!found) {
    const green = signalsOf(veldrom.curves, light)[1]
    found = CHART.map(
      ({ reflectance }) =>
        signalsOf(veldrom.curves, times(reflectance, light)).map((v) => v / green) as unknown as Triple,
    )
    signals.set(key, found)
  }
  return found
}

/** The patch that a place shows, and how strongly it is lit. */
function seenAt(x: number, y: number, { walked = 0, scene = 0 }: BurstShot): { patch: number; lit: number } {
  const column = Math.floor((x - CHART_AT.x) / PATCH)
  const row = Math.floor((y - CHART_AT.y) / PATCH)
  if (column >= 0 && column < 6 && row >= 0 && row < 4) return { patch: row * 6 + column, lit: 1 }
  if (x > 40 + walked && x < 95 + walked && y > 90) return { patch: 1, lit: 0.9 }
  const [u, v] = [Math.floor(x / 24), Math.floor(y / 24)]
  // a window, and a corner without light
  const place = 1 + 900 * scene
  const lit = y < 60 && x > 250 ? 3.2 : 0.25 + 1.1 * hash(u, v, place) * (scene % 2 ? 1.6 : 1)
  return { patch: Math.floor(hash(u, v, place + 1) * CHART.length), lit }
}

/** The file of a shot. */
export function burstFile(shot: BurstShot): Uint8Array {
  const { ev, takenFor, light = 5500, brighter = 0, shift = 0, seed = 1, camera = veldrom, scale = 1 } = shot
  const { fNumber = 4 } = shot
  const [width, height] = [SIZE.width * scale, SIZE.height * scale]
  const { black, white } = levelsOf(camera, {})
  const own = signalsUnder(daylight(light), String(light))
  const gain = WHITE_SIGNAL * 2 ** (ev + brighter)
  const mosaic = new Uint16Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const { patch, lit } = seenAt(x / scale + shift, y / scale + shift / 2, shot)
      const c = [0, 1, 1, 2][(y & 1) * 2 + (x & 1)]
      const signal = own[patch][c] * lit * gain
      const noise = (hash(x, y, seed) + hash(x, y, seed + 1) - 1) * Math.sqrt(signal / 30000 + 1e-8) * 2.4
      mosaic[y * width + x] = Math.round(black + Math.min(Math.max(signal + noise, 0), 1) * (white - black))
    }
  const response = signalsOf(camera.curves, takenFor < 4000 ? glowing(takenFor) : daylight(takenFor))
  const top = Math.max(...response)
  return cameraFile(camera, { width, height }, mosaic, [1, 1, 1], {
    asShotNeutral: response.map((v) => v / top) as unknown as Triple,
    ...(!shot.silent && {
      iso: 200,
      fNumber,
      exposureTime: [Math.round(1e4 * 2 ** ev * (fNumber / 4) ** 2), 1e6] as const,
    }),
  })
}

/** Lab (D50) of the chart's patches in a delivered sRGB picture of 8 bits or 16, full value 1 once divided by `most`. */
export function chartIn(pixels: ArrayLike<number>, width: number, most: number, shot: BurstShot): Triple[] {
  const { shift = 0, scale = 1 } = shot
  return CHART.map((_, i) => {
    const left = Math.round((CHART_AT.x - shift + (i % 6) * PATCH + 6) * scale)
    const upper = Math.round((CHART_AT.y - shift / 2 + Math.floor(i / 6) * PATCH + 6) * scale)
    const sum = [0, 0, 0]
    const side = Math.round(10 * scale)
    for (let y = upper; y < upper + side; y++)
      for (let x = left; x < left + side; x++)
        for (let c = 0; c < 3; c++) sum[c] += pixels[(y * width + x) * 3 + c] / most
    const linear = sum.map((v) => decoded(v / side ** 2)) as unknown as Triple
    return labFromXyz(apply(TO_D50, apply(SRGB, linear)))
  })
}

const decoded = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)
/** IEC 61966-2-1, rows of linear sRGB to XYZ (D65). */
const SRGB = [0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505] as never
const TO_D50 = adaptation(xyOf([0.9505, 1, 1.089]), D50)

/** Mean CIEDE2000 of two charts. */
export const chartDistance = (a: readonly Triple[], b: readonly Triple[]): number =>
  a.reduce((sum, lab, i) => sum + ciede2000(lab, b[i]), 0) / a.length
