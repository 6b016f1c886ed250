import { splat } from './mathf'

/** Mirror a place into 0..size-1 without repeating the edge, so that the filter pattern keeps its phase. */
// @ts-ignore: decorator
@inline function mirror(i: i32, size: i32): i32 {
  const period = 2 * (size - 1)
  let m = i % period
  if (m < 0) m += period
  return m < size ? m : period - m
}

/**
 * Reads a window of a 16-bit mosaic as floats: (value - black) * gain, with black and gain by place in the
 * 2 x 2 pattern. Outside the readable area the picture is mirrored.
 * @param levels 8 floats: black of (0,0) (1,0) (0,1) (1,1), then gain likewise, by mosaic coordinates
 */
export function fetch_mosaic(
  src: usize, srcStride: i32, areaX: i32, areaY: i32, areaW: i32, areaH: i32,
  x0: i32, y0: i32, w: i32, h: i32, dst: usize, dstStride: i32, levels: usize,
): void {
  for (let j = 0; j < h; j++) {
    const y = mirror(y0 + j - areaY, areaH) + areaY
    const row = src + (<usize>(y * srcStride) << 1)
    const out = dst + (<usize>(j * dstStride) << 2)
    const phase = (y & 1) << 1
    const b0 = load<f32>(levels + (<usize>phase << 2))
    const b1 = load<f32>(levels + (<usize>(phase + 1) << 2))
    const g0 = load<f32>(levels + (<usize>(phase + 4) << 2))
    const g1 = load<f32>(levels + (<usize>(phase + 5) << 2))
    const even = (x0 & 1) == 0
    const b = even ? f32x4(b0, b1, b0, b1) : f32x4(b1, b0, b1, b0)
    const g = even ? f32x4(g0, g1, g0, g1) : f32x4(g1, g0, g1, g0)
    let i = 0
    while (i < w) {
      const x = x0 + i
      if (x >= areaX && x + 4 <= areaX + areaW && i + 4 <= dstStride && (i & 1) == 0) {
        const v = f32x4.convert_i32x4_u(v128.load16x4_u(row + (<usize>x << 1)))
        v128.store(out + (<usize>i << 2), f32x4.mul(f32x4.sub(v, b), g))
        i += 4
      } else {
        const m = mirror(x - areaX, areaW) + areaX
        const odd = m & 1
        const v = <f32>load<u16>(row + (<usize>m << 1))
        store<f32>(out + (<usize>i << 2), (v - (odd ? b1 : b0)) * (odd ? g1 : g0))
        i++
      }
    }
  }
}

/** Replaces every sample by table[min(sample, size - 1)], over n samples. */
export function apply_table(data: usize, n: i32, table: usize, size: i32): void {
  for (let i: usize = 0; i < <usize>n << 1; i += 2) {
    const v = <i32>load<u16>(data + i)
    store<u16>(data + i, load<u16>(table + (<usize>min(v, size - 1) << 1)))
  }
}

/** 16-bit samples in either byte order to this machine's. */
export function copy_u16(src: usize, dst: usize, n: i32, swap: bool): void {
  for (let i: usize = 0; i < <usize>n << 1; i += 2) {
    const v = load<u16>(src + i)
    store<u16>(dst + i, swap ? <u16>((v << 8) | (v >> 8)) : v)
  }
}

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
