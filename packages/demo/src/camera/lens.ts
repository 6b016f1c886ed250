/**
 * A lens as a table of what it does, by distance from the centre of the picture; no formula that a correction could
 * simply invert. All radii in parts of half the diagonal.
 */
export interface LensModel {
  name: string
  /** At radius 0, 0.1 .. 1.1: how much farther out than on the sensor the light would lie without the lens's fault. */
  distortion: readonly number[]
  /** The same for red and blue beyond that of green. */
  fringeRed: readonly number[]
  fringeBlue: readonly number[]
  /** Light that arrives, 1 in the centre. */
  fallOff: readonly number[]
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
const blur = SPOT.map((row) => row.map((v) => v / SPOT_SUM))
const none = new Array<number>(12).fill(0)

/** Without faults but for its blur. */
export const perfect: LensModel = {
  name: 'Veldrom 28 mm f/2.8',
  distortion: none,
  fringeRed: none,
  fringeBlue: none,
  fallOff: new Array<number>(12).fill(1),
  blur,
}

/** Wide: barrel distortion that comes back toward the corners, clear fringes and fall-off. */
export const wide: LensModel = {
  name: 'Veldrom 20 mm f/4',
  distortion: [0, 0.0003, 0.0014, 0.0033, 0.0061, 0.0096, 0.0135, 0.0173, 0.0205, 0.0227, 0.0236, 0.0231],
  fringeRed: [
    0, 0.00001, 0.00004, 0.00008, 0.00013, 0.00019, 0.00026, 0.00034, 0.00043, 0.00053, 0.00064, 0.00077,
  ],
  fringeBlue: [
    0, -0.00002, -0.00005, -0.0001, -0.00016, -0.00022, -0.00028, -0.00033, -0.00037, -0.0004, -0.00042,
    -0.00043,
  ],
  fallOff: [1, 0.994, 0.977, 0.949, 0.911, 0.864, 0.81, 0.75, 0.686, 0.619, 0.552, 0.486],
  blur,
}

/** Normal: a little pincushion, little else. */
export const normal: LensModel = {
  name: 'Veldrom 35 mm f/2',
  distortion: [
    0, -0.0001, -0.0003, -0.0007, -0.0013, -0.002, -0.0028, -0.0037, -0.0046, -0.0054, -0.0061, -0.0066,
  ],
  fringeRed: none,
  fringeBlue: [
    0, 0.00001, 0.00002, 0.00003, 0.00005, 0.00007, 0.0001, 0.00013, 0.00017, 0.00021, 0.00026, 0.00032,
  ],
  fallOff: [1, 0.998, 0.992, 0.982, 0.968, 0.95, 0.928, 0.902, 0.872, 0.838, 0.8, 0.758],
  blur,
}

/** Long: nearly straight, no fringes, a little dark in the corners. */
export const long: LensModel = {
  name: 'Veldrom 50-100 mm f/2.8',
  distortion: [0, 0, -0.0001, -0.0002, -0.0003, -0.0005, -0.0007, -0.001, -0.0012, -0.0014, -0.0016, -0.0017],
  fringeRed: none,
  fringeBlue: none,
  fallOff: [1, 0.999, 0.997, 0.993, 0.987, 0.979, 0.968, 0.955, 0.94, 0.922, 0.902, 0.88],
  blur,
}

/** A table's value at a radius, by cubics through its points (Catmull and Rom 1974). */
export function tabulated(table: readonly number[], radius: number): number {
  const t = Math.min(radius * 10, table.length - 1.001)
  const i = Math.floor(t)
  const f = t - i
  const at = (k: number) => table[Math.min(Math.max(k, 0), table.length - 1)]
  // even about the centre: the point before the first is the second
  const a = i === 0 ? table[1] : at(i - 1)
  const [b, c, d] = [at(i), at(i + 1), at(i + 2)]
  return b + 0.5 * f * (c - a + f * (2 * a - 5 * b + 4 * c - d + f * (3 * (b - c) + d - a)))
}

/** Margin that the blur needs around a crop. */
export const BLUR_MARGIN = 2

/** An interleaved RGB picture that stands for a part of a larger one. */
export interface Piece {
  x: number
  y: number
  width: number
  height: number
  rgb: Float32Array
}

interface FrameSize {
  width: number
  height: number
}

/** Where the light on a place of the sensor would lie without the lens's faults, pixels of the frame. */
export function undistorted(
  lens: LensModel,
  frame: FrameSize,
  x: number,
  y: number,
  channel: 0 | 1 | 2,
): [number, number] {
  const half = Math.hypot(frame.width, frame.height) / 2
  const dx = x - frame.width / 2
  const dy = y - frame.height / 2
  const r = Math.hypot(dx, dy) / half
  const fringe = channel === 0 ? lens.fringeRed : channel === 2 ? lens.fringeBlue : none
  const s = 1 + tabulated(lens.distortion, r) + tabulated(fringe, r)
  return [frame.width / 2 + dx * s, frame.height / 2 + dy * s]
}

/** The part of the scene that a crop of the sensor needs, blur and resampling included. */
export function needed(lens: LensModel, frame: FrameSize, crop: Omit<Piece, 'rgb'>): Omit<Piece, 'rgb'> {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity]
  const visit = (x: number, y: number) => {
    for (const c of [0, 1, 2] as const) {
      const [u, v] = undistorted(lens, frame, x, y, c)
      left = Math.min(left, u)
      right = Math.max(right, u)
      top = Math.min(top, v)
      bottom = Math.max(bottom, v)
    }
  }
  const m = BLUR_MARGIN
  for (let k = 0; k <= 16; k++) {
    const x = crop.x - m + ((crop.width + 2 * m) * k) / 16
    const y = crop.y - m + ((crop.height + 2 * m) * k) / 16
    for (const side of [crop.y - m, crop.y + crop.height + m]) visit(x, side)
    for (const side of [crop.x - m, crop.x + crop.width + m]) visit(side, y)
  }
  const x = Math.floor(left) - 3
  const y = Math.floor(top) - 3
  return { x, y, width: Math.ceil(right) + 4 - x, height: Math.ceil(bottom) + 4 - y }
}

