import { smoothStep } from '../../math'
import { boxMean } from '../planes'
import type { Alike } from '../schema'
import type { Seen } from './small'

/** Lightness beside which colour and texture are measured: dark places have little of either to speak of. */
const DIM = 0.1
/** Half the squares over which grain is taken away, in which texture is measured, and around a sample. */
const GRAIN = 1
const TEXTURE = 4
const SAMPLE = 5
/** Differences of lightness, of colours and of texture that count as much, at a tolerance of 1. */
const SCALES = [0.5, 0.22, 0.22, 0.16] as const
/** How much of the spread within a sample is no difference. */
const SPREAD = 0.7
/** Differences from where on less is taken, and nothing. */
const FULL = 1
const NONE = 2
/** Share of what something is unlike the unlikes at which it begins to be taken, and is taken in full. */
const RATHER = { from: 0.35, to: 0.65 } as const
/** Share of a reach over which it runs out. */
const RUN_OUT = 0.25

const held = (v: number) => (v < 0 ? 0 : v > 1 ? 1 : v)

/** Lightness, colour over lightness, and how much lightness varies around each place. */
function features({ width, height, L, a, b }: Seen): Float32Array[] {
  const mean = (values: Float32Array, r: number) => boxMean({ width, height, values }, r)
  const [l, p, q] = [L, a, b].map((plane) => mean(plane, GRAIN))
  const wide = mean(L, TEXTURE)
  const square = mean(
    L.map((v) => v * v),
    TEXTURE,
  )
  const texture = new Float32Array(L.length)
  for (let i = 0; i < l.length; i++) {
    const per = 1 / (DIM + Math.max(l[i], 0))
    p[i] *= per
    q[i] *= per
    texture[i] = Math.sqrt(Math.max(square[i] - wide[i] * wide[i], 0)) / (DIM + Math.max(wide[i], 0))
  }
  return [l, p, q, texture]
}

/** Mean and spread of a plane in a square. */
function around(
  plane: Float32Array,
  { width, height }: Seen,
  x: number,
  y: number,
): { mean: number; spread: number } {
  let [sum, square, n] = [0, 0, 0]
  for (let j = Math.max(y - SAMPLE, 0); j <= Math.min(y + SAMPLE, height - 1); j++)
    for (let i = Math.max(x - SAMPLE, 0); i <= Math.min(x + SAMPLE, width - 1); i++) {
      const v = plane[j * width + i]
      sum += v
      square += v * v
      n++
    }
  const mean = sum / n
  return { mean, spread: Math.sqrt(Math.max(square / n - mean * mean, 0)) }
}

/**
 * How much each place resembles some samples in lightness, colour and texture, and rather them than those that it is
 * not to resemble.
 * @param long pixels of a long edge
 * @returns 0..1 of each place
 */
export function alikeShare(seen: Seen, { samples, tolerance }: Alike, long: number): Float32Array {
  const { width, height } = seen
  const n = width * height
  const planes = features(seen)
  /** How much the likes take, and how far the nearest like and unlike are. */
  const taken = new Float32Array(n)
  const near = new Float32Array(n).fill(Infinity)
  const other = new Float32Array(n).fill(Infinity)
  for (const { x, y, like, reach, strength } of samples) {
    const [px, py] = [x * long - 0.5, y * long - 0.5]
    const at = (v: number, most: number) => Math.min(Math.max(Math.round(v), 0), most)
    const means = planes.map((plane, k) => {
      const { mean, spread } = around(plane, seen, at(px, width - 1), at(py, height - 1))
      return { mean, per: 1 / (SCALES[k] * tolerance + SPREAD * spread) }
    })
    const far = reach * long
    const [left, right] = [Math.max(Math.ceil(px - far), 0), Math.min(Math.floor(px + far), width - 1)]
    const [top, bottom] = [Math.max(Math.ceil(py - far), 0), Math.min(Math.floor(py + far), height - 1)]
    for (let j = top; j <= bottom; j++)
      for (let i = left; i <= right; i++) {
        const off = Math.sqrt((i - px) ** 2 + (j - py) ** 2) / far
        if (off >= 1) continue
        const within = strength * smoothStep(held((1 - off) / RUN_OUT))
        const place = j * width + i
        let d = 0
        for (let k = 0; k < planes.length; k++) {
          const by = (planes[k][place] - means[k].mean) * means[k].per
          d += by * by
        }
        d = Math.sqrt(d)
        if (!like) {
          // the weaker, the farther away it seems
          other[place] = Math.min(other[place], d / Math.max(within, 1e-3))
          continue
        }
        near[place] = Math.min(near[place], d)
        taken[place] = Math.max(taken[place], within * smoothStep(held((NONE - d) / (NONE - FULL))))
      }
  }
  for (let i = 0; i < n; i++) {
    if (taken[i] === 0 || other[i] === Infinity) continue
    const [p, q] = [near[i] * near[i], other[i] * other[i]]
    const rather = q / Math.max(p + q, 1e-9)
    taken[i] *= smoothStep(held((rather - RATHER.from) / (RATHER.to - RATHER.from)))
  }
  return taken
}
