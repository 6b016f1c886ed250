import { smoothStep } from '../../math'
import { boxMean, extremeInSquare } from '../planes'
import type { Alike } from '../schema'
import type { Seen } from './small'

/** Lightness beside which colour and texture are measured: dark places have little of either to speak of. */
const DIM = 0.1
/** Half the squares over which grain is taken away, in which texture is measured, and around a sample. */
const GRAIN = 1
const TEXTURE = 2
const SAMPLE = 5
/** Difference of colour from where on a place beside lies on another side of an edge. */
const SIDE = 0.04
/** Squared distance from the middle of a sample, in scales, from where on a place belongs to something else. */
const OTHER = 0.12
/** Differences of lightness, of colours and of texture that count as much, at a tolerance of 1. */
const SCALES = [0.5, 0.22, 0.22, 0.25] as const
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

/** A place's own side of an edge: the mean of what is around it and looks like it (sigma filter, Lee 1983). */
function ownSide({ width, height, L, a, b }: Seen): Seen {
  const [l, p, q] = [L.slice(), a.slice(), b.slice()]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      let [sum, sL, sa, sb] = [0, 0, 0, 0]
      for (let v = Math.max(y - GRAIN, 0); v <= Math.min(y + GRAIN, height - 1); v++)
        for (let u = Math.max(x - GRAIN, 0); u <= Math.min(x + GRAIN, width - 1); u++) {
          const j = v * width + u
          const d = ((L[j] - L[i]) ** 2 + 4 * ((a[j] - a[i]) ** 2 + (b[j] - b[i]) ** 2)) / (SIDE * SIDE)
          const w = 1 / (1 + d * d)
          sum += w
          sL += w * L[j]
          sa += w * a[j]
          sb += w * b[j]
        }
      l[i] = sL / sum
      p[i] = sa / sum
      q[i] = sb / sum
    }
  return { width, height, L: l, a: p, b: q }
}

/** How much a plane varies in the calmest of the squares that a place lies in. */
function calmest({ width, height, L }: Seen): Float32Array {
  const mean = (values: Float32Array) => boxMean({ width, height, values }, TEXTURE)
  const wide = mean(L)
  const varies = mean(L.map((v) => v * v)).map(
    (v, i) => Math.sqrt(Math.max(v - wide[i] * wide[i], 0)) / (DIM + Math.max(wide[i], 0)),
  )
  return extremeInSquare({ width, height, values: varies }, -TEXTURE)
}

/** Lightness, colour over lightness, and how much lightness varies around each place. */
function features(seen: Seen): Float32Array[] {
  const { L, a, b } = ownSide(seen)
  const [p, q] = [a, b].map((plane) => plane.map((v, i) => v / (DIM + Math.max(L[i], 0))))
  return [L, p, q, calmest(seen)]
}

/** Mean and spread of each plane around a place, of what looks like it. */
function around(
  planes: readonly Float32Array[],
  { width, height }: Seen,
  x: number,
  y: number,
): { mean: number; spread: number }[] {
  const at = y * width + x
  let n = 0
  const sums = planes.map(() => ({ sum: 0, square: 0 }))
  for (let v = Math.max(y - SAMPLE, 0); v <= Math.min(y + SAMPLE, height - 1); v++)
    for (let u = Math.max(x - SAMPLE, 0); u <= Math.min(x + SAMPLE, width - 1); u++) {
      const i = v * width + u
      let d = 0
      for (let k = 0; k < 3; k++) d += ((planes[k][i] - planes[k][at]) / SCALES[k]) ** 2
      if (d > OTHER) continue
      n++
      planes.forEach((plane, k) => {
        sums[k].sum += plane[i]
        sums[k].square += plane[i] * plane[i]
      })
    }
  return sums.map(({ sum, square }) => {
    const mean = sum / n
    return { mean, spread: Math.sqrt(Math.max(square / n - mean * mean, 0)) }
  })
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
    const means = around(planes, seen, at(px, width - 1), at(py, height - 1)).map(({ mean, spread }, k) => ({
      mean,
      per: 1 / (SCALES[k] * tolerance + SPREAD * spread),
    }))
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
