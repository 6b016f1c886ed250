// Directional linear minimum mean square error demosaicing of a 2 x 2 Bayer mosaic (Zhang and Wu 2005).
// All but the first and last of these work on the logarithm of the light: there a thing's colour is a difference that
// shading and texture do not change, and an edge weighs the same in light and shade. Planes are w x h floats, `stride` apart; what lies within the stated reach of the border is not valid.
import { exp2x4, log2x4, splat } from './mathf'

// @ts-ignore: decorator
@inline function at(p: usize, floats: i32): v128 { return v128.load(p + (<isize>floats << 2)) }

/** log2(max(x, -knee / 2) + knee) of n floats: even steps for light well above the knee, linear near black. */
export function to_log(src: usize, dst: usize, n: i32, knee: f32): void {
  const k = splat(knee)
  const floor = splat(-0.5 * knee)
  for (let i: usize = 0; i < <usize>n << 2; i += 16)
    v128.store(dst + i, log2x4(f32x4.add(f32x4.pmax(v128.load(src + i), floor), k)))
}

/** The way back, in place. */
export function from_log(data: usize, n: i32, knee: f32): void {
  const k = splat(knee)
  for (let i: usize = 0; i < <usize>n << 2; i += 16)
    v128.store(data + i, f32x4.sub(exp2x4(v128.load(data + i)), k))
}

/**
 * Green minus the other colour at every place, estimated along rows (dh) and along columns (dv). Reach 2.
 * @param green parity (x + y) & 1 of the green places
 */
export function colour_differences(src: usize, dh: usize, dv: usize, w: i32, h: i32, stride: i32, green: i32): void {
  const half = splat(0.5)
  const quarter = splat(0.25)
  const flip = i32x4.splat(0x80000000)
  const evenFlip = i32x4(0, 0x80000000, 0, 0x80000000)
  const oddFlip = v128.xor(evenFlip, flip)
  for (let y = 2; y < h - 2; y++) {
    // the sign turns at the places that are not green
    const sign = ((y + green) & 1) == 0 ? evenFlip : oddFlip
    for (let x = 4; x <= w - 8; x += 4) {
      const o = <usize>(y * stride + x) << 2
      const p = src + o
      const v = v128.load(p)
      const twice = f32x4.add(v, v)
      const across = f32x4.add(
        f32x4.mul(half, f32x4.add(at(p, -1), at(p, 1))),
        f32x4.mul(quarter, f32x4.sub(twice, f32x4.add(at(p, -2), at(p, 2)))),
      )
      const down = f32x4.add(
        f32x4.mul(half, f32x4.add(at(p, -stride), at(p, stride))),
        f32x4.mul(quarter, f32x4.sub(twice, f32x4.add(at(p, -2 * stride), at(p, 2 * stride)))),
      )
      v128.store(dh + o, v128.xor(f32x4.sub(v, across), sign))
      v128.store(dv + o, v128.xor(f32x4.sub(v, down), sign))
    }
  }
}

/** Binomial low pass of five taps along `step` (1: rows, stride: columns). Reach 2. */
export function smooth5(src: usize, dst: usize, w: i32, h: i32, stride: i32, step: i32): void {
  const c0 = splat(0.375), c1 = splat(0.25), c2 = splat(0.0625)
  const my = step == 1 ? 0 : 2
  for (let y = my; y < h - my; y++) {
    for (let x = 4; x <= w - 8; x += 4) {
      const o = <usize>(y * stride + x) << 2
      const p = src + o
      let s = f32x4.mul(c0, v128.load(p))
      s = f32x4.add(s, f32x4.mul(c1, f32x4.add(at(p, -step), at(p, step))))
      s = f32x4.add(s, f32x4.mul(c2, f32x4.add(at(p, -2 * step), at(p, 2 * step))))
      v128.store(dst + o, s)
    }
  }
}

/** Every second of eight floats from `floats` on. */
// @ts-ignore: decorator
@inline function every(p: usize, floats: i32): v128 {
  const q = p + (<isize>floats << 2)
  return v128.shuffle<f32>(v128.load(q), v128.load(q, 16), 0, 2, 4, 6)
}

