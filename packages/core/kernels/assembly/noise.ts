import { splat } from './mathf'
import { block_forward, block_inverse, lay } from './blocks'

// Noise reduction on stabilised planes: the noise of every plane has a variance of 1 where its sigma says 1.

/** Sum of the four lanes, in a fixed order. */
// @ts-ignore: decorator
@inline function across(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3))
}

/** First multiple of `step` from which on a block starts inside, as an offset from `origin`. */
// @ts-ignore: decorator
@inline function first(origin: i32, step: i32): i32 {
  const r = origin % step
  return r == 0 ? 0 : r > 0 ? step - r : -r
}

/**
 * Sliding cosine transform with thresholds (Yu and Sapiro 2011): blocks on a grid of `step` samples, coefficients
 * below a threshold set to nothing, overlapping results weighted by how few coefficients stand for them.
 * @param src, num planes one after the other, `plane` bytes apart; `num` and `den` zeroed
 * @param x0, y0 place of the window in the picture: the grid is the picture's
 * @param means planes whose blocks keep their mean, however small; those behind them hold none
 * @param thresholds one number a plane: coefficients up to it go
 */
export function shrink_blocks(
  src: usize, num: usize, den: usize, planes: i32, plane: usize, w: i32, h: i32, stride: i32,
  x0: i32, y0: i32, means: i32, step: i32, thresholds: usize, window: usize, work: usize,
): void {
  const line = (<usize>stride) << 2
  for (let y = first(y0, step); y + 8 <= h; y += step)
    for (let x = first(x0, step); x + 8 <= w; x += step) {
      const at = (<usize>(y * stride + x)) << 2
      let kept: i32 = 0
      for (let p = 0; p < planes; p++) {
        const b = work + ((<usize>p) << 8)
        block_forward(src + (<usize>p) * plane + at, line, b)
        const t = load<f32>(thresholds + ((<usize>p) << 2))
        const square = splat(t * t)
        const mean = load<f32>(b)
        for (let i: usize = 0; i < 256; i += 16) {
          const v = v128.load(b + i)
          const keep = f32x4.gt(f32x4.mul(v, v), square)
          kept += i32x4.bitmask(keep) == 0 ? 0 : popcnt<i32>(i32x4.bitmask(keep))
          v128.store(b + i, v128.and(v, keep))
        }
        if (p < means) store<f32>(b, mean)
        block_inverse(b)
      }
      const weight: f32 = 1.0 / (<f32>kept + 1.0)
      for (let p = 0; p < planes; p++)
        lay(work + ((<usize>p) << 8), window, weight, num + (<usize>p) * plane + at, p == 0 ? den + at : 0, line)
    }
}

/** Squared distance of two blocks; stops early once it is beyond `most`. */
// @ts-ignore: decorator
@inline function distance(a: usize, b: usize, line: usize, most: f32): f32 {
  let sum = splat(0.0)
  let p = a
  let q = b
  for (let half = 0; half < 2; half++) {
    for (let j = 0; j < 4; j++) {
      const d = f32x4.sub(v128.load(p), v128.load(q))
      const e = f32x4.sub(v128.load(p + 16), v128.load(q + 16))
      sum = f32x4.add(sum, f32x4.add(f32x4.mul(d, d), f32x4.mul(e, e)))
      p += line
      q += line
    }
    if (half == 0 && across(sum) > most) return most
  }
  return across(sum)
}

/** Walsh-Hadamard transform over `count` blocks (a power of two), 256 bytes apart, in place; not normalised. */
// @ts-ignore: decorator
@inline function hadamard(at: usize, count: usize): void {
  for (let half: usize = 1; half < count; half <<= 1)
    for (let k: usize = 0; k < count; k += half << 1)
      for (let j: usize = 0; j < half; j++) {
        const a = at + ((k + j) << 8)
        const b = a + (half << 8)
        for (let i: usize = 0; i < 256; i += 16) {
          const u = v128.load(a + i)
          const v = v128.load(b + i)
          v128.store(a + i, f32x4.add(u, v))
          v128.store(b + i, f32x4.sub(u, v))
        }
      }
}

/**
 * Collaborative filtering (Dabov 2007, its second step): blocks that look alike in a first estimate are transformed
 * together and attenuated as by Wiener, with that estimate for the truth.
 * @param noisy, pilot, num planes one after the other, `plane` bytes apart; `num` and `den` zeroed, `den` of as many planes
 * @param means planes whose groups keep their mean, however small; those behind them hold none
 * @param radius how far off alike blocks are looked for
 * @param most how many, a power of two
 * @param near mean squared difference up to which blocks are alike
 * @param sigmas noise of each plane as it is to be taken away
 * @param work room for 2 * most blocks and the list
 */
