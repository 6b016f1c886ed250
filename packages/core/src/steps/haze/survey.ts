import { localBytes, mapsOf, surveyLocal } from '../../analysis/localTone'
import { working } from '../../colour'
import type { Kernels } from '../../kernels/kernels'
import { log2, smoothStep, type Triple } from '../../math'
import { address, type Raster, type Scratch } from '../../memory'
import { NARROW } from '../relief/step'
import type { HazeSettings } from './schema'

/** Half the side of the windows in which something dark is looked for, and of those that smooth, of the long edge. */
const DARK_RADIUS = 1 / 60
const SMOOTH_RADIUS = 1 / 20
/** Variance in stops squared below which transmission does not follow the light. */
const EPS = 0.01
/** Share of the picture that tells the air: the haziest, and of its light the brighter part. */
const FARTHEST = 0.2
const BRIGHTER = 0.85
/**
 * Of windows with drawing in them, this share is looked at for the dark that every picture has. From a floor of
 * `from` of the picture's brightest light on there is haze, at `to` surely.
 */
const PRESENT = { share: 0.4, from: 0.06, to: 0.18 }
/** Differences in a window, of the brightest light, from which on it holds drawing. */
const DRAWN = 0.03
/** How much haze is taken to be there at least: a picture without any still shows what the control does. */
const LEAST_PRESENT = 0.12
const [WR, WG, WB] = working.toXyz.slice(3, 6)

/** Bytes that lie before the maps: the light of the air, and how surely there is haze. */
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
 * What a picture says of its haze (after He 2009): whether there is any, the light of the air, and the
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
  // minima of the colours alone: those of their least, and of shares of the air, follow from them
  const floors = [r, g, b].map((v) => minimum(v, w, h, radius))
  const [fr, fg, fb] = floors
  const windows = { dark: leastOf(fr, fg, fb), ...lightOf(r, g, b, w, h, radius) }
  const picked = settings.air === 'picked'
  const air: Triple = picked ? settings.picked : findAir(floors, windows)
  const there = picked ? 1 : presence(windows)
  new Float32Array(buffer, parts.air, 4).set([...air.map((v) => Math.max(v, 1e-3)), there])
  const [ar, ag, ab] = new Float32Array(buffer, parts.air, 3)
  const least = Float32Array.from(r, (_, i) => Math.min(r[i] / ar, g[i] / ag, b[i] / ab))
  const dark = fr.map((v, i) => Math.min(v / ar, fg[i] / ag, fb[i] / ab))
  const wide = Math.max(2, Math.round(SMOOTH_RADIUS * long))
  const room = (values?: Float32Array) => {
    const at = scratch.take((n + 4) * 4)
    if (values) new Float32Array(buffer, at, n).set(values)
    return at
  }
  const stops = windows.light.map((v) => log2(Math.max(v, 6.1e-5)))
  const t = Float32Array.from(dark, (d, i) => {
    // brighter than the air is a thing with a light of its own, or near: not haze
    const over = Math.max(least[i] - 1, 0)
    return Math.min(Math.max(1 - Math.min(Math.max(d, 0), 1) + over, 0.03), 1)
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

/** What windows of the picture hold: its light, and the least and most of it around every place. */
interface Windows {
  /** Least of all colours in the window. */
  dark: Float32Array
  light: Float32Array
  low: Float32Array
  high: Float32Array
}

function lightOf(
  r: Float32Array,
  g: Float32Array,
  b: Float32Array,
  w: number,
  h: number,
  radius: number,
): Omit<Windows, 'dark'> {
  const light = r.map((v, i) => WR * v + WG * g[i] + WB * b[i])
  const minus = minimum(
    light.map((v) => -v),
    w,
    h,
    radius,
  )
  return { light, low: minimum(light, w, h, radius), high: minus.map((v) => -v) }
}

/** How surely there is haze, from LEAST_PRESENT to 1: it leaves nothing dark in any window. */
function presence({ dark, light, low, high }: Windows): number {
  const top = quantile(light, 0.99)
  const drawn = dark.filter((_, i) => high[i] - low[i] > DRAWN * top)
  if (drawn.length === 0) return LEAST_PRESENT
  const floor = quantile(drawn, PRESENT.share) / Math.max(top, 1e-6)
  const { from, to } = PRESENT
  return LEAST_PRESENT + (1 - LEAST_PRESENT) * smoothStep((floor - from) / (to - from))
}

/**
 * The air's colour by what is never less in the haziest windows, which is air alone where something there is black;
 * its light by the brighter part of them, since no window is all air.
 */
function findAir(floors: readonly Float32Array[], { dark, light }: Windows): Triple {
  const order = Array.from(dark.keys()).sort((i, j) => dark[j] - dark[i] || i - j)
  const far = order.slice(0, Math.max(Math.ceil(order.length * FARTHEST), 4))
  const floor = floors.map((v) => far.reduce((sum, i) => sum + Math.max(v[i], 0), 0))
  const bright = quantile(
    Float32Array.from(far, (i) => light[i]),
    BRIGHTER,
  )
  const scale = bright / Math.max(WR * floor[0] + WG * floor[1] + WB * floor[2], 1e-9)
  return [floor[0] * scale, floor[1] * scale, floor[2] * scale]
}

/** The air's light as it was found, for showing. */
export const hazeAir = (scratch: Scratch, at: number): Triple => {
  const [x, y, z] = new Float32Array(scratch.memory.buffer, at, 3)
  return [x, y, z]
}

/** How surely the picture holds haze, 0 to 1. */
export const hazePresence = (scratch: Scratch, at: number): number =>
  new Float32Array(scratch.memory.buffer, at, 4)[3]