/** Four floats to every second of eight from `p` on, the first or the second; zeros between. */
// @ts-ignore: decorator
@inline function apart(v: v128, second: i32, p: usize): void {
  const zero = splat(0.0)
  if (second == 0) {
    v128.store(p, v128.shuffle<f32>(v, zero, 0, 4, 1, 5))
    v128.store(p, v128.shuffle<f32>(v, zero, 2, 4, 3, 5), 16)
  } else {
    v128.store(p, v128.shuffle<f32>(v, zero, 4, 0, 5, 1))
    v128.store(p, v128.shuffle<f32>(v, zero, 4, 2, 5, 3), 16)
  }
}

/** Estimate and its error variance along one direction, by the windowed moments of the smoothed signal. */
// @ts-ignore: decorator
@inline function estimate(raw: usize, smooth: usize, step: i32, out: usize): void {
  let sum = splat(0.0), squares = splat(0.0), noise = splat(0.0)
  let own = sum
  for (let k = -2; k <= 2; k++) {
    const s = every(smooth, k * step)
    const r = every(raw, k * step)
    if (k == 0) own = r
    const e = f32x4.sub(s, r)
    sum = f32x4.add(sum, s)
    squares = f32x4.add(squares, f32x4.mul(s, s))
    noise = f32x4.add(noise, f32x4.mul(e, e))
  }
  const fifth = splat(0.2)
  const mean = f32x4.mul(sum, fifth)
  const signal = f32x4.pmax(f32x4.sub(f32x4.mul(squares, fifth), f32x4.mul(mean, mean)), splat(1e-12))
  const error = f32x4.add(f32x4.mul(noise, fifth), splat(1e-10))
  const share = f32x4.div(signal, f32x4.add(signal, error))
  v128.store(out, f32x4.add(mean, f32x4.mul(share, f32x4.sub(own, mean))))
  v128.store(out, f32x4.mul(share, error), 16)
}

/**
 * Green plane: the two directional estimates, weighted by the other's error. Reach 2 on the differences.
 * @param doubt error variance of what was estimated
 * @param work 64 bytes of scratch
 */
export function fuse_green(
  src: usize, dh: usize, dv: usize, sh: usize, sv: usize, dst: usize, doubt: usize,
  w: i32, h: i32, stride: i32, green: i32, work: usize,
): void {
  for (let y = 4; y < h - 4; y++) {
    // eight columns hold four places that are not green
    const other = 1 - ((y + green) & 1)
    for (let x = 4; x <= w - 12; x += 8) {
      const line = <usize>(y * stride + x) << 2
      const o = line + (<usize>other << 2)
      estimate(dh + o, sh + o, 1, work)
      estimate(dv + o, sv + o, stride, work + 32)
      const eh = v128.load(work, 16)
      const ev = v128.load(work, 48)
      const sum = f32x4.add(eh, ev)
      const both = f32x4.div(f32x4.add(f32x4.mul(ev, v128.load(work)), f32x4.mul(eh, v128.load(work, 32))), sum)
      apart(f32x4.div(f32x4.mul(eh, ev), sum), other, doubt + line)
      apart(both, other, dst + line)
      v128.store(dst + line, f32x4.add(v128.load(src + line), v128.load(dst + line)))
      v128.store(dst + line, f32x4.add(v128.load(src + line, 16), v128.load(dst + line, 16)), 16)
    }
  }
}

/** The difference to green where the mosaic has the colour at phase (px, py), zero elsewhere. */
export function sparse_difference(
  src: usize, green: usize, dst: usize, w: i32, h: i32, stride: i32, px: i32, py: i32,
): void {
  const mask = px == 0 ? i32x4(-1, 0, -1, 0) : i32x4(0, -1, 0, -1)
  for (let y = 0; y < h; y++) {
    const here = (y & 1) == py
    for (let x = 0; x < w; x += 4) {
      const o = <usize>(y * stride + x) << 2
      const d = here ? v128.and(f32x4.sub(v128.load(src + o), v128.load(green + o)), mask) : splat(0.0)
      v128.store(dst + o, d)
    }
  }
}

// @ts-ignore: decorator
@inline function lower(a: v128, b: v128): v128 { return f32x4.pmin(a, b) }
// @ts-ignore: decorator
@inline function upper(a: v128, b: v128): v128 { return f32x4.pmax(a, b) }

/**
 * False colour: where the estimate of green is in doubt, the difference to it gives way to the median of the nine
 * around, and green follows, so that the measured colour stays. Sparse differences as above. Reach 2.
 * @param tau doubt at which half gives way
 */
