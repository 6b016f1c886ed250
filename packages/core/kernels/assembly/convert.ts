import { splat } from './mathf'

/** 16-bit float halves in the low 16 bits of each lane, round to nearest even; held to the finite range. */
// @ts-ignore: decorator
@inline function toHalf(x: v128): v128 {
  const sign = v128.and(x, i32x4.splat(0x80000000))
  const a = f32x4.pmin(v128.xor(x, sign), splat(65504.0))
  // normal: drop 13 bits of mantissa with rounding, move the bias from 127 to 15
  const odd = v128.and(i32x4.shr_u(a, 13), i32x4.splat(1))
  const normal = i32x4.shr_u(i32x4.add(i32x4.add(a, i32x4.splat(0xc8000fff)), odd), 13)
  // below 2^-14: adding 1/2 lines the bits up on the fixed grid of 2^-24
  const small = i32x4.sub(f32x4.add(a, splat(0.5)), i32x4.splat(0x3f000000))
  const tiny = f32x4.lt(a, splat(6.103515625e-5))
  return v128.or(v128.bitselect(small, normal, tiny), i32x4.shr_u(sign, 16))
}

// @ts-ignore: decorator
@inline export function fromHalf(h: v128): v128 {
  const bits = i32x4.shl(v128.and(h, i32x4.splat(0x7fff)), 13)
  const value = f32x4.mul(bits, splat(5.192296858534828e33)) // 2^112 moves the bias back
  return v128.or(value, i32x4.shl(v128.and(h, i32x4.splat(0x8000)), 16))
}

/** n floats to n halves; n a multiple of 4. */
export function f32_to_f16(src: usize, dst: usize, n: i32): void {
  for (let i = 0; i < n; i += 4) {
    const h = toHalf(v128.load(src + (<usize>i << 2)))
    v128.store64_lane(dst + (<usize>i << 1), i16x8.shuffle(h, h, 0, 2, 4, 6, 0, 2, 4, 6), 0)
  }
}

/** n halves to n floats; n a multiple of 4. */
export function f16_to_f32(src: usize, dst: usize, n: i32): void {
  for (let i = 0; i < n; i += 4) {
    v128.store(dst + (<usize>i << 2), fromHalf(v128.load16x4_u(src + (<usize>i << 1))))
  }
}

/** x <- x0 + (x - x0) * strength, over n floats (n a multiple of 4): lets a step in softly. */
export function blend(x: usize, x0: usize, strength: f32, n: i32): void {
  const s = splat(strength)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const before = v128.load(x0 + i)
    v128.store(x + i, f32x4.add(before, f32x4.mul(s, f32x4.sub(v128.load(x + i), before))))
  }
}

/** x <- x * k over n floats (n a multiple of 4). */
export function scale(x: usize, k: f32, n: i32): void {
  const s = splat(k)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) v128.store(x + i, f32x4.mul(v128.load(x + i), s))
}

/** x <- x + (after - x) * mask * strength, over n floats (n a multiple of 4): lets a step in where a mask says. */
export function blend_masked(x: usize, after: usize, mask: usize, strength: f32, n: i32): void {
  const s = splat(strength)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const before = v128.load(x + i)
    const share = f32x4.mul(s, v128.load(mask + i))
    const mixed = f32x4.add(before, f32x4.mul(share, f32x4.sub(v128.load(after + i), before)))
    // where nothing is let in the light stays as it was, also where the step made none of it
    v128.store(x + i, v128.bitselect(before, mixed, f32x4.eq(share, splat(0.0))))
  }
}
