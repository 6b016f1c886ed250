// Demosaicing of filter patterns larger than 2 x 2: means of what is known around each place.
import { splat } from './mathf'

/** value where `pattern` (size x size bytes, from place px, py on) has `colour`, else 0; and 1 or 0 for it. */
export function mask_colour(
  src: usize, dst: usize, known: usize, w: i32, h: i32, stride: i32,
  pattern: usize, size: i32, px: i32, py: i32, colour: i32, others: bool,
): void {
  for (let y = 0; y < h; y++) {
    const row = pattern + <usize>((y + py) % size * size)
    for (let x = 0; x < w; x++) {
      const here = (load<u8>(row + <usize>((x + px) % size)) == <u8>colour) != others
      const o = <usize>(y * stride + x) << 2
      store<f32>(dst + o, here ? load<f32>(src + o) : 0)
      store<f32>(known + o, here ? 1 : 0)
    }
  }
}

/** dst <- a - b over n floats. */
export function subtract(a: usize, b: usize, dst: usize, n: i32): void {
  for (let i: usize = 0; i < <usize>n << 2; i += 16)
    v128.store(dst + i, f32x4.sub(v128.load(a + i), v128.load(b + i)))
}

/** dst <- a + b over n floats. */
export function sum(a: usize, b: usize, dst: usize, n: i32): void {
  for (let i: usize = 0; i < <usize>n << 2; i += 16)
    v128.store(dst + i, f32x4.add(v128.load(a + i), v128.load(b + i)))
}

/** dst <- a / b over n floats. */
export function divide(a: usize, b: usize, dst: usize, n: i32): void {
  for (let i: usize = 0; i < <usize>n << 2; i += 16)
    v128.store(dst + i, f32x4.div(v128.load(a + i), v128.load(b + i)))
}

/** Seven symmetric taps along `step` (1: rows, stride: columns). Reach 3. */
export function taps7(
  src: usize, dst: usize, w: i32, h: i32, stride: i32, step: i32, t0: f32, t1: f32, t2: f32, t3: f32,
): void {
  const c0 = splat(t0), c1 = splat(t1), c2 = splat(t2), c3 = splat(t3)
  const my = step == 1 ? 0 : 3
  for (let y = my; y < h - my; y++) {
    for (let x = 4; x <= w - 8; x += 4) {
      const o = <usize>(y * stride + x) << 2
      const p = src + o
      let s = f32x4.mul(c0, v128.load(p))
      s = f32x4.add(s, f32x4.mul(c1, f32x4.add(v128.load(p - (<usize>step << 2)), v128.load(p + (<usize>step << 2)))))
      s = f32x4.add(s, f32x4.mul(c2, f32x4.add(v128.load(p - (<usize>step << 3)), v128.load(p + (<usize>step << 3)))))
      s = f32x4.add(s, f32x4.mul(c3, f32x4.add(v128.load(p - <usize>(step * 12)), v128.load(p + <usize>(step * 12)))))
      v128.store(dst + o, s)
    }
  }
}

/** dst <- known ? a : dst + share * (b - dst), over n floats. */
export function let_in(dst: usize, a: usize, b: usize, known: usize, share: f32, n: i32): void {
  const k = splat(share)
  const half = splat(0.5)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const d = v128.load(dst + i)
    const mixed = f32x4.add(d, f32x4.mul(k, f32x4.sub(v128.load(b + i), d)))
    v128.store(dst + i, v128.bitselect(v128.load(a + i), mixed, f32x4.gt(v128.load(known + i), half)))
  }
}

// @ts-ignore: decorator
@inline function near(known: usize, p: i32, step: i32): i32 {
  let q = p + step
  if (load<f32>(known + (<usize>q << 2)) == 0) q += step
  if (load<f32>(known + (<usize>q << 2)) == 0) q += step
  return q
}

/**
 * Green by the nearest greens in four directions, each pair weighted against its own slope. Every row and column of
 * the pattern must have green within three places. Reach 6.
 */