export function filter_groups(
  noisy: usize, pilot: usize, num: usize, den: usize, planes: i32, plane: usize, w: i32, h: i32, stride: i32,
  x0: i32, y0: i32, means: i32, step: i32, radius: i32, most: i32, near: f32, sigmas: usize,
  window: usize, work: usize,
): void {
  const line = (<usize>stride) << 2
  const list = work // addresses within a plane, then distances
  const costs = work + ((<usize>most) << 2)
  const a = work + ((<usize>most) << 3)
  const b = a + ((<usize>most) << 8)
  const limit: f32 = near * 64.0
  for (let y = first(y0, step); y + 8 <= h; y += step)
    for (let x = first(x0, step); x + 8 <= w; x += step) {
      const at = (<usize>(y * stride + x)) << 2
      const ref = pilot + at
      store<u32>(list, <u32>at)
      store<f32>(costs, -1.0)
      let count = 1
      let worst = limit
      const top = max(y - radius, 0), bottom = min(y + radius, h - 8)
      const left = max(x - radius, 0), right = min(x + radius, w - 8)
      for (let v = top; v <= bottom; v++)
        for (let u = left; u <= right; u++) {
          if (u == x && v == y) continue
          const other = (<usize>(v * stride + u)) << 2
          const d = distance(ref, pilot + other, line, worst)
          if (d >= worst) continue
          // kept in order of likeness
          let k = count < most ? count++ : most - 1
          while (k > 1 && load<f32>(costs + ((<usize>(k - 1)) << 2)) > d) {
            store<f32>(costs + ((<usize>k) << 2), load<f32>(costs + ((<usize>(k - 1)) << 2)))
            store<u32>(list + ((<usize>k) << 2), load<u32>(list + ((<usize>(k - 1)) << 2)))
            k--
          }
          store<f32>(costs + ((<usize>k) << 2), d)
          store<u32>(list + ((<usize>k) << 2), <u32>other)
          if (count == most) worst = load<f32>(costs + ((<usize>(most - 1)) << 2))
        }
      let n = 1
      while (n << 1 <= count) n <<= 1
      const share: f32 = 1.0 / (<f32>n)
      for (let p = 0; p < planes; p++) {
        const offset = (<usize>p) * plane
        const sigma = load<f32>(sigmas + ((<usize>p) << 2))
        // the transform over the group is not normalised: squares are n times as large
        const variance = splat(sigma * sigma * <f32>n)
        for (let k = 0; k < n; k++) {
          const place = <usize>load<u32>(list + ((<usize>k) << 2))
          block_forward(noisy + offset + place, line, a + ((<usize>k) << 8))
          block_forward(pilot + offset + place, line, b + ((<usize>k) << 8))
        }
        hadamard(a, n)
        hadamard(b, n)
        let energy = splat(0.0)
        const norm = splat(share)
        const mean = v128.load(a)
        for (let i: usize = 0; i < (<usize>n) << 8; i += 16) {
          const t = v128.load(b + i)
          const square = f32x4.mul(t, t)
          const g = f32x4.div(square, f32x4.add(square, variance))
          energy = f32x4.add(energy, f32x4.mul(g, g))
          v128.store(a + i, f32x4.mul(f32x4.mul(v128.load(a + i), g), norm))
        }
        // the mean of the group stays, where it holds light or colour
        if (p < means) store<f32>(a, f32x4.extract_lane(mean, 0) * share)
        hadamard(a, n)
        const weight: f32 = 1.0 / max<f32>(across(energy), 1.0)
        for (let k = 0; k < n; k++) {
          const place = <usize>load<u32>(list + ((<usize>k) << 2))
          block_inverse(a + ((<usize>k) << 8))
          lay(a + ((<usize>k) << 8), window, weight, num + offset + place, den + offset + place, line)
        }
      }
    }
}

/** num = num / den, of n samples a plane; where nothing was laid, the source stays. */
export function settle(num: usize, den: usize, src: usize, n: usize): void {
  const none = splat(1e-12)
  for (let i: usize = 0; i < n << 2; i += 16) {
    const d = v128.load(den + i)
    const v = f32x4.div(v128.load(num + i), f32x4.pmax(d, none))
    v128.store(num + i, v128.bitselect(v, v128.load(src + i), f32x4.gt(d, none)))
  }
}

