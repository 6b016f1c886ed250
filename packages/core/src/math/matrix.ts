/** A 3 x 3 matrix by rows. */
export type Matrix3 = readonly [number, number, number, number, number, number, number, number, number]
export type Triple = readonly [number, number, number]

export const identity: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1]

export const diagonal = (d: Triple): Matrix3 => [d[0], 0, 0, 0, d[1], 0, 0, 0, d[2]]

export const apply = (m: Matrix3, v: Triple): Triple => [
  m[0] * v[0] + m[1] * v[1] + m[2] * v[2],
  m[3] * v[0] + m[4] * v[1] + m[5] * v[2],
  m[6] * v[0] + m[7] * v[1] + m[8] * v[2],
]

/** a x b: first b, then a. */
export function multiply(a: Matrix3, b: Matrix3): Matrix3 {
  const out = new Array<number>(9)
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++)
      out[i * 3 + j] = a[i * 3] * b[j] + a[i * 3 + 1] * b[3 + j] + a[i * 3 + 2] * b[6 + j]
  return out as unknown as Matrix3
}

/** Product from left to right: the last one acts first. */
export const chain = (...matrices: Matrix3[]): Matrix3 => matrices.reduce(multiply)

/** @throws RangeError where the matrix is singular */
export function invert(m: Matrix3): Matrix3 {
  const [a, b, c, d, e, f, g, h, i] = m
  const A = e * i - f * h
  const B = f * g - d * i
  const C = d * h - e * g
  const det = a * A + b * B + c * C
  if (!(Math.abs(det) > 1e-12)) throw new RangeError('a singular colour matrix')
  return [
    A / det,
    (c * h - b * i) / det,
    (b * f - c * e) / det,
    B / det,
    (a * i - c * g) / det,
    (c * d - a * f) / det,
    C / det,
    (b * g - a * h) / det,
    (a * e - b * d) / det,
  ]
}

/** Entry by entry a + (b - a) * t. */
export const lerp = (a: Matrix3, b: Matrix3, t: number): Matrix3 =>
  a.map((v, i) => v + (b[i] - v) * t) as unknown as Matrix3

/** Each row divided so that (1, 1, 1) maps to (1, 1, 1). */
export function keepWhite(m: Matrix3): Matrix3 {
  const s = apply(m, [1, 1, 1])
  return m.map((v, i) => v / s[Math.floor(i / 3)]) as unknown as Matrix3
}