export function green_along(src: usize, known: usize, dst: usize, w: i32, h: i32, stride: i32): void {
  for (let y = 6; y < h - 6; y++) {
    for (let x = 6; x < w - 6; x++) {
      const p = y * stride + x
      const o = <usize>p << 2
      if (load<f32>(known + o) != 0) { store<f32>(dst + o, load<f32>(src + o)); continue }
      let sum: f32 = 0, weight: f32 = 0
      for (let k = 0; k < 2; k++) {
        const step = k == 0 ? 1 : stride
        const a = near(known, p, -step), b = near(known, p, step)
        const va = load<f32>(src + (<usize>a << 2)), vb = load<f32>(src + (<usize>b << 2))
        const da = <f32>((p - a) / step), db = <f32>((b - p) / step)
        // slope between the two, and how each goes on beyond
        const a2 = near(known, a, -step), b2 = near(known, b, step)
        const slope: f32 = abs(va - vb) + <f32>0.5 * abs(va - load<f32>(src + (<usize>a2 << 2))) + <f32>0.5 * abs(vb - load<f32>(src + (<usize>b2 << 2)))
        const s: f32 = <f32>0.02 + slope * (<f32>2 / (da + db))
        const wgt: f32 = <f32>1 / (s * s * (da + db))
        sum += wgt * (va * db + vb * da) / (da + db)
        weight += wgt
      }
      store<f32>(dst + o, sum / weight)
    }
  }
}

/**
 * Hot and dead pixels of a larger pattern, as `mend_defects` finds them in one of 2 x 2: a sample that stands out of
 * all it touches, and of all of its own colour within three places by more than their spread and `floor`, while what
 * touches it does not rise with it. It takes the mean of its own colour. Reach 3.
 * @param pattern size x size bytes 0, 1, 2, from place px, py on
 * @param ring 24 bytes of scratch
 */
export function mend_defects_large(
  src: usize, dst: usize, w: i32, h: i32, stride: i32, floor: f32, share: f32, pattern: usize, size: i32, px: i32, py: i32,
  ring: usize,
): void {
  memory.copy(dst, src, <usize>(stride * h) << 2)
  for (let y = 3; y < h - 3; y++) {
    for (let x = 3; x < w - 3; x++) {
      const at = src + (<usize>(y * stride + x) << 2)
      const v = load<f32>(at)
      let most = v - floor, least = v + floor
      let touched = 0
      for (let j = -1; j <= 1; j++)
        for (let i = -1; i <= 1; i++) {
          if (i == 0 && j == 0) continue
          const u = load<f32>(at + (<isize>(j * stride + i) << 2))
          if (u < most) touched++
          else if (u > least) touched--
        }
      if (touched != 8 && touched != -8) continue
      const above = touched == 8
      const own = <i32>load<u8>(pattern + <usize>((y + py) % size * size + (x + px) % size))
      // sums and numbers of each colour beyond what touches, and the range of the own one
      memory.fill(ring, 0, 24)
      let hi: f32 = -1e9, lo: f32 = 1e9
      for (let j = -3; j <= 3; j++)
        for (let i = -3; i <= 3; i++) {
          if (i == 0 && j == 0) continue
          const k = <i32>load<u8>(pattern + <usize>((y + j + py) % size * size + (x + i + px) % size))
          const u = load<f32>(at + (<isize>(j * stride + i) << 2))
          if (k == own) { hi = max(hi, u); lo = min(lo, u) }
          if (abs(i) <= 1 && abs(j) <= 1) continue
          const o = ring + (<usize>k << 3)
          store<f32>(o, load<f32>(o) + u)
          store<f32>(o, load<f32>(o, 4) + 1, 4)
        }
      const spread = floor + (hi - lo)
      if (above ? !(v - hi > spread) : !(lo - v > spread)) continue
      const mean = load<f32>(ring + (<usize>own << 3)) / load<f32>(ring + (<usize>own << 3), 4)
      let rise: f32 = 0
      for (let d = 0; d < 4; d++) {
        const i = d == 0 ? -1 : d == 1 ? 1 : 0, j = d == 2 ? -1 : d == 3 ? 1 : 0
        const o = ring + (<usize>load<u8>(pattern + <usize>((y + j + py) % size * size + (x + i + px) % size)) << 3)
        rise += <f32>0.25 * (load<f32>(at + (<isize>(j * stride + i) << 2)) - load<f32>(o) / load<f32>(o, 4))
      }
      const excess = share * (v - mean)
      if (above ? rise < excess : rise > excess) store<f32>(dst + (<usize>(y * stride + x) << 2), mean)
    }
  }
}
