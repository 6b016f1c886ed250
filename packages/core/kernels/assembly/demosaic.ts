// Directional linear minimum mean square error demosaicing of a 2 x 2 Bayer mosaic (Zhang and Wu 2005).
// Planes are w x h floats, `stride` apart; what lies within the stated reach of the border is not valid.
import { splat } from './mathf'

// @ts-ignore: decorator
@inline function at(p: usize, floats: i32): v128 { return v128.load(p + (<isize>floats << 2)) }

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

/** Nine-tap low pass along `step` (1: rows, stride: columns). Reach 4. */
export function smooth9(src: usize, dst: usize, w: i32, h: i32, stride: i32, step: i32): void {
  const c0 = splat(0.203125), c1 = splat(0.1796875), c2 = splat(0.1171875), c3 = splat(0.0703125), c4 = splat(0.03125)
  const my = step == 1 ? 0 : 4
  for (let y = my; y < h - my; y++) {
    for (let x = 4; x <= w - 8; x += 4) {
      const o = <usize>(y * stride + x) << 2
      const p = src + o
      let s = f32x4.mul(c0, v128.load(p))
      s = f32x4.add(s, f32x4.mul(c1, f32x4.add(at(p, -step), at(p, step))))
      s = f32x4.add(s, f32x4.mul(c2, f32x4.add(at(p, -2 * step), at(p, 2 * step))))
      s = f32x4.add(s, f32x4.mul(c3, f32x4.add(at(p, -3 * step), at(p, 3 * step))))
      s = f32x4.add(s, f32x4.mul(c4, f32x4.add(at(p, -4 * step), at(p, 4 * step))))
      v128.store(dst + o, s)
    }
  }
}

const NINTH: f32 = 0.11111111

/** Estimate and its error variance along one direction, by the windowed moments of the smoothed signal. */
// @ts-ignore: decorator
@inline function estimate(raw: usize, smooth: usize, step: i32, out: usize): void {
  let sum = splat(0.0), squares = splat(0.0), noise = splat(0.0)
  for (let k = -4; k <= 4; k++) {
    const s = at(smooth, k * step)
    const e = f32x4.sub(s, at(raw, k * step))
    sum = f32x4.add(sum, s)
    squares = f32x4.add(squares, f32x4.mul(s, s))
    noise = f32x4.add(noise, f32x4.mul(e, e))
  }
  const ninth = splat(NINTH)
  const mean = f32x4.mul(sum, ninth)
  const signal = f32x4.pmax(f32x4.sub(f32x4.mul(squares, ninth), f32x4.mul(mean, mean)), splat(1e-12))
  const error = f32x4.add(f32x4.mul(noise, ninth), splat(1e-10))
  const share = f32x4.div(signal, f32x4.add(signal, error))
  v128.store(out, f32x4.add(mean, f32x4.mul(share, f32x4.sub(v128.load(raw), mean))))
  v128.store(out, f32x4.mul(share, error), 16)
}

/**
 * Green plane: the two directional estimates, weighted by the other's error. Reach 4 on the differences.
 * @param work 64 bytes of scratch
 */
export function fuse_green(
  src: usize, dh: usize, dv: usize, sh: usize, sv: usize, dst: usize,
  w: i32, h: i32, stride: i32, green: i32, work: usize,
): void {
  const all = i32x4.splat(-1)
  const evenGreen = i32x4(-1, 0, -1, 0)
  for (let y = 6; y < h - 6; y++) {
    const isGreen = ((y + green) & 1) == 0 ? evenGreen : v128.xor(evenGreen, all)
    for (let x = 8; x <= w - 12; x += 4) {
      const o = <usize>(y * stride + x) << 2
      estimate(dh + o, sh + o, 1, work)
      estimate(dv + o, sv + o, stride, work + 32)
      const eh = v128.load(work, 16)
      const ev = v128.load(work, 48)
      const both = f32x4.div(
        f32x4.add(f32x4.mul(ev, v128.load(work)), f32x4.mul(eh, v128.load(work, 32))),
        f32x4.add(eh, ev),
      )
      const v = v128.load(src + o)
      v128.store(dst + o, v128.bitselect(v, f32x4.add(v, both), isGreen))
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

/** Colour plane = green + the sparse differences spread bilinearly. Reach 1. */
export function spread_difference(diff: usize, green: usize, dst: usize, w: i32, h: i32, stride: i32): void {
  const half = splat(0.5)
  const quarter = splat(0.25)
  for (let y = 1; y < h - 1; y++) {
    for (let x = 4; x <= w - 8; x += 4) {
      const o = <usize>(y * stride + x) << 2
      const p = diff + o
      const near = f32x4.add(f32x4.add(at(p, -1), at(p, 1)), f32x4.add(at(p, -stride), at(p, stride)))
      const corner = f32x4.add(
        f32x4.add(at(p, -stride - 1), at(p, -stride + 1)),
        f32x4.add(at(p, stride - 1), at(p, stride + 1)),
      )
      const d = f32x4.add(v128.load(p), f32x4.add(f32x4.mul(half, near), f32x4.mul(quarter, corner)))
      v128.store(dst + o, f32x4.add(v128.load(green + o), d))
    }
  }
}
