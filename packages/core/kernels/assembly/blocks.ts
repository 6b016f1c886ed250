import { splat } from './mathf'

// Blocks of 8 x 8 samples: the discrete cosine transform (Ahmed, Natarajan and Rao 1974), orthonormal, four columns
// in the lanes. A block lies in 64 floats, line by line.

// cos(k pi / 16) / 2 for k = 1..7; k = 4 is the constant's weight too
const COS = memory.data<f32>([0.0, 0.49039264, 0.46193977, 0.41573481, 0.35355339, 0.27778512, 0.19134172, 0.09754516])

// @ts-ignore: decorator
@inline function cosine(k: usize): v128 { return v128.load32_splat(COS + (k << 2)) }

// @ts-ignore: decorator
@inline function add(a: v128, b: v128): v128 { return f32x4.add(a, b) }
// @ts-ignore: decorator
@inline function sub(a: v128, b: v128): v128 { return f32x4.sub(a, b) }
// @ts-ignore: decorator
@inline function mul(a: v128, b: v128): v128 { return f32x4.mul(a, b) }

/** Four columns of eight, lines 32 bytes apart in the result, `step` bytes in the source. */
// @ts-ignore: decorator
@inline function forward8(src: usize, step: usize, dst: usize): void {
  const x0 = v128.load(src), x7 = v128.load(src + 7 * step)
  const x1 = v128.load(src + step), x6 = v128.load(src + 6 * step)
  const x2 = v128.load(src + 2 * step), x5 = v128.load(src + 5 * step)
  const x3 = v128.load(src + 3 * step), x4 = v128.load(src + 4 * step)
  const s0 = add(x0, x7), s1 = add(x1, x6), s2 = add(x2, x5), s3 = add(x3, x4)
  const d0 = sub(x0, x7), d1 = sub(x1, x6), d2 = sub(x2, x5), d3 = sub(x3, x4)
  const a0 = add(s0, s3), a1 = add(s1, s2), b0 = sub(s0, s3), b1 = sub(s1, s2)
  const c1 = cosine(1), c2 = cosine(2), c3 = cosine(3), c4 = cosine(4), c5 = cosine(5), c6 = cosine(6), c7 = cosine(7)
  v128.store(dst, mul(add(a0, a1), c4))
  v128.store(dst + 128, mul(sub(a0, a1), c4))
  v128.store(dst + 64, add(mul(b0, c2), mul(b1, c6)))
  v128.store(dst + 192, sub(mul(b0, c6), mul(b1, c2)))
  v128.store(dst + 32, add(add(mul(d0, c1), mul(d1, c3)), add(mul(d2, c5), mul(d3, c7))))
  v128.store(dst + 96, sub(sub(mul(d0, c3), mul(d1, c7)), add(mul(d2, c1), mul(d3, c5))))
  v128.store(dst + 160, add(sub(mul(d0, c5), mul(d1, c1)), add(mul(d2, c7), mul(d3, c3))))
  v128.store(dst + 224, add(sub(mul(d0, c7), mul(d1, c5)), sub(mul(d2, c3), mul(d3, c1))))
}

/** The way back, in place. */
// @ts-ignore: decorator
@inline function inverse8(at: usize): void {
  const c1 = cosine(1), c2 = cosine(2), c3 = cosine(3), c4 = cosine(4), c5 = cosine(5), c6 = cosine(6), c7 = cosine(7)
  const y0 = v128.load(at), y4 = v128.load(at + 128), y2 = v128.load(at + 64), y6 = v128.load(at + 192)
  const y1 = v128.load(at + 32), y3 = v128.load(at + 96), y5 = v128.load(at + 160), y7 = v128.load(at + 224)
  const a0 = mul(add(y0, y4), c4), a1 = mul(sub(y0, y4), c4)
  const b0 = add(mul(y2, c2), mul(y6, c6)), b1 = sub(mul(y2, c6), mul(y6, c2))
  const s0 = add(a0, b0), s3 = sub(a0, b0), s1 = add(a1, b1), s2 = sub(a1, b1)
  const d0 = add(add(mul(y1, c1), mul(y3, c3)), add(mul(y5, c5), mul(y7, c7)))
  const d1 = sub(sub(mul(y1, c3), mul(y3, c7)), add(mul(y5, c1), mul(y7, c5)))
  const d2 = add(sub(mul(y1, c5), mul(y3, c1)), add(mul(y5, c7), mul(y7, c3)))
  const d3 = add(sub(mul(y1, c7), mul(y3, c5)), sub(mul(y5, c3), mul(y7, c1)))
  v128.store(at, add(s0, d0)); v128.store(at + 224, sub(s0, d0))
  v128.store(at + 32, add(s1, d1)); v128.store(at + 192, sub(s1, d1))
  v128.store(at + 64, add(s2, d2)); v128.store(at + 160, sub(s2, d2))
  v128.store(at + 96, add(s3, d3)); v128.store(at + 128, sub(s3, d3))
}

