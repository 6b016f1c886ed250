// Places of a picture that look like others. Pixels are four bytes; a patch is 8 x 8 of them, named by its first.

/** Side of a patch. */
const SIDE: i32 = 8

/** Squared differences of two patches, or at least `limit` where they are larger; of pixels of `a` that are known alone. */
// @ts-ignore: decorator
@inline function difference(a: usize, aLine: usize, b: usize, bLine: usize, known: usize, limit: u32): u32 {
  let sum: u32 = 0
  for (let y = 0; y < SIDE; y += 2) {
    let s = i32x4.splat(0)
    for (let k = 0; k < 2; k++) {
      let p = v128.load(a), q = v128.load(b), t = v128.load(a, 16), u = v128.load(b, 16)
      if (known) {
        const m = v128.load(known), n = v128.load(known, 16)
        p = v128.and(p, m)
        q = v128.and(q, m)
        t = v128.and(t, n)
        u = v128.and(u, n)
        known += aLine
      }
      const d0 = i16x8.sub(i16x8.extend_low_i8x16_u(p), i16x8.extend_low_i8x16_u(q))
      const d1 = i16x8.sub(i16x8.extend_high_i8x16_u(p), i16x8.extend_high_i8x16_u(q))
      const d2 = i16x8.sub(i16x8.extend_low_i8x16_u(t), i16x8.extend_low_i8x16_u(u))
      const d3 = i16x8.sub(i16x8.extend_high_i8x16_u(t), i16x8.extend_high_i8x16_u(u))
      s = i32x4.add(s, i32x4.add(
        i32x4.add(i32x4.dot_i16x8_s(d0, d0), i32x4.dot_i16x8_s(d1, d1)),
        i32x4.add(i32x4.dot_i16x8_s(d2, d2), i32x4.dot_i16x8_s(d3, d3)),
      ))
      a += aLine
      b += bLine
    }
    sum += i32x4.extract_lane(s, 0) + i32x4.extract_lane(s, 1) + i32x4.extract_lane(s, 2) + i32x4.extract_lane(s, 3)
    if (sum >= limit) return sum
  }
  return sum
}

/**
 * What each patch of a picture that is being completed costs where it takes from now.
 * @param image w x h pixels; `seen` width x height pixels of the picture that is being completed
 * @param need width x height bytes: which of its patches count
 * @param field of each such patch the one it takes from, y << 16 | x in the image
 * @param known width x height words: all bits where a pixel counts; 0 where all do
 */
export function patch_costs(
  image: usize, w: i32, seen: usize, width: i32, height: i32, need: usize, field: usize, costs: usize, known: usize,
): void {
  const line = (<usize>w) << 2, own = (<usize>width) << 2
  for (let i = 0; i < width * height; i++) {
    if (!load<u8>(need + i)) continue
    const f = load<u32>(field + ((<usize>i) << 2))
    const at = image + (<usize>(f >> 16) * w + (f & 0xffff) << 2)
    store<u32>(costs + ((<usize>i) << 2), difference(seen + ((<usize>i) << 2), own, at, line, known ? known + ((<usize>i) << 2) : 0, 0xffffffff))
  }
}

/** What one patch would cost where it took from another place. */
export function patch_cost(
  image: usize, w: i32, seen: usize, width: i32, patch: i32, known: usize, x: i32, y: i32,
): u32 {
  const at = (<usize>patch) << 2
  return difference(
    seen + at, (<usize>width) << 2, image + ((<usize>(y * w + x)) << 2), (<usize>w) << 2, known ? known + at : 0,
    0xffffffff,
  )
}

/**
 * One walk over the patches: each tries what its neighbours take from, moved along, and places around its own, ever
 * nearer (Barnes, Shechtman, Finkelstein and Goldman 2009, "PatchMatch").
 * @param ok w x h bytes: patches that may be taken from
 * @param back walks from the last patch to the first where not 0
 * @param radius of the widest circle that is tried; 0 tries neighbours alone
 * @param tries at each radius
 * @param keep sixty-fourths by which what a neighbour takes from may be worse and is taken all the same
 * @param seed not 0
 * @returns the seed to go on with
 */
