import { piecesOf } from './pieces'
import { boxMean, type Plane } from './planes'
import type { Guide } from './range'

/** Colours weigh as much as lightness. */
const COLOUR = 3
/** Differences of the guide below the root of this are no edge. */
const FLAT = 4e-5

type Fit = [Float32Array, Float32Array, Float32Array, Float32Array]

/**
 * A mask as a linear function of a picture around each place, so that its edges are those of the picture (He 2010,
 * guided filter with three channels).
 * @param r half the side of the squares in which the function is found
 * @returns its factors of L, a and b, and what is added
 */
export function fitToGuide(mask: Plane, guide: Guide, r: number): Fit {
  const out = [0, 1, 2, 3].map(() => new Float32Array(mask.width * mask.height)) as Fit
  for (const { around, cut, put } of piecesOf(mask, 2 * r)) {
    const part = { ...around, values: cut(mask.values) }
    // where the mask is even it follows nothing
    const even = part.values.every((v) => v === part.values[0])
    if (even) put(part.values, out[3])
    else
      fitPiece(part, { L: cut(guide.L), a: cut(guide.a), b: cut(guide.b) }, r).forEach((plane, i) =>
        put(plane, out[i]),
      )
  }
  return out
}

function fitPiece(mask: Plane, guide: Guide, r: number): Fit {
  const n = mask.values.length
  const mean = (values: Float32Array) => boxMean({ ...mask, values }, r)
  const times = (a: Float32Array, b: Float32Array) => {
    const out = new Float32Array(n)
    for (let i = 0; i < n; i++) out[i] = a[i] * b[i]
    return out
  }
  const scaled = (a: Float32Array) => a.map((v) => v * COLOUR)
  const planes = [guide.L, scaled(guide.a), scaled(guide.b)]
  const means = planes.map(mean)
  const p = mean(mask.values)
  const cross = planes.map((c) => mean(times(c, mask.values)))
  const pairs = [
    [0, 0],
    [0, 1],
    [0, 2],
    [1, 1],
    [1, 2],
    [2, 2],
  ].map(([i, j]) => mean(times(planes[i], planes[j])))
  const [fL, fa, fb, add] = [0, 1, 2, 3].map(() => new Float32Array(n))
  for (let i = 0; i < n; i++) {
    const [x, y, z] = [means[0][i], means[1][i], means[2][i]]
    const a = pairs[0][i] - x * x + FLAT
    const b = pairs[1][i] - x * y
    const c = pairs[2][i] - x * z
    const d = pairs[3][i] - y * y + FLAT
    const e = pairs[4][i] - y * z
    const f = pairs[5][i] - z * z + FLAT
    const [u, v, w] = [cross[0][i] - x * p[i], cross[1][i] - y * p[i], cross[2][i] - z * p[i]]
    // the symmetric matrix's inverse by its cofactors
    const [A, B, C] = [d * f - e * e, c * e - b * f, b * e - c * d]
    const [D, E, F] = [a * f - c * c, b * c - a * e, a * d - b * b]
    const per = 1 / (a * A + b * B + c * C)
    fL[i] = (A * u + B * v + C * w) * per
    fa[i] = (B * u + D * v + E * w) * per
    fb[i] = (C * u + E * v + F * w) * per
    add[i] = p[i] - fL[i] * x - fa[i] * y - fb[i] * z
  }
  const [L, ca, cb, rest] = [fL, fa, fb, add].map(mean)
  return [L, scaled(ca), scaled(cb), rest]
}
