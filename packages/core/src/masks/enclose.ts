import { smoothStep } from '../math'
import { ACROSS, contrasts } from './contrast'
import { boxMean, type Plane } from './planes'
import type { Guide } from './range'

/** How far edges are drawn on into gaps, pixels. */
const CLOSED = 2
/** A shape's heart: what lies deeper in it than this share of its deepest place. */
const HEART = 0.7
/** Levels of contrast that are told apart on the way outward. */
const LEVELS = 256
/** Contrasts around the limit over which it runs out, as a share of that. */
const SOFT = 0.25

/** Largest number in a square around each. @param r half its side; a few pixels */
function largest({ width, height, values }: Plane, r: number): Float32Array {
  const across = values.slice()
  for (let d = -r; d <= r; d++) {
    const [from, to] = [Math.max(-d, 0), Math.min(width - d, width)]
    for (let y = 0; y < height; y++)
      for (let i = y * width + from; i < y * width + to; i++)
        if (values[i + d] > across[i]) across[i] = values[i + d]
  }
  const out = across.slice()
  for (let d = -r; d <= r; d++) {
    const [from, to] = [Math.max(-d, 0) * width, Math.min(height - d, height) * width]
    for (let i = from; i < to; i++) if (across[i + d * width] > out[i]) out[i] = across[i + d * width]
  }
  return out
}

/** Samples to a side in which a shape's heart is looked for, about. */
const SAMPLES = 200

/** The heart of a shape, sampled every `step` pixels: what lies deepest in what is more than half of its most. */
function heartOf({ width, height, values }: Plane): { heart: Uint8Array; across: number; step: number } {
  const step = Math.max(Math.floor(Math.min(width, height) / SAMPLES), 1)
  const [across, down] = [Math.ceil(width / step), Math.ceil(height / step)]
  const samples = Float32Array.from({ length: across * down }, (_, i) => {
    const x = Math.min((i % across) * step + (step >> 1), width - 1)
    const y = Math.min(Math.floor(i / across) * step + (step >> 1), height - 1)
    return values[y * width + x]
  })
  const most = samples.reduce((a, v) => Math.max(a, v), 0)
  if (most === 0) return { heart: new Uint8Array(samples.length), across, step }
  // the picture's end is no border, but where there is no other
  const far = samples.every((v) => v >= most / 2) ? 0 : across + down
  const wide = across + 2
  const deep = new Int32Array(wide * (down + 2)).fill(far)
  const place = (i: number) => (Math.floor(i / across) + 1) * wide + (i % across) + 1
  samples.forEach((v, i) => (deep[place(i)] = v >= most / 2 ? across + down : 0))
  // two sweeps of the chessboard distance (Rosenfeld and Pfaltz 1966)
  const reach = (i: number, by: readonly number[]) => {
    const at = place(i)
    for (const d of by) deep[at] = Math.min(deep[at], deep[at + d] + 1)
  }
  for (let i = 0; i < samples.length; i++) reach(i, [-1, -wide - 1, -wide, 1 - wide])
  for (let i = samples.length - 1; i >= 0; i--) reach(i, [1, wide + 1, wide, wide - 1])
  const depths = samples.map((_, i) => deep[place(i)])
  const deepest = depths.reduce((a, v) => Math.max(a, v), 0)
  return { heart: Uint8Array.from(depths, (d) => (d >= HEART * deepest ? 1 : 0)), across, step }
}

/**
 * What of a shape can be reached from its heart without crossing an edge of the picture: the largest contrast on the
 * best way there is what counts (minimum spanning forest by levels, as in the image foresting transform, Falcão 2004).
 * @param shape how much of the shape there is, 0..1
 * @param contrast Oklab distance across an edge from which on it holds
 * @returns how much of each place lies inside, 0..1
 */
export function insideEdge(shape: Plane, guide: Guide, contrast: number): Float32Array {
  const { width, height, values } = shape
  const n = values.length
  const out = new Float32Array(n)
  const most = contrast * (1 + SOFT)
  const levelOf = (v: number) => Math.min(Math.floor((v / most) * (LEVELS - 1)), LEVELS - 1)
  // gaps in an edge are closed
  const edges = largest({ width, height, values: contrasts(shape, guide) }, CLOSED)
  const known = new Int16Array(n).fill(-1)
  // of each level a list of places, the last one first
  const lists = new Int32Array(LEVELS).fill(-1)
  const next = new Int32Array(n)
  const put = (i: number, level: number) => {
    known[i] = level
    next[i] = lists[level]
    lists[level] = i
  }
  const { heart, across, step } = heartOf(shape)
  for (let i = 0; i < n; i++) {
    const [x, y] = [i % width, Math.floor(i / width)]
    if (heart[Math.floor(y / step) * across + Math.floor(x / step)]) put(i, 0)
  }
  // beyond the last level nothing is reached
  for (let level = 0; level < LEVELS - 1; level++)
    while (lists[level] >= 0) {
      const i = lists[level]
      lists[level] = next[i]
      const x = i % width
      for (let side = 0; side < 4; side++) {
        if (side === 0 ? x === 0 : side === 1 && x === width - 1) continue
        const j = side === 0 ? i - 1 : side === 1 ? i + 1 : side === 2 ? i - width : i + width
        if (j < 0 || j >= n || known[j] >= 0 || values[j] === 0) continue
        const to = Math.max(level, levelOf(edges[j]))
        if (to < LEVELS - 1) put(j, to)
      }
    }
  const from = 1 - SOFT
  for (let i = 0; i < n; i++) {
    if (known[i] < 0) continue
    const share = ((known[i] / (LEVELS - 1)) * most) / contrast
    out[i] = 1 - smoothStep(Math.min(Math.max((share - from) / (2 * SOFT), 0), 1))
  }
  // an edge begins before its middle, by what it is measured over
  const whole = largest({ width, height, values: out }, ACROSS + CLOSED)
  return boxMean({ width, height, values: whole }, 1)
}
