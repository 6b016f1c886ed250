/**
 * log, exp and power from + - x / alone, in double precision: the same bits on every machine, where the host's
 * Math functions may differ from one engine to the next. For tables and settings, not for pixels.
 */

const LOG2E = 1.4426950408889634
const LN2 = 0.6931471805599453

/** log2 of a positive number, by the series of the inverse hyperbolic tangent. */
export function log2(x: number): number {
  let e = 0
  let m = x
  while (m >= Math.SQRT2) {
    m /= 2
    e++
  }
  while (m < Math.SQRT1_2) {
    m *= 2
    e--
  }
  const s = (m - 1) / (m + 1)
  const s2 = s * s
  let sum = 0
  for (let k = 25; k >= 1; k -= 2) sum = sum * s2 + 1 / k
  return e + 2 * LOG2E * s * sum
}

/** 2^x for |x| < 1000. */
export function exp2(x: number): number {
  const whole = Math.round(x)
  const f = (x - whole) * LN2
  let p = 1
  for (let k = 16; k >= 1; k--) p = 1 + (p * f) / k
  let scale = 1
  for (let k = 0; k < Math.abs(whole); k++) scale *= 2
  return whole < 0 ? p / scale : p * scale
}

/** x^p for positive x and p; 0 for what is not above 0. */
export const pow = (x: number, p: number): number => (x > 0 ? exp2(p * log2(x)) : 0)

/** Cube root with sign. */
export function cbrt(x: number): number {
  if (x === 0) return 0
  const a = Math.abs(x)
  let r = exp2(log2(a) / 3)
  r -= (r * r * r - a) / (3 * r * r)
  return x < 0 ? -r : r
}

const QUARTER = 1.5707963267948966

/** Sine and cosine of an angle in radians, |x| < 1000, by their series around the nearest quarter turn. */
export function sinCos(x: number): readonly [number, number] {
  const k = Math.round(x / QUARTER)
  const f = x - k * QUARTER
  let sine = 0
  let cosine = 0
  for (let n = 9; n >= 1; n -= 1) {
    sine = (1 - sine) * ((f * f) / (2 * n * (2 * n + 1)))
    cosine = (1 - cosine) * ((f * f) / (2 * n * (2 * n - 1)))
  }
  const s = f * (1 - sine)
  const c = 1 - cosine
  return (
    [
      [s, c],
      [c, -s],
      [-s, -c],
      [-c, s],
    ] as const
  )[((k % 4) + 4) % 4]
}

/** Sine and cosine of an angle in degrees. */
export const sinCosDegrees = (degrees: number): readonly [number, number] => sinCos((degrees * QUARTER) / 90)

/** Arc tangent in radians: the angle is halved twice, then its series. */
export function atan(x: number): number {
  const half = (t: number) => t / (1 + Math.sqrt(1 + t * t))
  const t = half(half(Math.min(Math.max(x, -1e12), 1e12)))
  const t2 = t * t
  let sum = 0
  for (let k = 45; k >= 1; k -= 2) sum = 1 / k - t2 * sum
  return 4 * t * sum
}

/** Angle of (x, y) in radians, -pi..pi. */
export function atan2(y: number, x: number): number {
  if (x > 0) return atan(y / x)
  if (x < 0) return atan(y / x) + (y < 0 ? -2 : 2) * QUARTER
  return y > 0 ? QUARTER : y < 0 ? -QUARTER : 0
}

/** Tangent of an angle in radians. */
export function tan(x: number): number {
  const [s, c] = sinCos(x)
  return s / c
}

/** Keys 1981, a = -1/2: interpolates, third-order exact, little ringing, no transcendental functions. */
export function cubic(x: number): number {
  const t = Math.abs(x)
  if (t < 1) return 1 + t * t * (1.5 * t - 2.5)
  if (t < 2) return 2 - t * (4 - t * (2.5 - 0.5 * t))
  return 0
}

export const degrees = (radians: number): number => (radians * 90) / QUARTER
export const radians = (degrees: number): number => (degrees * QUARTER) / 90