/** Exchanges lines and columns of 4 x 4 floats, read at `a` and written at `b`; lines 32 bytes apart. */
// @ts-ignore: decorator
@inline function turn4(p: v128, q: v128, r: v128, s: v128, to: usize): void {
  const pq0 = v128.shuffle<f32>(p, q, 0, 4, 1, 5)
  const pq1 = v128.shuffle<f32>(p, q, 2, 6, 3, 7)
  const rs0 = v128.shuffle<f32>(r, s, 0, 4, 1, 5)
  const rs1 = v128.shuffle<f32>(r, s, 2, 6, 3, 7)
  v128.store(to, v128.shuffle<f32>(pq0, rs0, 0, 1, 4, 5))
  v128.store(to + 32, v128.shuffle<f32>(pq0, rs0, 2, 3, 6, 7))
  v128.store(to + 64, v128.shuffle<f32>(pq1, rs1, 0, 1, 4, 5))
  v128.store(to + 96, v128.shuffle<f32>(pq1, rs1, 2, 3, 6, 7))
}

// @ts-ignore: decorator
@inline function turn8(at: usize): void {
  const a0 = v128.load(at), a1 = v128.load(at + 32), a2 = v128.load(at + 64), a3 = v128.load(at + 96)
  const b0 = v128.load(at + 16), b1 = v128.load(at + 48), b2 = v128.load(at + 80), b3 = v128.load(at + 112)
  const c0 = v128.load(at + 128), c1 = v128.load(at + 160), c2 = v128.load(at + 192), c3 = v128.load(at + 224)
  const d0 = v128.load(at + 144), d1 = v128.load(at + 176), d2 = v128.load(at + 208), d3 = v128.load(at + 240)
  turn4(a0, a1, a2, a3, at)
  turn4(c0, c1, c2, c3, at + 16)
  turn4(b0, b1, b2, b3, at + 128)
  turn4(d0, d1, d2, d3, at + 144)
}

/** Coefficients of the block at `src`, whose lines lie `step` bytes apart; frequencies across run down the result. */
export function block_forward(src: usize, step: usize, dst: usize): void {
  forward8(src, step, dst)
  forward8(src + 16, step, dst + 16)
  turn8(dst)
  forward8(dst, 32, dst)
  forward8(dst + 16, 32, dst + 16)
}

/** Samples from coefficients as `block_forward` left them, in place. */
export function block_inverse(at: usize): void {
  inverse8(at)
  inverse8(at + 16)
  turn8(at)
  inverse8(at)
  inverse8(at + 16)
}

/** Adds weight * window * block to a picture, and weight * window to its sum of weights where `den` is given. */
// @ts-ignore: decorator
@inline export function lay(block: usize, window: usize, weight: f32, num: usize, den: usize, step: usize): void {
  const w = splat(weight)
  for (let j: usize = 0; j < 8; j++) {
    const b = block + (j << 5)
    const k = window + (j << 5)
    const n = num + j * step
    const k0 = mul(v128.load(k), w), k1 = mul(v128.load(k + 16), w)
    v128.store(n, add(v128.load(n), mul(v128.load(b), k0)))
    v128.store(n + 16, add(v128.load(n + 16), mul(v128.load(b + 16), k1)))
    if (den) {
      const d = den + j * step
      v128.store(d, add(v128.load(d), k0))
      v128.store(d + 16, add(v128.load(d + 16), k1))
    }
  }
}
