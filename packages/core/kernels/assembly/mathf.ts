// Four lanes of log, exp and power from + - x / alone, so that every machine gives the same bits. Here and in
// all kernels pmin and pmax stand for min and max: one instruction each, where the others take seven.

// @ts-ignore: decorator
@inline export function splat(x: f32): v128 { return f32x4.splat(x) }

// Read from memory rather than written as constants: one broadcasting load each, where the compiler would build a
// constant from four instructions. Polynomials are Chebyshev fits, evaluated in halves to keep the chains short.
const C = memory.data<f32>([
  2.88539008, 0.96179884, 0.57671519, 0.43171770, // log2, see below
  0.69314719, 0.24022107, 0.05550357, 0.00967603, 0.00133909, // exp2
  1.0, 12582912.0, 127.0, -126.0,
])

// @ts-ignore: decorator
@inline function c(i: usize): v128 { return v128.load32_splat(C + (i << 2)) }

/** log2 of positive normal numbers; absolute error below 2e-7 + half a unit of the result. */
// @ts-ignore: decorator
@inline export function log2x4(x: v128): v128 {
  const shifted = i32x4.sub(x, i32x4.splat(0x3f3504f3))
  const e = i32x4.shr_s(shifted, 23)
  const m = i32x4.sub(x, i32x4.shl(e, 23))
  const one = c(9)
  const s = f32x4.div(f32x4.sub(m, one), f32x4.add(m, one))
  const s2 = f32x4.mul(s, s)
  const low = f32x4.add(c(0), f32x4.mul(s2, c(1)))
  const high = f32x4.add(c(2), f32x4.mul(s2, c(3)))
  const p = f32x4.add(low, f32x4.mul(f32x4.mul(s2, s2), high))
  return f32x4.add(f32x4.convert_i32x4_s(e), f32x4.mul(p, s))
}

/** 2^x for x within -126..127 (held to that range); relative error below 3e-7. */
// @ts-ignore: decorator
@inline export function exp2x4(x: v128): v128 {
  const held = f32x4.pmax(f32x4.pmin(x, c(11)), c(12))
  // adding 1.5 * 2^23 rounds to a whole number, which then stands in the low bits
  const shifted = f32x4.add(held, c(10))
  const f = f32x4.sub(held, f32x4.sub(shifted, c(10)))
  const f2 = f32x4.mul(f, f)
  const low = f32x4.add(c(9), f32x4.mul(f, c(4)))
  const middle = f32x4.add(c(5), f32x4.mul(f, c(6)))
  const high = f32x4.add(c(7), f32x4.mul(f, c(8)))
  const p = f32x4.add(low, f32x4.mul(f2, f32x4.add(middle, f32x4.mul(f2, high))))
  return f32x4.mul(p, i32x4.shl(i32x4.add(shifted, i32x4.splat(127)), 23))
}

/** x^p for positive x. */
// @ts-ignore: decorator
@inline export function powx4(x: v128, p: v128): v128 { return exp2x4(f32x4.mul(p, log2x4(x))) }

/**
 * Signed cube root: a third of the bits is right to a few per cent, and each of two steps of Halley's iteration
 * cubes the error away. Magnitudes below 1e-12 count as that.
 */
// @ts-ignore: decorator
@inline export function cbrtx4(x: v128): v128 {
  const a = f32x4.pmax(f32x4.abs(x), splat(1e-12))
  // 5/16 * 17/16 * 257/256 of the bits is a third of them
  let third = i32x4.add(i32x4.shr_u(a, 2), i32x4.shr_u(a, 4))
  third = i32x4.add(third, i32x4.shr_u(third, 4))
  third = i32x4.add(third, i32x4.shr_u(third, 8))
  let r = i32x4.add(third, i32x4.splat(0x2a512ce3))
  const twice = f32x4.add(a, a)
  for (let k = 0; k < 2; k++) {
    const cube = f32x4.mul(f32x4.mul(r, r), r)
    r = f32x4.mul(r, f32x4.div(f32x4.add(cube, twice), f32x4.add(f32x4.add(cube, cube), a)))
  }
  return v128.or(r, v128.and(x, i32x4.splat(0x80000000)))
}

/** One row of a 3 x 3 matrix at `m`, applied. */
// @ts-ignore: decorator
@inline export function dot3(m: usize, a: v128, b: v128, c: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(v128.load32_splat(m), a), f32x4.mul(v128.load32_splat(m, 4), b)),
    f32x4.mul(v128.load32_splat(m, 8), c),
  )
}
