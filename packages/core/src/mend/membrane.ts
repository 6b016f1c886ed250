import type { Kernels } from '../kernels/kernels'
import type { Scratch } from '../memory'

/** Three planes of one size, line by line. */
export type Three = readonly [Float32Array, Float32Array, Float32Array]

/** Share of what is known below which nothing counts as known. */
const NOTHING = 1e-12

/**
 * Continues values that are known in some places smoothly over all others: a convolution pyramid (Farbman, Fattal and
 * Lischinski 2011, "Convolution pyramids"). It costs a few operations a pixel, whatever the size of the gap.
 * @param planes values line by line; those without weight count for nothing
 * @param weights 0 where nothing is known
 * @returns a value for each place; those that are known are smoothed as well. Zeros where nothing is known at all
 */
export function continueValues(
  kernels: Kernels,
  scratch: Scratch,
  planes: Three,
  weights: Float32Array,
  width: number,
  height: number,
): Three {
  const n = width * height
  const mark = scratch.mark()
  const at = scratch.take(n * 16)
  const values = new Float32Array(scratch.memory.buffer, at, n * 4)
  const [r, g, b] = planes
  for (let i = 0; i < n; i++) {
    const weight = weights[i]
    const known = weight > 0
    values[4 * i] = known ? weight * r[i] : 0
    values[4 * i + 1] = known ? weight * g[i] : 0
    values[4 * i + 2] = known ? weight * b[i] : 0
    values[4 * i + 3] = weight
  }
  kernels.spread(at, width, height, scratch.take((2 * n + 256) * 16))
  const out = [new Float32Array(n), new Float32Array(n), new Float32Array(n)] as const
  for (let i = 0; i < n; i++) {
    const share = values[4 * i + 3]
    if (share <= NOTHING) continue
    out[0][i] = values[4 * i] / share
    out[1][i] = values[4 * i + 1] / share
    out[2][i] = values[4 * i + 2] / share
  }
  scratch.release(mark)
  return out
}

/** Most values that are continued one by one where nothing else is said; of more, the means of small squares are. */
const MOST_VALUES = 400_000

/**
 * As `continueValues`, in little time and memory also where there are very many values. What is continued is smooth,
 * so little is lost.
 */
export function continueLargely(
  kernels: Kernels,
  scratch: Scratch,
  planes: Three,
  weights: Float32Array,
  width: number,
  height: number,
  most = MOST_VALUES,
): Three {
  const side = Math.ceil(Math.sqrt((width * height) / most))
  if (side <= 1) return continueValues(kernels, scratch, planes, weights, width, height)
  const [w, h] = [Math.ceil(width / side), Math.ceil(height / side)]
  const fewer = new Float32Array(w * h)
  const means = [new Float32Array(w * h), new Float32Array(w * h), new Float32Array(w * h)] as const
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x
      if (weights[at] === 0) continue
      const to = Math.floor(y / side) * w + Math.floor(x / side)
      fewer[to] += weights[at]
      planes.forEach((plane, c) => (means[c][to] += weights[at] * plane[at]))
    }
  for (const mean of means) for (let i = 0; i < mean.length; i++) if (fewer[i] > 0) mean[i] /= fewer[i]
  for (let i = 0; i < fewer.length; i++) fewer[i] /= side
  const [r, g, b] = continueValues(kernels, scratch, means, fewer, w, h)
  const large = (values: Float32Array) => enlarged(values, w, h, side, width, height)
  return [large(r), large(g), large(b)]
}

/** Means of squares as values between which lines are drawn. */
function enlarged(
  values: Float32Array,
  w: number,
  h: number,
  side: number,
  width: number,
  height: number,
): Float32Array {
  const out = new Float32Array(width * height)
  const place = (at: number, most: number) => {
    const p = Math.min(Math.max((at + 0.5) / side - 0.5, 0), most)
    const first = Math.min(Math.floor(p), Math.max(most - 1, 0))
    return { first, next: Math.min(first + 1, most), share: p - first }
  }
  for (let y = 0; y < height; y++) {
    const v = place(y, h - 1)
    for (let x = 0; x < width; x++) {
      const u = place(x, w - 1)
      const above = values[v.first * w + u.first] * (1 - u.share) + values[v.first * w + u.next] * u.share
      const below = values[v.next * w + u.first] * (1 - u.share) + values[v.next * w + u.next] * u.share
      out[y * width + x] = above * (1 - v.share) + below * v.share
    }
  }
  return out
}
