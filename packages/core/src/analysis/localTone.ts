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
  /**
   * What is told from texture by staying when it is evened: half the side of the small windows as a share of
   * `radius`, and the variance in stops squared from which on it is an edge. Else every variance is one.
   */
  edge?: { evened: number; variance: number }
}

/** Surfaces of a picture: for tones, which ask what a place belongs to. */
export const SURFACES: Locality = {
  radius: 1 / 40,
  texture: 1,
  edge: { evened: 0.7, variance: 0.0103 },
}
/** Lighting of a scene, wider than its things. */
export const LIGHTING: Locality = { radius: 1 / 12, texture: 1.2 }

export const localBytes = ({ width, height }: { width: number; height: number }): number =>
  (HEADER + 2 * width * height) * 4

/**
 * Coefficients that give the brightness of the surface a place belongs to: base = a * log2(luminance) + b, by a
 * guided filter (He, Sun and Tang 2010; on the small picture as He and Sun 2015), whose regularisation gives way
 * where a window holds an edge, as Li et al. 2015 weight it: edges then stay edges and cast no halos. Fine texture
 * has as much variance as an edge but loses it when it is evened, so that it can be told apart.
 * @param overview linear working space
 * @param target byte address of `localBytes` bytes: mean of the base, then maps a and b of the overview's size
 */
export function surveyLocal(
  overview: Raster,
  { radius, texture, edge }: Locality,
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
  const { buffer } = scratch.memory
  const room = () => {
    const at = scratch.take((n + 4) * 4)
    return { at, values: new Float32Array(buffer, at, n) }
  }
  const [light, mean, squares, a, b, evened] = [room(), room(), room(), room(), room(), room()]
  const work = scratch.take((n + w) * 4)
  light.values.set(stops)
  for (let i = 0; i < n; i++) a.values[i] = stops[i] * stops[i]
  kernels.box_mean(light.at, mean.at, w, h, r, work)
  kernels.box_mean(a.at, squares.at, w, h, r, work)
  if (edge) {
    kernels.box_mean(light.at, b.at, w, h, Math.max(1, Math.round(r * edge.evened)), work)
    for (let i = 0; i < n; i++) a.values[i] = b.values[i] * b.values[i]
    kernels.box_mean(a.at, evened.at, w, h, r, work)
    kernels.box_mean(b.at, a.at, w, h, r, work)
    for (let i = 0; i < n; i++) evened.values[i] -= a.values[i] * a.values[i]
  }
  for (let i = 0; i < n; i++) {
    const m = mean.values[i]
    const variance = Math.max(squares.values[i] - m * m, 0)
    // what is smoothed falls fast beyond where the windows hold an edge
    let over: number
    if (edge) {
      const e = Math.max(evened.values[i], 0) / edge.variance
      over = e * e * e * e * e * e
    } else {
      const e = variance / texture
      over = 8 * e * e
    }
    a.values[i] = variance / (variance + texture / (1 + over))
    b.values[i] = m * (1 - a.values[i])
  }
  const out = new Float32Array(buffer, target, HEADER + 2 * n)
  const maps = mapsOf(target, overview)
  kernels.box_mean(a.at, maps.a, w, h, r, work)
  kernels.box_mean(b.at, maps.b, w, h, r, work)
  let sum = 0
  for (let i = 0; i < n; i++) sum += out[HEADER + i] * stops[i] + out[HEADER + n + i]
  out.fill(0, 0, HEADER)
  out[0] = sum / n
}

export const mapsOf = (at: number, { width, height }: { width: number; height: number }) => ({
  a: at + HEADER * 4,
  b: at + (HEADER + width * height) * 4,
})
