import { splat } from './mathf'

// A convolution with a wide kernel that falls off from its middle, by a pyramid (Farbman, Fattal and Lischinski 2011,
// "Convolution pyramids", with their kernels for the interpolation of boundary values). Four values to a place.

/** Where the smaller picture ends the pyramid. */
const SMALLEST: i32 = 6
/** Down and up, along each axis: from the middle outwards. */
const MIDDLE: f32 = 1.0334, NEAR: f32 = 0.6836, FAR: f32 = 0.1507
/** What comes from below, once for both axes. */
const SHARE_BELOW: f32 = 0.027
/** Level by level, along each axis. */
const SAME_MIDDLE: f32 = 0.7753, SAME_NEAR: f32 = 0.0312

// @ts-ignore: decorator
@inline function scaled(v: v128, by: f32): v128 { return f32x4.mul(v, splat(by)) }

/** The value at a place of a line, 0 beyond it. */
// @ts-ignore: decorator
@inline function at(line: usize, i: i32, n: i32): v128 {
  return i >= 0 && i < n ? v128.load(line + ((<usize>i) << 4)) : splat(0.0)
}

/** Every other place, one farther than the picture to each side. */
function halved(src: usize, w: i32, h: i32, dst: usize, hw: i32, hh: i32, across: usize): void {
  for (let y = 0; y < h; y++) {
    const line = src + ((<usize>(y * w)) << 4), to = across + ((<usize>(y * hw)) << 4)
    for (let x = 0; x < hw; x++) {
      const i = 2 * x - 2
      let sum = scaled(at(line, i, w), MIDDLE)
      sum = f32x4.add(sum, scaled(f32x4.add(at(line, i - 1, w), at(line, i + 1, w)), NEAR))
      sum = f32x4.add(sum, scaled(f32x4.add(at(line, i - 2, w), at(line, i + 2, w)), FAR))
      v128.store(to + ((<usize>x) << 4), sum)
    }
  }
  const bytes = (<usize>hw) << 4
  for (let y = 0; y < hh; y++) {
    const to = dst + (<usize>y) * bytes
    memory.fill(to, 0, bytes)
    for (let k = -2; k <= 2; k++) {
      const from = 2 * y - 2 + k
      if (from < 0 || from >= h) continue
      const weight = splat(k == 0 ? MIDDLE : k * k == 1 ? NEAR : FAR)
      const line = across + (<usize>from) * bytes
      for (let x: usize = 0; x < bytes; x += 16)
        v128.store(to + x, f32x4.add(v128.load(to + x), f32x4.mul(weight, v128.load(line + x))))
    }
  }
}

/** Weighs a picture in its own size. `across` holds as much. */
function same(src: usize, w: i32, h: i32, across: usize): void {
  for (let y = 0; y < h; y++) {
    const line = src + ((<usize>(y * w)) << 4), to = across + ((<usize>(y * w)) << 4)
    for (let x = 0; x < w; x++)
      v128.store(to + ((<usize>x) << 4), f32x4.add(
        scaled(at(line, x, w), SAME_MIDDLE), scaled(f32x4.add(at(line, x - 1, w), at(line, x + 1, w)), SAME_NEAR),
      ))
  }
  const bytes = (<usize>w) << 4
  for (let y = 0; y < h; y++) {
    const line = across + (<usize>y) * bytes, to = src + (<usize>y) * bytes
    for (let x: usize = 0; x < bytes; x += 16) {
      let beside = splat(0.0)
      if (y > 0) beside = v128.load(line - bytes + x)
      if (y < h - 1) beside = f32x4.add(beside, v128.load(line + bytes + x))
      v128.store(to + x, f32x4.add(scaled(v128.load(line + x), SAME_MIDDLE), scaled(beside, SAME_NEAR)))
    }
  }
}

/** Adds what the half of a picture gives, its places spread out again. `down` holds a line of the half. */
function addDoubled(dst: usize, w: i32, h: i32, half: usize, hw: i32, hh: i32, down: usize): void {
  const bytes = (<usize>hw) << 4
  for (let y = 0; y < h; y++) {
    const j = (y >> 1) + 1, even = (y & 1) == 0
    const line = half + (<usize>j) * bytes
    for (let x: usize = 0; x < bytes; x += 16) {
      const here = v128.load(line + x)
      const next = j + 1 < hh ? v128.load(line + bytes + x) : splat(0.0)
      v128.store(down + x, even
        ? f32x4.add(scaled(here, MIDDLE), scaled(f32x4.add(v128.load(line - bytes + x), next), FAR))
        : scaled(f32x4.add(here, next), NEAR))
    }
    const to = dst + ((<usize>(y * w)) << 4)
    for (let x = 0; x < w; x++) {
      const i = (x >> 1) + 1
      const here = at(down, i, hw), next = at(down, i + 1, hw)
      const value = (x & 1) == 0
        ? f32x4.add(scaled(here, MIDDLE), scaled(f32x4.add(at(down, i - 1, hw), next), FAR))
        : scaled(f32x4.add(here, next), NEAR)
      const p = to + ((<usize>x) << 4)
      v128.store(p, f32x4.add(v128.load(p), scaled(value, SHARE_BELOW)))
    }
  }
}

/**
 * Convolves a picture of w x h places in place; beyond its edge there is nothing.
 * @param work holds twice as many places and 256 more
 */
export function spread(values: usize, w: i32, h: i32, work: usize): void {
  if (w <= SMALLEST || h <= SMALLEST) return same(values, w, h, work)
  const hw = ((w + 1) >> 1) + 2, hh = ((h + 1) >> 1) + 2
  const rest = work + ((<usize>(hw * hh)) << 4)
  halved(values, w, h, work, hw, hh, rest)
  spread(work, hw, hh, rest)
  same(values, w, h, rest)
  addDoubled(values, w, h, work, hw, hh, rest)
}
