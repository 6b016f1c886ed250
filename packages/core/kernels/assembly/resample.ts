import { splat } from './mathf'

/**
 * One line resampled: out[i] = sum of taps weights from src[starts[i]] on. Taps a multiple of 4, in four
 * running sums added in a fixed order.
 */
export function resample_line(
  src: usize,
  dst: usize,
  outW: i32,
  starts: usize,
  weights: usize,
  taps: i32,
): void {
  for (let i = 0; i < outW; i++) {
    const s = src + ((<usize>load<i32>(starts + ((<usize>i) << 2))) << 2)
    const w = weights + ((<usize>(i * taps)) << 2)
    let acc = splat(0.0)
    for (let k: usize = 0; k < (<usize>taps) << 2; k += 16) {
      acc = f32x4.add(acc, f32x4.mul(v128.load(s + k), v128.load(w + k)))
    }
    const sum =
      f32x4.extract_lane(acc, 0) +
      f32x4.extract_lane(acc, 1) +
      (f32x4.extract_lane(acc, 2) + f32x4.extract_lane(acc, 3))
    store<f32>(dst + ((<usize>i) << 2), sum)
  }
}

/** dst = sum over `count` lines, `stride` floats apart, of weights[k] * line k; n a multiple of 4. */
export function weigh_lines(src: usize, stride: i32, count: i32, weights: usize, dst: usize, n: i32): void {
  for (let x: usize = 0; x < (<usize>n) << 2; x += 16) {
    let acc = splat(0.0)
    let p = src + x
    for (let k = 0; k < count; k++) {
      acc = f32x4.add(acc, f32x4.mul(v128.load32_splat(weights + ((<usize>k) << 2)), v128.load(p)))
      p += (<usize>stride) << 2
    }
    v128.store(dst + x, acc)
  }
}