/** Means of 4 x 4 samples; w and h count the means, the source starts at a whole one. */
export function coarser(src: usize, stride: i32, dst: usize, small: i32, w: i32, h: i32): void {
  const line = (<usize>stride) << 2
  const share = splat(0.0625)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const s = src + (<usize>(4 * y)) * line + ((<usize>x) << 4)
      const sum = f32x4.add(
        f32x4.add(v128.load(s), v128.load(s + line)),
        f32x4.add(v128.load(s + 2 * line), v128.load(s + 3 * line)),
      )
      store<f32>(dst + ((<usize>(y * small + x)) << 2), across(f32x4.mul(sum, share)))
    }
}

/**
 * Adds amount * (a - b), four times as coarse, to a plane, between the middles of its cells in straight lines.
 * @param ox, oy where in the plane the first cell starts, 0 to 3
 * @param work room for sw + 2 floats
 */
export function add_coarse(
  dst: usize, w: i32, h: i32, stride: i32, ox: i32, oy: i32, a: usize, b: usize, small: i32, sw: i32, sh: i32,
  amount: f32, work: usize,
): void {
  // places of four samples between the middles of two cells
  const f = f32x4(0.125, 0.375, 0.625, 0.875)
  const k = splat(amount)
  for (let y = 0; y < h; y++) {
    const v = max<f32>((<f32>(y - oy) + 0.5) * 0.25 - 0.5, 0.0)
    const j = min(<i32>v, sh - 1)
    const top = (<usize>(j * small)) << 2
    const bottom = (<usize>(min(j + 1, sh - 1) * small)) << 2
    const fy = v - <f32>j
    for (let i = 0; i < sw; i++) {
      const at = (<usize>i) << 2
      const p = load<f32>(a + top + at) - load<f32>(b + top + at)
      const q = load<f32>(a + bottom + at) - load<f32>(b + bottom + at)
      store<f32>(work + at + 4, p + fy * (q - p))
    }
    store<f32>(work, load<f32>(work + 4))
    store<f32>(work + ((<usize>(sw + 1)) << 2), load<f32>(work + ((<usize>sw) << 2)))
    const line = dst + ((<usize>(y * stride)) << 2)
    // sample ox + 2 + 4 i lies behind the middle of cell i
    for (let i = -1; i < sw; i++) {
      const x = ox + 2 + 4 * i
      const p = load<f32>(work + ((<usize>(i + 1)) << 2))
      const q = load<f32>(work + ((<usize>(i + 2)) << 2))
      const add = f32x4.mul(k, f32x4.add(splat(p), f32x4.mul(f, splat(q - p))))
      if (x >= 0 && x + 4 <= w) {
        const at = line + ((<usize>x) << 2)
        v128.store(at, f32x4.add(v128.load(at), add))
      } else {
        for (let n = max(x, 0); n < min(x + 4, w); n++) {
          const at = line + ((<usize>n) << 2)
          const g: f32 = (<f32>(n - x) + 0.5) * 0.25
          store<f32>(at, load<f32>(at) + amount * (p + g * (q - p)))
        }
      }
    }
  }
}

/**
 * How much of its noise each place gets back: `keep` where there is drawing beyond the noise, and by tone.
 * @param means, squares sums over windows, of `1 / share` samples, of the light and its square
 * @param tone -1..1: above nothing the lights get theirs back, below it the shadows
 * @param white one over the light of white
 */
export function shares_back(
  means: usize, squares: usize, dst: usize, n: i32, share: f32, keep: f32, tone: f32, white: f32,
): void {
  const s = splat(share)
  const one = splat(1.0)
  const zero = splat(0.0)
  const lights = splat(max<f32>(tone, 0.0))
  const shadows = splat(max<f32>(-tone, 0.0))
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const m = f32x4.mul(v128.load(means + i), s)
    const variance = f32x4.pmax(f32x4.sub(f32x4.mul(v128.load(squares + i), s), f32x4.mul(m, m)), zero)
    // the noise has a variance of 1; drawing counts half where it is as strong
    const drawing = f32x4.mul(splat(keep), f32x4.div(variance, f32x4.add(variance, one)))
    const t = f32x4.pmin(f32x4.pmax(f32x4.mul(m, splat(white)), zero), one)
    const toned = f32x4.add(f32x4.mul(lights, t), f32x4.mul(shadows, f32x4.sub(one, t)))
    // what is given back for the one reason is not given back again for the other
    v128.store(dst + i, f32x4.sub(f32x4.add(drawing, toned), f32x4.mul(drawing, toned)))
  }
}

/** dst = dst + share * (other - dst), share by sample. */
export function mix_by(dst: usize, other: usize, shares: usize, n: i32): void {
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const d = v128.load(dst + i)
    v128.store(dst + i, f32x4.add(d, f32x4.mul(v128.load(shares + i), f32x4.sub(v128.load(other + i), d))))
  }
}
