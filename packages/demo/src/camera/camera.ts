import { apply, type Matrix3, type Triple } from '@dunkelkammer/core'
import { hash } from '../render/noise'
import { calibrate, type FittedCalibration } from '../spectra/calibrate'
import { daylight, glowing } from '../spectra/lamps'
import { sceneResponse, veldromCurves, type SensorCurves } from '../spectra/sensor'

/**
 * The simulated camera. Its curves, noise and faults are its own; nothing here is shared with the code that develops
 * its files.
 */
export interface CameraModel {
  make: string
  model: string
  curves: SensorCurves
  /** Stored value of no light and of saturation at 14 bits; a quarter of them at 12. */
  black: number
  white: number
  /** Electrons at saturation at ISO 100. */
  fullWell: number
  /** Electrons of read noise. */
  readNoise: number
  /** Stored units at 14 bits by which whole rows wander. */
  rowNoise: number
  /** Share of photosites that are hot, and that are dead. */
  hot: number
  dead: number
  /** Part of a neighbour's signal that greens beside red and greens beside blue take on, as crosstalk does. */
  greenLeak: number
  /** Specks of dust on its cover glass. */
  dust: number
  /** How much longer a lens must be on full 35 mm film for the same view. */
  crop: number
}

export const veldrom: CameraModel = {
  make: 'Ostrava & Linde',
  model: 'Veldrom 3',
  curves: veldromCurves,
  black: 512,
  white: 15800,
  fullWell: 32000,
  readNoise: 3.2,
  rowNoise: 0.35,
  hot: 9e-6,
  dead: 2e-6,
  greenLeak: 0.012,
  dust: 9,
  crop: 1,
}

/** The same maker's small camera: fewer and smaller photosites. */
export const veldromPocket: CameraModel = {
  ...veldrom,
  model: 'Veldrom Pocket',
  fullWell: 24000,
  readNoise: 3,
  dust: 4,
  crop: 1.53,
}

const responses = new Map<CameraModel, Matrix3>()
const calibrations = new Map<CameraModel, readonly [FittedCalibration, FittedCalibration]>()

/** Channel signals of the sensor for scene-linear Rec. 2020, by way of spectra; 1 is the green of a radiance of 1. */
export function response(camera: CameraModel): Matrix3 {
  let found = responses.get(camera)
  if (!found) responses.set(camera, (found = sceneResponse(camera.curves)))
  return found
}

/** The maker's matrices under 2856 K and 6504 K. */
export function calibrationsOf(camera: CameraModel): readonly [FittedCalibration, FittedCalibration] {
  let found = calibrations.get(camera)
  if (!found) {
    found = [calibrate(camera.curves, glowing(2856)), calibrate(camera.curves, daylight(6504))]
    calibrations.set(camera, found)
  }
  return found
}

/** The camera's answer to a light, largest 1: what it writes as the neutral it took. */
export function neutralOf(camera: CameraModel, light: Triple): Triple {
  const n = apply(response(camera), light)
  const top = Math.max(...n)
  return [n[0] / top, n[1] / top, n[2] / top]
}

/** Colour of the filter at a place of the sensor: RGGB. */
export const filterAt = (x: number, y: number): 0 | 1 | 2 =>
  (y & 1) === 0 ? ((x & 1) === 0 ? 0 : 1) : (x & 1) === 0 ? 1 : 2

/** Two independent normal deviates in one, from the place alone (Box and Muller 1958). */
function gauss(x: number, y: number, seed: number): number {
  const u = Math.max(hash(x, y, seed), 1e-9)
  return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * hash(x, y, seed + 1))
}

/** How a shot is taken. */
export interface Shot {
  iso: number
  /** Sensor signal (1 = saturation) of green per unit of scene radiance. */
  exposure: number
  /** Number of the shot; its noise depends on it. */
  seed: number
  /** 14 where missing. */
  bits?: 12 | 14
  /** Off for the truth before noise, defects and dust. */
  noise?: boolean
}

