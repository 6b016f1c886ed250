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

/**
 * Four places of a table, straight lines between its entries.
 * @param at places, already held to 0 .. count - 1 (the last one excluded)
 */
// @ts-ignore: decorator
@inline export function lookup4(table: usize, at: v128): v128 {
  const k = i32x4.trunc_sat_f32x4_s(at)
  const f = f32x4.sub(at, f32x4.convert_i32x4_s(k))
  const low = v128.load64_lane(table + (<usize>i32x4.extract_lane(k, 1) << 2), v128.load64_zero(table + (<usize>i32x4.extract_lane(k, 0) << 2)), 1)
  const high = v128.load64_lane(table + (<usize>i32x4.extract_lane(k, 3) << 2), v128.load64_zero(table + (<usize>i32x4.extract_lane(k, 2) << 2)), 1)
  const from = i32x4.shuffle(low, high, 0, 2, 4, 6)
  const to = i32x4.shuffle(low, high, 1, 3, 5, 7)
  return f32x4.add(from, f32x4.mul(f, f32x4.sub(to, from)))
}

/** Held to 0..top. */
// @ts-ignore: decorator
@inline export function held(x: v128, top: v128): v128 { return f32x4.pmin(f32x4.pmax(x, splat(0.0)), top) }

/** 0 at 0, 1 at 1, level at both ends; x held to 0..1. */
// @ts-ignore: decorator
@inline export function smooth(x: v128): v128 {
  const t = held(x, splat(1.0))
  return f32x4.mul(f32x4.mul(t, t), f32x4.sub(splat(3.0), f32x4.add(t, t)))
}

/** The angle of (x, y) in turns, -0.5..0.5; error below 2e-6 of a turn (odd Chebyshev fit of the arc tangent). */
// @ts-ignore: decorator
@inline export function turnsx4(y: v128, x: v128): v128 {
  const ax = f32x4.abs(x), ay = f32x4.abs(y)
  const most = f32x4.pmax(f32x4.pmax(ax, ay), splat(1e-20))
  const t = f32x4.div(f32x4.pmin(ax, ay), most)
  const s = f32x4.mul(t, t)
  let p = f32x4.add(splat(0.05265332), f32x4.mul(s, splat(-0.01172120)))
  p = f32x4.add(splat(-0.11643287), f32x4.mul(s, p))
  p = f32x4.add(splat(0.19354346), f32x4.mul(s, p))
  p = f32x4.add(splat(-0.33262347), f32x4.mul(s, p))
  p = f32x4.add(splat(0.99997726), f32x4.mul(s, p))
  let a = f32x4.mul(f32x4.mul(t, p), splat(0.15915494))
  a = v128.bitselect(f32x4.sub(splat(0.25), a), a, f32x4.gt(ay, ax))
  a = v128.bitselect(f32x4.sub(splat(0.5), a), a, f32x4.lt(x, splat(0.0)))
  return v128.or(a, v128.and(y, i32x4.splat(0x80000000)))
}
