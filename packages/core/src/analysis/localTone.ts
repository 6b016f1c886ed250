import { working } from '../colour'
import type { Kernels } from '../kernels/kernels'
import type { Raster, Scratch } from '../memory'
import { planeLength, planes } from '../steps/step'

/** Floats before the maps themselves: the mean of the local brightness, and room to keep lines aligned. */
const HEADER = 16

/** How local brightness is found. */
export interface Locality {
  /** Half the side of the windows, as a share of the long edge. */
  radius: number
  /** Variance in stops squared up to which differences count as texture of one surface. */
  texture: number
}

/** Surfaces of a picture: for tones, which ask what a place belongs to. */
export const SURFACES: Locality = { radius: 1 / 40, texture: 0.1 }
/** Lighting of a scene, wider than its things. */
export const LIGHTING: Locality = { radius: 1 / 12, texture: 1.2 }

export const localBytes = ({ width, height }: { width: number; height: number }): number =>
  (HEADER + 2 * width * height) * 4

/** Means over windows of 2r + 1 pixels square, those at the edges over what is there. */
function boxMean(src: Float32Array, w: number, h: number, r: number, out: Float32Array): void {
  const rows = new Float32Array(w * h)
  for (let y = 0; y < h; y++) {
    const o = y * w
    let sum = 0
    for (let x = 0; x < Math.min(r, w); x++) sum += src[o + x]
    for (let x = 0; x < w; x++) {
      if (x + r < w) sum += src[o + x + r]
      if (x - r - 1 >= 0) sum -= src[o + x - r - 1]
      rows[o + x] = sum / (Math.min(x + r, w - 1) - Math.max(x - r, 0) + 1)
    }
  }
  const sums = new Float64Array(w)
  for (let y = 0; y < Math.min(r, h); y++) for (let x = 0; x < w; x++) sums[x] += rows[y * w + x]
  for (let y = 0; y < h; y++) {
    const more = y + r < h ? (y + r) * w : -1
    const less = y - r - 1 >= 0 ? (y - r - 1) * w : -1
    const n = Math.min(y + r, h - 1) - Math.max(y - r, 0) + 1
    for (let x = 0; x < w; x++) {
      if (more >= 0) sums[x] += rows[more + x]
      if (less >= 0) sums[x] -= rows[less + x]
      out[y * w + x] = sums[x] / n
    }
  }
}

/**
 * Coefficients that give the brightness of the surface a place belongs to: base = a * log2(luminance) + b, by a
 * guided filter (He, Sun and Tang 2010; on the small picture as He and Sun 2015), whose regularisation gives way
 * where a window holds an edge, as Li et al. 2015 weight it: edges then stay edges and cast no halos.
 * @param overview linear working space
 * @param target byte address of `localBytes` bytes: mean of the base, then maps a and b of the overview's size
 */
export function surveyLocal(
  overview: Raster,
  { radius, texture }: Locality,
  target: number,
  kernels: Kernels,
  scratch: Scratch,
): void {
  const { width: w, height: h, stride } = overview
  const n = w * h
  const logs = scratch.take(planeLength(overview) * 4)
  kernels.log_luminance(
    ...planes(overview),
    planeLength(overview),
    scratch.floats(working.toXyz.slice(3, 6)),
    logs,
  )
  const wide = new Float32Array(scratch.memory.buffer, logs, planeLength(overview))
  const stops = new Float32Array(n)
  for (let y = 0; y < h; y++) stops.set(wide.subarray(y * stride, y * stride + w), y * w)
  const r = Math.max(1, Math.round(radius * Math.max(w, h)))
  const mean = new Float32Array(n)
  const squares = new Float32Array(n)
  const a = new Float32Array(n)
  const b = new Float32Array(n)
  for (let i = 0; i < n; i++) a[i] = stops[i] * stops[i]
  boxMean(stops, w, h, r, mean)
  boxMean(a, w, h, r, squares)
  for (let i = 0; i < n; i++) {
    const variance = Math.max(squares[i] - mean[i] * mean[i], 0)
    // beyond texture the windows hold an edge: what is smoothed falls with the square of how far beyond
    const edge = variance / texture
    a[i] = variance / (variance + texture / (1 + 8 * edge * edge))
    b[i] = mean[i] * (1 - a[i])
  }
  const out = new Float32Array(scratch.memory.buffer, target, HEADER + 2 * n)
  boxMean(a, w, h, r, out.subarray(HEADER, HEADER + n))
  boxMean(b, w, h, r, out.subarray(HEADER + n))
  let sum = 0
  for (let i = 0; i < n; i++) sum += out[HEADER + i] * stops[i] + out[HEADER + n + i]
  out.fill(0, 0, HEADER)
  out[0] = sum / n
}

export const mapsOf = (at: number, { width, height }: { width: number; height: number }) => ({
  a: at + HEADER * 4,
  b: at + (HEADER + width * height) * 4,
})
