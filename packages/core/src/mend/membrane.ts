/**
 * Values known in some places, continued smoothly over all others: a convolution pyramid (Farbman, Fattal and
 * Lischinski 2011, "Convolution pyramids"), with their kernels for the interpolation of boundary values. It costs a
 * few operations a pixel, whatever the size of the gap.
 */

/** Down, up, and level by level, along each axis; symmetric. */
const DOWN = [0.1507, 0.6836, 1.0334, 0.6836, 0.1507] as const
/** What comes from below, once for both axes. */
const SHARE_BELOW = 0.027
const SAME = [0.0312, 0.7753, 0.0312] as const
/** Where the smaller picture ends the pyramid. */
const SMALLEST = 6

interface Plane {
  width: number
  height: number
  values: Float64Array
}

/** A plane weighed along both axes by a symmetric kernel; beyond its edge there is nothing. */
function filter({ width, height, values }: Plane, kernel: readonly number[]): Plane {
  const r = kernel.length >> 1
  const across = new Float64Array(width * height)
  const out = new Float64Array(width * height)
  for (let k = -r; k <= r; k++) {
    const weight = kernel[k + r]
    const [from, to] = [Math.max(-k, 0), width - Math.max(k, 0)]
    for (let y = 0; y < height; y++) {
      const line = y * width
      for (let x = from; x < to; x++) across[line + x] += weight * values[line + x + k]
    }
  }
  for (let k = -r; k <= r; k++) {
    const weight = kernel[k + r]
    const [from, to] = [Math.max(-k, 0), height - Math.max(k, 0)]
    for (let i = from * width, end = to * width, by = k * width; i < end; i++)
      out[i] += weight * across[i + by]
  }
  return { width, height, values: out }
}

/** A plane with room around it for what the filters spread. */
function padded({ width, height, values }: Plane, by: number): Plane {
  const out: Plane = { width: width + 2 * by, height: height + 2 * by, values: new Float64Array(0) }
  out.values = new Float64Array(out.width * out.height)
  for (let y = 0; y < height; y++)
    out.values.set(values.subarray(y * width, (y + 1) * width), (y + by) * out.width + by)
  return out
}

/** The convolution of a plane with a wide kernel that falls off from its middle. */
function spread(plane: Plane): Plane {
  const same = filter(plane, SAME)
  if (plane.width <= SMALLEST || plane.height <= SMALLEST) return same
  const room = padded(plane, 2)
  const wide = filter(room, DOWN)
  const half: Plane = {
    width: (room.width + 1) >> 1,
    height: (room.height + 1) >> 1,
    values: new Float64Array(0),
  }
  half.values = new Float64Array(half.width * half.height)
  for (let y = 0; y < half.height; y++)
    for (let x = 0; x < half.width; x++)
      half.values[y * half.width + x] = wide.values[2 * y * room.width + 2 * x]
  const below = spread(half)
  const risen: Plane = { ...room, values: new Float64Array(room.width * room.height) }
  for (let y = 0; y < half.height; y++)
    for (let x = 0; x < half.width; x++)
      risen.values[2 * y * room.width + 2 * x] = below.values[y * half.width + x]
  const up = filter(risen, DOWN)
  for (let y = 0; y < plane.height; y++)
    for (let x = 0; x < plane.width; x++)
      same.values[y * plane.width + x] += SHARE_BELOW * up.values[(y + 2) * room.width + x + 2]
  return same
}

/**
 * Continues values over planes of one size.
 * @param planes values line by line; those without weight count for nothing
 * @param weights 0 where nothing is known
 * @returns a value for each place; those that are known are smoothed as well. Zeros where nothing is known at all
 */
export function continueValues(
  planes: readonly Float64Array[],
  weights: Float64Array,
  width: number,
  height: number,
): Float64Array[] {
  const shares = spread({ width, height, values: weights }).values
  return planes.map((values) => {
    const weighed = values.map((v, i) => (weights[i] > 0 ? v * weights[i] : 0))
    return spread({ width, height, values: weighed }).values.map((v, i) =>
      shares[i] > 1e-12 ? v / shares[i] : 0,
    )
  })
}

/** Most values that are continued one by one where nothing else is said; of more, the means of small squares are. */
const MOST_VALUES = 400_000

/**
 * As `continueValues`, in little time and memory also where there are very many values. What is continued is smooth,
 * so little is lost.
 */
export function continueLargely(
  planes: readonly Float64Array[],
  weights: Float64Array,
  width: number,
  height: number,
  most = MOST_VALUES,
): Float64Array[] {
  const side = Math.ceil(Math.sqrt((width * height) / most))
  if (side <= 1) return continueValues(planes, weights, width, height)
  const [w, h] = [Math.ceil(width / side), Math.ceil(height / side)]
  const fewer = new Float64Array(w * h)
  const means = planes.map(() => new Float64Array(w * h))
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
  return continueValues(means, fewer, w, h).map((values) => enlarged(values, w, h, side, width, height))
}

/** Means of squares as values between which lines are drawn. */
function enlarged(
  values: Float64Array,
  w: number,
  h: number,
  side: number,
  width: number,
  height: number,
): Float64Array {
  const out = new Float64Array(width * height)
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
