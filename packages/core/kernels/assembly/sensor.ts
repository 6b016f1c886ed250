import { splat } from './mathf'

// @ts-ignore: decorator
@inline function at(p: usize, dx: i32, dy: i32, stride: i32): v128 {
  return v128.load(p + (<isize>(dy * stride + dx) << 2))
}

// @ts-ignore: decorator
@inline function sum4(a: v128, b: v128, c: v128, d: v128): v128 {
  return f32x4.add(f32x4.add(a, b), f32x4.add(c, d))
}

/**
 * Hot and dead pixels: a sample that stands out of its eight neighbours of the same colour by more than their
 * own spread and `floor`, while the four photosites that touch it do not rise out of the eight beyond them by more
 * than `share` of that. A lens spreads real points of light over all of these, a defect stands alone. It takes the
 * mean of the pair of opposite neighbours that agree best.
 */
export function mend_defects(
  src: usize, dst: usize, w: i32, h: i32, stride: i32, floor: f32, share: f32,
): void {
  const k = splat(share)
  const f = splat(floor)
  const half = splat(0.5)
  const quarter = splat(0.25)
  const eighth = splat(0.125)
  for (let y = 2; y < h - 2; y++) {
    for (let x = 4; x <= w - 8; x += 4) {
      const p = src + (<usize>(y * stride + x) << 2)
      const v = v128.load(p)
      const l = at(p, -2, 0, stride), r = at(p, 2, 0, stride), u = at(p, 0, -2, stride), d = at(p, 0, 2, stride)
      const a = at(p, -2, -2, stride), b = at(p, 2, 2, stride), c = at(p, 2, -2, stride), e = at(p, -2, 2, stride)
      const hi = f32x4.pmax(f32x4.pmax(f32x4.pmax(l, r), f32x4.pmax(u, d)), f32x4.pmax(f32x4.pmax(a, b), f32x4.pmax(c, e)))
      const lo = f32x4.pmin(f32x4.pmin(f32x4.pmin(l, r), f32x4.pmin(u, d)), f32x4.pmin(f32x4.pmin(a, b), f32x4.pmin(c, e)))
      const spread = f32x4.add(f, f32x4.sub(hi, lo))
      const above = f32x4.gt(f32x4.sub(v, hi), spread)
      const below = f32x4.gt(f32x4.sub(lo, v), spread)
      let bad = v128.or(above, below)
      if (v128.any_true(bad)) {
        const own = f32x4.sub(v, f32x4.mul(eighth, f32x4.add(sum4(l, r, u, d), sum4(a, b, c, e))))
        const touching = f32x4.mul(quarter, sum4(at(p, -1, 0, stride), at(p, 1, 0, stride), at(p, 0, -1, stride), at(p, 0, 1, stride)))
        const beyond = f32x4.mul(eighth, f32x4.add(
          sum4(at(p, -1, -2, stride), at(p, 1, -2, stride), at(p, -1, 2, stride), at(p, 1, 2, stride)),
          sum4(at(p, -2, -1, stride), at(p, -2, 1, stride), at(p, 2, -1, stride), at(p, 2, 1, stride)),
        ))
        const rise = f32x4.sub(touching, beyond)
        // the same sign as the sample's own excess and more than the share of it: light, not a defect
        const alone = v128.bitselect(
          f32x4.lt(rise, f32x4.mul(k, own)),
          f32x4.gt(rise, f32x4.mul(k, own)),
          above,
        )
        bad = v128.and(bad, alone)
      }
      let result = v
      if (v128.any_true(bad)) {
        let best = f32x4.abs(f32x4.sub(l, r))
        let sum = f32x4.add(l, r)
        const dv = f32x4.abs(f32x4.sub(u, d))
        let take = f32x4.lt(dv, best)
        best = f32x4.pmin(best, dv)
        sum = v128.bitselect(f32x4.add(u, d), sum, take)
        const da = f32x4.abs(f32x4.sub(a, b))
        take = f32x4.lt(da, best)
        best = f32x4.pmin(best, da)
        sum = v128.bitselect(f32x4.add(a, b), sum, take)
        const dc = f32x4.abs(f32x4.sub(c, e))
        take = f32x4.lt(dc, best)
        sum = v128.bitselect(f32x4.add(c, e), sum, take)
        result = v128.bitselect(f32x4.mul(sum, half), v, bad)
      }
      v128.store(dst + (<usize>(y * stride + x) << 2), result)
    }
  }
}

/**
 * Lone bright specks: a sample brighter than the third brightest of its eight neighbours of the same colour, by more
 * than `floor` and a share of it, takes that one's value. Two of the eight may belong to the speck.
 */
export function mend_specks(
  src: usize, dst: usize, w: i32, h: i32, stride: i32, floor: f32, share: f32,
): void {
  for (let y = 2; y < h - 2; y++)
    for (let x = 4; x <= w - 8; x += 4) {
      const p = src + (<usize>(y * stride + x) << 2)
      const v = v128.load(p)
      let a = splat(-1e9), b = a, c = a
      for (let j = -2; j <= 2; j += 2)
        for (let i = -2; i <= 2; i += 2) {
          if (i == 0 && j == 0) continue
          let n = at(p, i, j, stride)
          // the three largest so far, in order
          const ab = f32x4.pmax(a, n)
          n = f32x4.pmin(a, n)
          a = ab
          const bc = f32x4.pmax(b, n)
          n = f32x4.pmin(b, n)
          b = bc
          c = f32x4.pmax(c, n)
        }
      const limit = f32x4.add(f32x4.add(c, splat(floor)), f32x4.mul(f32x4.pmax(c, splat(0.0)), splat(share)))
      v128.store(dst + (<usize>(y * stride + x) << 2), v128.bitselect(c, v, f32x4.gt(v, limit)))
    }
}
