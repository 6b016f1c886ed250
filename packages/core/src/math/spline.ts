export type Point = readonly [number, number]

/**
 * A smooth curve through points that never turns where the points do not (Fritsch and Carlson 1980); beyond the ends
 * it stays at their height.
 * @param points at least two, their x strictly rising
 */
export function monotoneSpline(points: readonly Point[]): (x: number) => number {
  const n = points.length
  const slope = Array.from({ length: n - 1 }, (_, i) => {
    const [x0, y0] = points[i]
    const [x1, y1] = points[i + 1]
    return (y1 - y0) / (x1 - x0)
  })
  const m = points.map((_, i) => {
    if (i === 0) return slope[0]
    if (i === n - 1) return slope[n - 2]
    if (slope[i - 1] * slope[i] <= 0) return 0
    // harmonic mean, weighted by the neighbours' widths
    const h0 = points[i][0] - points[i - 1][0]
    const h1 = points[i + 1][0] - points[i][0]
    return (3 * (h0 + h1)) / ((2 * h1 + h0) / slope[i - 1] + (h1 + 2 * h0) / slope[i])
  })
  // the ends must not overshoot either
  for (const [i, s] of [
    [0, slope[0]],
    [n - 1, slope[n - 2]],
  ] as const)
    m[i] = s === 0 ? 0 : Math.sign(s) * Math.min(Math.abs(m[i]), 3 * Math.abs(s))
  return (x) => {
    if (x <= points[0][0]) return points[0][1]
    if (x >= points[n - 1][0]) return points[n - 1][1]
    let k = 0
    while (x > points[k + 1][0]) k++
    const [x0, y0] = points[k]
    const [x1, y1] = points[k + 1]
    const h = x1 - x0
    const t = (x - x0) / h
    const u = 1 - t
    return y0 * u * u * (1 + 2 * t) + y1 * t * t * (3 - 2 * t) + h * t * u * (m[k] * u - m[k + 1] * t)
  }
}

/** 0 up to 0, 1 from 1 on, level at both ends. */
export const smoothStep = (x: number): number => {
  const t = Math.min(Math.max(x, 0), 1)
  return t * t * (3 - 2 * t)
}