/** Stored values of no light and of saturation at a shot's depth. */
export function levelsOf(camera: CameraModel, { bits = 14 }: Pick<Shot, 'bits'>) {
  const k = 2 ** (14 - bits)
  return { black: camera.black / k, white: camera.white / k, unit: 1 / k }
}

/** DNG noise profile of a shot: variance = a * signal + b, signal 0..1. */
export function noiseOf(camera: CameraModel, shot: Pick<Shot, 'iso'>): { a: number; b: number } {
  const electrons = camera.fullWell / (shot.iso / 100)
  return { a: 1 / electrons, b: (camera.readNoise / electrons) ** 2 }
}

/** A speck on the cover glass: place in parts of the long edge, radius in pixels, part of the light it takes. */
export interface Speck {
  x: number
  y: number
  radius: number
  depth: number
}

/** The specks of a camera, the same in all its frames. */
export const specksOf = (camera: CameraModel): Speck[] =>
  Array.from({ length: camera.dust }, (_, i) => ({
    x: 0.03 + 0.94 * hash(i, 1, 606),
    y: 0.02 + 0.62 * hash(i, 2, 606),
    radius: 4 + 10 * hash(i, 3, 606) ** 2,
    depth: 0.05 + 0.16 * hash(i, 4, 606),
  }))

function throughDust(specks: readonly Speck[], longEdge: number, x: number, y: number): number {
  let light = 1
  for (const s of specks) {
    const r = Math.hypot(x - s.x * longEdge, y - s.y * longEdge) / s.radius
    if (r < 1.3) light *= 1 - s.depth / (1 + Math.exp((r - 0.85) * 14))
  }
  return light
}

/**
 * The mosaic of a crop.
 * @param light what the lens lays on the sensor, interleaved scene-linear Rec. 2020
 * @param crop its place on the sensor, and the sensor's long edge where dust is to lie on it
 * @returns stored values, one a photosite
 */
export function mosaicOf(
  camera: CameraModel,
  shot: Shot,
  light: Float32Array,
  crop: { x: number; y: number; width: number; height: number; longEdge?: number },
): Uint16Array {
  const { width, height } = crop
  const out = new Uint16Array(width * height)
  const m = response(camera)
  const { black, white, unit } = levelsOf(camera, shot)
  const span = white - black
  const { a, b } = noiseOf(camera, shot)
  const noisy = shot.noise !== false
  const edge = crop.longEdge ?? 0
  const reach = {
    left: crop.x - 20,
    right: crop.x + width + 20,
    top: crop.y - 20,
    bottom: crop.y + height + 20,
  }
  const specks =
    noisy && edge
      ? specksOf(camera).filter(
          (s) =>
            s.x * edge > reach.left &&
            s.x * edge < reach.right &&
            s.y * edge > reach.top &&
            s.y * edge < reach.bottom,
        )
      : []
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const o = (y * width + x) * 3
      const sx = crop.x + x
      const sy = crop.y + y
      const c = filterAt(sx, sy)
      const seen = (k: number) =>
        m[k * 3] * light[o] + m[k * 3 + 1] * light[o + 1] + m[k * 3 + 2] * light[o + 2]
      let signal =
        shot.exposure * (c === 1 ? seen(1) + camera.greenLeak * seen((sy & 1) === 0 ? 0 : 2) : seen(c))
      if (specks.length) signal *= throughDust(specks, edge, sx, sy)
      let stored = signal
      let rows = 0
      if (noisy) {
        stored += gauss(sx, sy, shot.seed * 8) * Math.sqrt(Math.max(a * signal, 0) + b)
        rows = gauss(sy, 0, shot.seed * 8 + 4) * camera.rowNoise * unit
        const fate = hash(sx, sy, 9001)
        if (fate < camera.hot) stored += 0.08 + 0.5 * hash(sx, sy, 9002)
        else if (fate > 1 - camera.dead) stored = 0
      }
      const value = black + Math.min(stored, 1) * span + rows
      out[y * width + x] = Math.min(Math.max(Math.round(value), 0), white)
    }
  return out
}