export function settle_differences(
  diff: usize, doubt: usize, src: usize, green: usize, dst: usize,
  w: i32, h: i32, stride: i32, px: i32, py: i32, tau: f32,
): void {
  const mask = px == 0 ? i32x4(-1, 0, -1, 0) : i32x4(0, -1, 0, -1)
  const t = splat(tau)
  for (let y = 0; y < h; y++) {
    if ((y & 1) != py || y < 2 || y >= h - 2) {
      memory.copy(dst + (<usize>(y * stride) << 2), diff + (<usize>(y * stride) << 2), <usize>stride << 2)
      continue
    }
    // eight columns hold four of the sparse differences
    for (let x = 8; x <= w - 16; x += 8) {
      const o = <usize>(y * stride + x + px) << 2
      const p = diff + o
      const up = -2 * stride, down = 2 * stride
      // median of nine from sorted columns (Devillard 1998)
      let a0 = every(p, up - 2), a1 = every(p, -2), a2 = every(p, down - 2)
      let b0 = every(p, up), b1 = every(p, 0), b2 = every(p, down)
      let c0 = every(p, up + 2), c1 = every(p, 2), c2 = every(p, down + 2)
      const d = b1
      let u = lower(a0, a1); a1 = upper(a0, a1); a0 = lower(u, a2); u = upper(u, a2); a2 = upper(a1, u); a1 = lower(a1, u)
      u = lower(b0, b1); b1 = upper(b0, b1); b0 = lower(u, b2); u = upper(u, b2); b2 = upper(b1, u); b1 = lower(b1, u)
      u = lower(c0, c1); c1 = upper(c0, c1); c0 = lower(u, c2); u = upper(u, c2); c2 = upper(c1, u); c1 = lower(c1, u)
      const low = upper(upper(a0, b0), c0)
      const high = lower(lower(a2, b2), c2)
      const middle = upper(lower(a1, b1), lower(upper(a1, b1), c1))
      const median = upper(lower(low, middle), lower(upper(low, middle), high))
      const e = every(doubt + o, 0)
      const settled = f32x4.add(d, f32x4.mul(f32x4.div(e, f32x4.add(e, t)), f32x4.sub(median, d)))
      const out = dst + (<usize>(y * stride + x) << 2)
      apart(settled, px, out)
      const g = green + (<usize>(y * stride + x) << 2), v = src + (<usize>(y * stride + x) << 2)
      v128.store(g, v128.bitselect(f32x4.sub(v128.load(v), v128.load(out)), v128.load(g), mask))
      v128.store(g, v128.bitselect(f32x4.sub(v128.load(v, 16), v128.load(out, 16)), v128.load(g, 16), mask), 16)
    }
  }
}

/** Sparse differences to all places of their own rows, by cubics (Keys 1981). Reach 3. */
export function spread_rows(diff: usize, dst: usize, w: i32, h: i32, stride: i32, py: i32): void {
  const near = splat(0.5625), far = splat(0.0625)
  for (let y = 0; y < h; y++) {
    if ((y & 1) != py) continue
    for (let x = 4; x <= w - 8; x += 4) {
      const o = <usize>(y * stride + x) << 2
      const p = diff + o
      const d = f32x4.sub(
        f32x4.mul(near, f32x4.add(at(p, -1), at(p, 1))),
        f32x4.mul(far, f32x4.add(at(p, -3), at(p, 3))),
      )
      v128.store(dst + o, f32x4.add(v128.load(p), d))
    }
  }
}

/** Rows of differences to all places, added to green and taken back to light. Reach 3. */
export function spread_columns(
  rows: usize, green: usize, dst: usize, w: i32, h: i32, stride: i32, py: i32, knee: f32,
): void {
  const near = splat(0.5625), far = splat(0.0625), k = splat(knee)
  for (let y = 3; y < h - 3; y++) {
    const own = (y & 1) == py
    for (let x = 4; x <= w - 8; x += 4) {
      const o = <usize>(y * stride + x) << 2
      const p = rows + o
      const d = own
        ? v128.load(p)
        : f32x4.sub(
            f32x4.mul(near, f32x4.add(at(p, -stride), at(p, stride))),
            f32x4.mul(far, f32x4.add(at(p, -3 * stride), at(p, 3 * stride))),
          )
      v128.store(dst + o, f32x4.sub(exp2x4(f32x4.add(v128.load(green + o), d)), k))
    }
  }
}