const keys = (t: number) => {
  const a = Math.abs(t)
  return a < 1 ? 1 + a * a * (1.5 * a - 2.5) : a < 2 ? 2 - a * (4 - a * (2.5 - 0.5 * a)) : 0
}

/** One channel of a piece between its pixels (Keys 1981); its edge goes on outside. */
function sampleAt(p: Piece, x: number, y: number, c: number): number {
  const fx = x - p.x - 0.5
  const fy = y - p.y - 0.5
  const ix = Math.floor(fx)
  const iy = Math.floor(fy)
  let sum = 0
  for (let j = -1; j <= 2; j++) {
    const wy = keys(fy - iy - j)
    const row = Math.min(Math.max(iy + j, 0), p.height - 1) * p.width
    for (let i = -1; i <= 2; i++)
      sum += wy * keys(fx - ix - i) * p.rgb[(row + Math.min(Math.max(ix + i, 0), p.width - 1)) * 3 + c]
  }
  return Math.max(sum, 0)
}

/**
 * What the lens lays on a crop of the sensor.
 * @param scene radiance of at least the part that `needed` names
 * @returns interleaved RGB of the crop
 */
export function throughLens(
  lens: LensModel,
  frame: FrameSize,
  scene: Piece,
  crop: Omit<Piece, 'rgb'>,
): Float32Array {
  const m = BLUR_MARGIN
  const wide = crop.width + 2 * m
  const high = crop.height + 2 * m
  const straight = [lens.distortion, lens.fringeRed, lens.fringeBlue].every((t) => t.every((v) => v === 0))
  const bent = new Float32Array(wide * high * 3)
  for (let y = 0; y < high; y++)
    for (let x = 0; x < wide; x++)
      for (const c of [0, 1, 2] as const) {
        const px = crop.x - m + x
        const py = crop.y - m + y
        if (straight) {
          const sx = Math.min(Math.max(px - scene.x, 0), scene.width - 1)
          const sy = Math.min(Math.max(py - scene.y, 0), scene.height - 1)
          bent[(y * wide + x) * 3 + c] = scene.rgb[(sy * scene.width + sx) * 3 + c]
        } else {
          const [u, v] = undistorted(lens, frame, px + 0.5, py + 0.5, c)
          bent[(y * wide + x) * 3 + c] = sampleAt(scene, u, v, c)
        }
      }
  const out = new Float32Array(crop.width * crop.height * 3)
  const half = Math.hypot(frame.width, frame.height) / 2
  for (let y = 0; y < crop.height; y++)
    for (let x = 0; x < crop.width; x++) {
      const r = Math.hypot(crop.x + x + 0.5 - frame.width / 2, crop.y + y + 0.5 - frame.height / 2) / half
      const fall = tabulated(lens.fallOff, r)
      for (let c = 0; c < 3; c++) {
        let sum = 0
        for (let j = 0; j < 5; j++)
          for (let i = 0; i < 5; i++) sum += lens.blur[j][i] * bent[((y + j) * wide + x + i) * 3 + c]
        out[(y * crop.width + x) * 3 + c] = sum * fall
      }
    }
  return out
}
