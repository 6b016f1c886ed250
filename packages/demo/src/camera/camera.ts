import { apply, multiply, type Matrix3, type Triple, working } from '@dunkelkammer/core'
import { hash } from '../render/noise'

/**
 * The simulated camera. Its matrix, blur and noise are its own; nothing here is shared with the code that
 * develops its files.
 */
export interface CameraModel {
  make: string
  model: string
  lens: string
  /** XYZ (D65 scene) to the sensor's channels, before any balance. */
  colorMatrix: Matrix3
  bits: number
  black: number
  /** Stored value at saturation. */
  white: number
  /** Electrons at saturation at ISO 100. */
  fullWell: number
  /** Electrons of read noise. */
  readNoise: number
  /** Stored units by which whole rows wander. */
  rowNoise: number
  /** Share of photosites that are hot, and that are dead. */
  hot: number
  dead: number
  /** Rows of the optical blur, summing to 1. */
  blur: readonly (readonly number[])[]
}

/** A slightly lopsided spot, as measured ones are. */
const SPOT = [
  [0.002, 0.011, 0.016, 0.01, 0.002],
  [0.012, 0.054, 0.082, 0.05, 0.01],
  [0.018, 0.086, 0.25, 0.084, 0.016],
  [0.012, 0.056, 0.084, 0.052, 0.01],
  [0.002, 0.012, 0.018, 0.01, 0.002],
]
const SPOT_SUM = SPOT.flat().reduce((a, b) => a + b, 0)

export const veldrom: CameraModel = {
  make: 'Ostrava & Linde',
  model: 'Veldrom 3',
  lens: 'Veldrom 28 mm f/2.8',
  colorMatrix: [0.7821, -0.2317, -0.0914, -0.4523, 1.2648, 0.2096, -0.0787, 0.1794, 0.6251],
  bits: 14,
  black: 512,
  white: 15800,
  fullWell: 32000,
  readNoise: 3.2,
  rowNoise: 0.35,
  hot: 9e-6,
  dead: 2e-6,
  blur: SPOT.map((row) => row.map((v) => v / SPOT_SUM)),
}

/** Margin that the blur needs around a crop of radiance. */
export const BLUR_MARGIN = 2

const RGB_TO_XYZ = working.toXyz

/** Channel signals of the sensor (1 = saturation) for scene-linear Rec. 2020 of radiance 1 and a green of 1. */
export function response(camera: CameraModel): Matrix3 {
  const m = multiply(camera.colorMatrix, RGB_TO_XYZ)
  const white = apply(m, [1, 1, 1])
  return m.map((v) => v / white[1]) as unknown as Matrix3
}

/** The camera's answer to a light, largest 1: what it writes as the neutral it took. */
export function neutralOf(camera: CameraModel, light: Triple): Triple {
  const n = apply(response(camera), light)
  const top = Math.max(...n)
  return [n[0] / top, n[1] / top, n[2] / top]
}

/** What the lens lays on the sensor: radiance blurred. Crop plus BLUR_MARGIN on every side in, crop out. */
export function throughLens(
  camera: CameraModel,
  radiance: Float32Array,
  width: number,
  height: number,
): Float32Array {
  const out = new Float32Array(width * height * 3)
  const wide = width + 2 * BLUR_MARGIN
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 3; c++) {
        let sum = 0
        for (let j = 0; j < 5; j++)
          for (let i = 0; i < 5; i++) sum += camera.blur[j][i] * radiance[((y + j) * wide + x + i) * 3 + c]
        out[(y * width + x) * 3 + c] = sum
      }
  return out
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
  /** Off for the truth before noise and defects. */
  noise?: boolean
}

/** DNG noise profile of a shot: variance = a * signal + b, signal 0..1. */
export function noiseOf(camera: CameraModel, shot: Pick<Shot, 'iso'>): { a: number; b: number } {
  const electrons = camera.fullWell / (shot.iso / 100)
  return { a: 1 / electrons, b: (camera.readNoise / electrons) ** 2 }
}

/**
 * The mosaic of a crop.
 * @param light what the lens lays on the sensor, interleaved scene-linear Rec. 2020
 * @param x0, y0 place of the crop on the sensor
 * @returns stored values, one a photosite
 */
export function mosaicOf(
  camera: CameraModel,
  shot: Shot,
  light: Float32Array,
  x0: number,
  y0: number,
  width: number,
  height: number,
): Uint16Array {
  const out = new Uint16Array(width * height)
  const m = response(camera)
  const span = camera.white - camera.black
  const { a, b } = noiseOf(camera, shot)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const o = (y * width + x) * 3
      const c = filterAt(x0 + x, y0 + y)
      const signal =
        shot.exposure * (m[c * 3] * light[o] + m[c * 3 + 1] * light[o + 1] + m[c * 3 + 2] * light[o + 2])
      let stored = signal
      let rows = 0
      if (shot.noise !== false) {
        stored += gauss(x0 + x, y0 + y, shot.seed * 8) * Math.sqrt(Math.max(a * signal, 0) + b)
        rows = gauss(y0 + y, 0, shot.seed * 8 + 4) * camera.rowNoise
        const fate = hash(x0 + x, y0 + y, 9001)
        if (fate < camera.hot) stored += 0.08 + 0.5 * hash(x0 + x, y0 + y, 9002)
        else if (fate > 1 - camera.dead) stored = 0
      }
      const value = camera.black + Math.min(stored, 1) * span + rows
      out[y * width + x] = Math.min(Math.max(Math.round(value), 0), camera.white)
    }
  return out
}
