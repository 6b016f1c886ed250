import { lookup4, splat } from './mathf'

/** Takes every second sample of a line. Reads 2n samples. */
export function every_second(src: usize, dst: usize, n: i32): void {
  for (let i: usize = 0; i < <usize>n << 2; i += 16)
    v128.store(dst + i, i32x4.shuffle(v128.load(src + 2 * i), v128.load(src + 2 * i, 16), 0, 2, 4, 6))
}

/** Puts n samples into every second place of a line. */
export function to_every_second(src: usize, dst: usize, n: i32): void {
  for (let i: usize = 0; i < <usize>n << 2; i += 4) store<f32>(dst + 2 * i, load<f32>(src + i))
}

// 1.5 * 2^23 / 512: added to a number it leaves a 512th
const ROUND: f32 = 24576.0

/**
 * Where one colour's image of the samples of a line lies, as `sample_line` takes places; to a 512th, so that it does
 * not matter which tile asks.
 * @param x, y of the first sample from the lens's axis, pixels; `step` to the next
 * @param table how much farther out than the sample, as a share of its radius; `per` entries a pixel, `last` its end
 * @param left, top the first sample's own place in the plane that is sampled, `across` to the next; `scale` its samples
 *   a pixel
 * @param right, bottom ends of that plane; places are held to where a kernel of six has all it needs
 * @param places a line of x and, `n` floats on, one of y; n is a multiple of 4
 */
export function places_apart(
  x: f32, y: f32, step: f32, n: i32, table: usize, per: f32, last: f32, left: f32, top: f32, across: f32, scale: f32,
  right: f32, bottom: f32, places: usize,
): void {
  const size = <usize>n << 2
  const yy = splat(y * y), k = splat(scale), least = splat(3.0), round = splat(ROUND)
  const most = splat(right - 4.0), mostDown = splat(bottom - 4.0), end = splat(last), by = splat(per)
  for (let i = 0; i < n; i += 4) {
    const at = f32x4.add(splat(<f32>i), f32x4(0.0, 1.0, 2.0, 3.0))
    const vx = f32x4.add(splat(x), f32x4.mul(splat(step), at))
    const r = f32x4.sqrt(f32x4.add(f32x4.mul(vx, vx), yy))
    const f = f32x4.mul(lookup4(table, f32x4.pmin(f32x4.mul(r, by), end)), k)
    const dx = f32x4.sub(f32x4.add(f32x4.mul(vx, f), round), round)
    const dy = f32x4.sub(f32x4.add(f32x4.mul(splat(y), f), round), round)
    const sx = f32x4.add(f32x4.add(splat(left + 0.5), f32x4.mul(splat(across), at)), dx)
    const to = places + (<usize>i << 2)
    v128.store(to, f32x4.pmin(f32x4.pmax(sx, least), most))
    v128.store(to + size, f32x4.pmin(f32x4.pmax(f32x4.add(splat(top + 0.5), dy), least), mostDown))
  }
}
