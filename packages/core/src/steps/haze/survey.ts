import { localBytes, mapsOf, surveyLocal } from '../../analysis/localTone'
import { working } from '../../colour'
import type { Kernels } from '../../kernels/kernels'
import { log2, type Triple } from '../../math'
import { address, type Raster, type Scratch } from '../../memory'
import { NARROW } from '../relief/step'
import type { HazeSettings } from './schema'

/** Half the side of the windows in which something dark is looked for, and of those that smooth, of the long edge. */
const DARK_RADIUS = 1 / 90
const SMOOTH_RADIUS = 1 / 14
/** Share of the windows that are taken to hold no haze: how bright the darkest of a window is without any. */
const NEAREST = 0.02
const MOST_NEAREST = 0.18
/** Variance in stops squared below which transmission does not follow the light. */
const EPS = 0.01
/** Share of the picture that is taken for nothing but air. */
const FARTHEST = 0.02
const [WR, WG, WB] = working.toXyz.slice(3, 6)

/** Bytes that lie before the maps: the light of the air. */
const HEADER = 64

export const hazeBytes = (size: { width: number; height: number }): number => HEADER + 2 * localBytes(size)

/** Where the survey's parts lie. */
export const hazeParts = (at: number, size: { width: number; height: number }) => ({
  air: at,
  transmission: at + HEADER,
  base: at + HEADER + localBytes(size),
})

/** Least of (2 r + 1)^2 neighbours, across then down. */
function minimum(src: Float32Array, w: number, h: number, r: number): Float32Array {
  const across = new Float32Array(w * h)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let least = Infinity
      for (let k = Math.max(x - r, 0); k <= Math.min(x + r, w - 1); k++)
        least = Math.min(least, src[y * w + k])
      across[y * w + x] = least
    }
  const out = new Float32Array(w * h)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let least = Infinity
      for (let k = Math.max(y - r, 0); k <= Math.min(y + r, h - 1); k++)
        least = Math.min(least, across[k * w + x])
      out[y * w + x] = least
    }
  return out
}

/**
 * What a picture says of its haze (after He 2009): the light of the air, where nothing in a window is dark; and the
 * transmission, by how dark the darkest of a window is, laid onto the picture's edges by a guided filter.
 * @param overview linear working space
 */
export function surveyHaze(
  overview: Raster,
  settings: HazeSettings,
  target: number,
  kernels: Kernels,
  scratch: Scratch,
): void {
  const { width: w, height: h } = overview
  const n = w * h
  const { buffer } = scratch.memory
  const [r, g, b] = [0, 1, 2].map((p) => {
    const out = new Float32Array(n)
    for (let y = 0; y < h; y++) out.set(new Float32Array(buffer, address(overview, p, 0, y), w), y * w)
    return out
  })
  const long = Math.max(w, h)
  const radius = Math.max(1, Math.round(DARK_RADIUS * long))
  const parts = hazeParts(target, overview)
  const air: Triple = settings.air === 'picked' ? settings.picked : findAir(r, g, b, w, h, radius)
  new Float32Array(buffer, parts.air, 4).set([...air.map((v) => Math.max(v, 1e-3)), 0])
  const [ar, ag, ab] = new Float32Array(buffer, parts.air, 3)
  const least = Float32Array.from(r, (_, i) => Math.min(r[i] / ar, g[i] / ag, b[i] / ab))
  const dark = minimum(least, w, h, radius)
  const own = Math.min(quantile(dark, NEAREST), MOST_NEAREST)
  const wide = Math.max(2, Math.round(SMOOTH_RADIUS * long))
  const room = (values?: Float32Array) => {
    const at = scratch.take((n + 4) * 4)
    if (values) new Float32Array(buffer, at, n).set(values)
    return at
  }
  const stops = Float32Array.from(r, (_, i) => log2(Math.max(WR * r[i] + WG * g[i] + WB * b[i], 6.1e-5)))
  const t = Float32Array.from(dark, (d, i) => {
    // brighter than the air is a thing with a light of its own, or near: not haze
    const over = Math.max(least[i] - 1, 0)
    return Math.min(Math.max(1 - Math.min(Math.max(d - own, 0) / (1 - own), 1) + over, 0.03), 1)
  })
  const work = scratch.take((n + w) * 4)
  const mean = (values: Float32Array) => {
    const to = room()
    kernels.box_mean(room(values), to, w, h, wide, work)
    return new Float32Array(buffer, to, n)
  }
  const ms = mean(stops)
  const mt = mean(t)
  const mss = mean(stops.map((v) => v * v))
  const mst = mean(stops.map((v, i) => v * t[i]))
  const slope = new Float32Array(n)
  const rest = new Float32Array(n)
  for (let i = 0; i < n; i++) {
    slope[i] = (mst[i] - ms[i] * mt[i]) / (Math.max(mss[i] - ms[i] * ms[i], 0) + EPS)
    rest[i] = mt[i] - slope[i] * ms[i]
  }
  const maps = mapsOf(parts.transmission, overview)
  new Float32Array(buffer, parts.transmission, 16).fill(0)
  kernels.box_mean(room(slope), maps.a, w, h, Math.max(1, wide >> 1), work)
  kernels.box_mean(room(rest), maps.b, w, h, Math.max(1, wide >> 1), work)
  surveyLocal(overview, NARROW, parts.base, kernels, scratch)
}

const leastOf = (r: Float32Array, g: Float32Array, b: Float32Array) =>
  Float32Array.from(r, (_, i) => Math.min(r[i], g[i], b[i]))

const quantile = (values: Float32Array, q: number) => {
  const sorted = values.slice().sort()
  return sorted[Math.min(Math.floor(q * sorted.length), sorted.length - 1)]
}

/** The light where nothing in a window is dark and all is alike: bright things have edges, air has none. */
function findAir(
  r: Float32Array,
  g: Float32Array,
  b: Float32Array,
  w: number,
  h: number,
  radius: number,
): Triple {
  const light = r.map((v, i) => WR * v + WG * g[i] + WB * b[i])
  const dark = minimum(leastOf(r, g, b), w, h, radius)
  const low = minimum(light, w, h, radius)
  const high = minimum(
    light.map((v) => -v),
    w,
    h,
    radius,
  )
  const likeAir = dark.map((v, i) => v - 2 * (-high[i] - low[i]))
  const order = Array.from(likeAir.keys()).sort((i, j) => likeAir[j] - likeAir[i] || i - j)
  const far = order.slice(0, Math.max(Math.ceil(order.length * FARTHEST), 4))
  const middle = (v: Float32Array) =>
    quantile(
      Float32Array.from(far, (i) => v[i]),
      0.5,
    )
  return [middle(r), middle(g), middle(b)]
}

/** The air's light as it was found, for showing. */
export const hazeAir = (scratch: Scratch, at: number): Triple => {
  const [x, y, z] = new Float32Array(scratch.memory.buffer, at, 3)
  return [x, y, z]
}