export function match_pass(
  image: usize, w: i32, h: i32, ok: usize, seen: usize, width: i32, height: i32, need: usize, field: usize,
  costs: usize, known: usize, back: i32, radius: i32, tries: i32, keep: i32, seed: u32,
): u32 {
  const line = (<usize>w) << 2, own = (<usize>width) << 2
  const step = back ? -1 : 1
  const all = width * height
  for (let n = 0; n < all; n++) {
    const i = back ? all - 1 - n : n
    if (!load<u8>(need + i)) continue
    const x = i % width, y = i / width
    const patch = seen + ((<usize>i) << 2)
    const at = (<usize>i) << 2
    const marks: usize = known ? known + at : 0
    let best = load<u32>(field + at)
    let cost = load<u32>(costs + at)
    for (let k = 0; k < 2; k++) {
      const p = x - (k ? 0 : step), q = y - (k ? step : 0)
      if (p < 0 || q < 0 || p >= width || q >= height) continue
      const j = q * width + p
      if (!load<u8>(need + j)) continue
      const f = load<u32>(field + ((<usize>j) << 2))
      const u = <i32>(f & 0xffff) + (k ? 0 : step), v = <i32>(f >> 16) + (k ? step : 0)
      const g = (<u32>v) << 16 | <u32>u
      if (u < 0 || v < 0 || u >= w || v >= h || g == best || !load<u8>(ok + <usize>(v * w + u))) continue
      const most = cost + (cost >> 6) * <u32>keep
      const c = difference(patch, own, image + ((<usize>(v * w + u)) << 2), line, marks, most)
      if (c < most) {
        best = g
        cost = c
      }
    }
    for (let r = radius; r > 0; r >>= 1)
      for (let k = 0; k < tries; k++) {
        seed ^= seed << 13
        seed ^= seed >> 17
        seed ^= seed << 5
        const u = <i32>(best & 0xffff) + <i32>((seed & 0xffff) * (2 * r + 1) >> 16) - r
        const v = <i32>(best >> 16) + <i32>((seed >> 16) * (2 * r + 1) >> 16) - r
        if (u < 0 || v < 0 || u >= w || v >= h || !load<u8>(ok + <usize>(v * w + u))) continue
        const c = difference(patch, own, image + ((<usize>(v * w + u)) << 2), line, marks, cost)
        if (c < cost) {
          best = (<u32>v) << 16 | <u32>u
          cost = c
        }
      }
    store<u32>(field + at, best)
    store<u32>(costs + at, cost)
  }
  return seed
}

/**
 * What is missing, as the mean of what all patches over it take it from; the better a patch is met, the more it counts
 * (Wexler, Shechtman and Irani 2007).
 * @param hole width x height bytes: pixels that are missing
 * @param trust width x height floats by which patches count
 * @param spread the cost at which a patch counts half
 */
export function vote_patches(
  image: usize, w: i32, seen: usize, width: i32, height: i32, hole: usize, need: usize, field: usize, costs: usize,
  trust: usize, spread: f32,
): void {
  const half = f32x4.splat(0.5)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      if (!load<u8>(hole + i)) continue
      let sum = f32x4.splat(0)
      let weights: f32 = 0
      for (let v = max(0, y - SIDE + 1); v <= y; v++)
        for (let u = max(0, x - SIDE + 1); u <= x; u++) {
          const j = v * width + u
          if (!load<u8>(need + j)) continue
          const f = load<u32>(field + ((<usize>j) << 2))
          const from = image + ((<usize>((<i32>(f >> 16) + y - v) * w + <i32>(f & 0xffff) + x - u)) << 2)
          const share = <f32>load<u32>(costs + ((<usize>j) << 2)) / spread
          const weight = load<f32>(trust + ((<usize>j) << 2)) / (1 + share * share)
          const pixel = f32x4.convert_i32x4_u(
            i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(from))),
          )
          sum = f32x4.add(sum, f32x4.mul(pixel, f32x4.splat(weight)))
          weights += weight
        }
      if (weights == 0) continue
      const mean = i32x4.trunc_sat_f32x4_u(f32x4.add(f32x4.div(sum, f32x4.splat(weights)), half))
      const bytes = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_u(mean, mean), mean)
      store<u32>(seen + ((<usize>i) << 2), i32x4.extract_lane(bytes, 0))
    }
}
