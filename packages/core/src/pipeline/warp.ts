import { kernelWeights } from '../math'
import { address, strideFor, type Raster, type Scratch } from '../memory'
import { RADIUS_ENTRIES } from '../geometry'
import type { Kernels } from '../kernels/kernels'
import { loadWindow } from './load'

/** Byte address of a map of gains, its size, and how places of the read picture become places of the map. */
export interface Shading {
  map: number
  across: number
  down: number
  ax: number
  bx: number
  ay: number
  by: number
}

/** Where the pixels of a frame come from, at one size of the frame and of the picture that is read. Plain data. */
export interface Warp {
  /** See `map_line`. */
  numbers: Float32Array
  /** Byte address of the tables by radius. */
  tables: number
  /** Whether red and blue have places of their own. */
  channels: 1 | 3
  /** Gains by which light is multiplied, one map after the other. */
  shading: readonly Shading[]
  /** Pixels of the read picture per pixel of the frame, 1 or a little more. */
  ratio: number
  /** A smaller kernel, for a picture that moves. */
  quick: boolean
  /** The whole frame at this size. */
  frame: { width: number; height: number }
}

/** Pixels of a line that are sampled at once: their window stays in the cache. */
const PIECE = 192
/** Largest window, pixels: steep views are cut finer. */
const MOST = 1 << 19

/** Weights by kind and ratio: few differ. */
const known = new Map<string, Float32Array>()

function weightsOf({ quick, ratio }: Warp): Float32Array {
  const key = `${quick} ${ratio}`
  let found = known.get(key)
  if (!found) {
    if (known.size > 12) known.clear()
    known.set(key, (found = kernelWeights(quick, ratio)))
  }
  return found
}

/**
 * A window of the frame, sampled from the picture; beyond the frame its edge is repeated, beyond the picture there is
 * no light.
 * @param x, y place of the window in the frame, may be negative
 */
export function warpWindow(
  kernels: Kernels,
  scratch: Scratch,
  source: Raster,
  warp: Warp,
  x: number,
  y: number,
  width: number,
  height: number,
): Raster {
  const out = scratch.raster(width, height, 3)
  const { frame } = warp
  const left = Math.max(x, 0)
  const right = Math.min(x + width, frame.width)
  const top = Math.max(y, 0)
  const bottom = Math.min(y + height, frame.height)
  const mark = scratch.mark()
  const weights = scratch.bytes(new Uint8Array(weightsOf(warp).buffer))
  const numbers = scratch.floats(warp.numbers)
  const sampler: Sampler = { kernels, scratch, source, warp, weights, numbers, out, x, y }
  for (let px = left; px < right; px += PIECE)
    samplePiece(sampler, px, top, Math.min(PIECE, right - px), bottom - top)
  scratch.release(mark)
  const samples = new Float32Array(scratch.memory.buffer)
  for (let p = 0; p < 3; p++) {
    for (let j = top - y; j < bottom - y; j++) {
      const at = address(out, p, 0, j) / 4
      if (left > x) samples.fill(samples[at + left - x], at, at + left - x)
      if (right < x + width) samples.fill(samples[at + right - 1 - x], at + right - x, at + width)
    }
    for (let j = 0; j < height; j++) {
      const from = Math.min(Math.max(j, top - y), bottom - 1 - y)
      if (from !== j) scratch.copy(address(out, p, 0, from), address(out, p, 0, j), width * 4)
    }
  }
  return out
}

interface Sampler {
  kernels: Kernels
  scratch: Scratch
  source: Raster
  warp: Warp
  weights: number
  numbers: number
  out: Raster
  /** Place of the window in the frame. */
  x: number
  y: number
}

function samplePiece(s: Sampler, left: number, top: number, width: number, height: number): void {
  const { kernels, scratch, source, warp, out } = s
  const mark = scratch.mark()
  const n = strideFor(width)
  const line = n * 4
  const places = scratch.take(height * 7 * line)
  const bounds = scratch.floats([1e9, -1e9, 1e9, -1e9])
  for (let j = 0; j < height; j++) {
    const at = places + j * 7 * line
    kernels.map_line(s.numbers, warp.tables, RADIUS_ENTRIES, left, top + j, n, at, warp.channels)
    for (const c of warp.channels === 3 ? [0, 1, 2] : [1])
      kernels.extent_line(at + 2 * c * line, at + (2 * c + 1) * line, n, source.width, source.height, bounds)
  }
  const [x0, x1, y0, y1] = new Float32Array(scratch.memory.buffer, bounds, 4)
  const wx = Math.floor(x0 - 0.5) - 3
  const wy = Math.floor(y0 - 0.5) - 3
  const w = x1 < x0 ? 0 : Math.floor(x1 - 0.5) + 5 - wx + 1
  const h = x1 < x0 ? 0 : Math.floor(y1 - 0.5) + 5 - wy + 1
  if (w * h > MOST && (width > 4 || height > 1)) {
    scratch.release(mark)
    if (width > 4) {
      const half = (width >> 1) & ~3 || 4
      samplePiece(s, left, top, half, height)
      samplePiece(s, left + half, top, width - half, height)
    } else {
      samplePiece(s, left, top, width, height >> 1)
      samplePiece(s, left, top + (height >> 1), width, height - (height >> 1))
    }
    return
  }
  const result = scratch.take(3 * line)
  const to = (p: number, j: number) => address(out, p, left - s.x, top + j - s.y)
  if (w === 0) {
    for (let p = 0; p < 3; p++)
      for (let j = 0; j < height; j++) new Float32Array(scratch.memory.buffer, to(p, j), width).fill(0)
    scratch.release(mark)
    return
  }
  // where all of it lies in a picture of floats it is read in place; else a copy is made, with the edges repeated
  const inPlace =
    source.format === 'f32' && wx >= 0 && wy >= 0 && wx + w + 4 <= source.width && wy + h <= source.height
  const window = inPlace ? source : loadWindow(kernels, scratch, source, wx, wy, w, h)
  const plane = window.stride * window.height * 4
  // a line's last group of four must not run into the next line
  const direct = left - s.x + n <= out.stride
  const apart = direct ? to(1, 0) - to(0, 0) : line
  for (let j = 0; j < height; j++) {
    const at = places + j * 7 * line
    const end = direct ? to(0, j) : result
    const sample = (first: number, planes: number, c: number) =>
      kernels.sample_line(
        address(window, first, inPlace ? wx : 0, inPlace ? wy : 0),
        ...([window.stride, wx, wy, planes, plane, at + 2 * c * line, at + (2 * c + 1) * line, n] as const),
        ...([s.weights, warp.quick ? 4 : 6, source.width, source.height, at + 6 * line] as const),
        ...([end + first * apart, apart] as const),
      )
    if (warp.channels === 3) for (let c = 0; c < 3; c++) sample(c, 1, c)
    else sample(0, 3, 1)
    for (const { map, across, down, ax, bx, ay, by } of warp.shading) {
      for (let p = 0; p < 3; p++) {
        const sx = at + 2 * (warp.channels === 3 ? p : 1) * line
        const place = [sx, sx + line, n, map + p * across * down * 4, across, down, ax, bx, ay, by] as const
        kernels.shade_line(end + p * apart, ...place)
      }
    }
    if (!direct) for (let p = 0; p < 3; p++) scratch.copy(result + p * line, to(p, j), width * 4)
  }
  scratch.release(mark)
}
