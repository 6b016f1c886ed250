import { splat } from './mathf'

// Guided filtering (He 2010) with sums in a fixed order, so that every cut of a picture gives the same bits.

/** Sums of 2 r + 1 neighbours across, then down; edges of the window repeated. `work` holds one plane. */
export function box_sum(src: usize, dst: usize, w: i32, h: i32, stride: i32, r: i32, work: usize): void {
  const line = (<usize>stride) << 2
  for (let y = 0; y < h; y++) {
    const s = src + (<usize>y) * line
    const d = work + (<usize>y) * line
    for (let x = 0; x < w; x += 4) {
      if (x >= r && x + 3 + r < w) {
        let sum = splat(0.0)
        for (let k = -r; k <= r; k++) sum = f32x4.add(sum, v128.load(s + ((<usize>(x + k)) << 2)))
        v128.store(d + ((<usize>x) << 2), sum)
      } else
        for (let i = x; i < min(x + 4, w); i++) {
          let sum: f32 = 0.0
          for (let k = -r; k <= r; k++) sum += load<f32>(s + ((<usize>min(max(i + k, 0), w - 1)) << 2))
          store<f32>(d + ((<usize>i) << 2), sum)
        }
    }
  }
  for (let y = 0; y < h; y++) {
    const d = dst + (<usize>y) * line
    for (let x: usize = 0; x < line; x += 16) {
      let sum = splat(0.0)
      for (let k = -r; k <= r; k++) sum = f32x4.add(sum, v128.load(work + (<usize>min(max(y + k, 0), h - 1)) * line + x))
      v128.store(d + x, sum)
    }
  }
}

/** Square roots of light, whose noise hardly depends on it: their mean, and red's and blue's distance from green's. */
export function to_roots(r: usize, g: usize, b: usize, n: i32, knee: f32, y: usize, u: usize, v: usize): void {
  const k = splat(knee)
  const zero = splat(0.0)
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const p = f32x4.sqrt(f32x4.pmax(f32x4.add(v128.load(r + i), k), zero))
    const q = f32x4.sqrt(f32x4.pmax(f32x4.add(v128.load(g + i), k), zero))
    const s = f32x4.sqrt(f32x4.pmax(f32x4.add(v128.load(b + i), k), zero))
    const half = f32x4.mul(f32x4.add(p, s), splat(0.5))
    v128.store(y + i, f32x4.mul(f32x4.add(half, q), splat(0.5)))
    v128.store(u + i, f32x4.sub(p, q))
    v128.store(v + i, f32x4.sub(s, q))
  }
}

/** The way back, in place over light; what lies below the knee stays as it was. */
export function from_roots(r: usize, g: usize, b: usize, n: i32, knee: f32, y: usize, u: usize, v: usize): void {
  const k = splat(knee)
  const zero = splat(0.0)
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const du = v128.load(u + i)
    const dv = v128.load(v + i)
    const q = f32x4.sub(v128.load(y + i), f32x4.mul(f32x4.add(du, dv), splat(0.25)))
    const p = f32x4.pmax(f32x4.add(q, du), zero)
    const s = f32x4.pmax(f32x4.add(q, dv), zero)
    const t = f32x4.pmax(q, zero)
    v128.store(r + i, f32x4.sub(f32x4.mul(p, p), k))
    v128.store(g + i, f32x4.sub(f32x4.mul(t, t), k))
    v128.store(b + i, f32x4.sub(f32x4.mul(s, s), k))
  }
}

export function multiply(a: usize, b: usize, dst: usize, n: i32): void {
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16)
    v128.store(dst + i, f32x4.mul(v128.load(a + i), v128.load(b + i)))
}

/**
 * From sums over windows to the line that fits each best: value = slope * guide + rest.
 * @param guide, squares sums of the guide and its square; `value`, `products` of what is fitted; results in their place
 */
export function fit_lines(guide: usize, squares: usize, value: usize, products: usize, n: i32, share: f32, eps: f32): void {
  const k = splat(share)
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const m = f32x4.mul(v128.load(guide + i), k)
    const t = f32x4.mul(v128.load(value + i), k)
    const variance = f32x4.pmax(f32x4.sub(f32x4.mul(v128.load(squares + i), k), f32x4.mul(m, m)), splat(0.0))
    const cov = f32x4.sub(f32x4.mul(v128.load(products + i), k), f32x4.mul(m, t))
    const slope = f32x4.div(cov, f32x4.add(variance, splat(eps)))
    v128.store(products + i, slope)
    v128.store(value + i, f32x4.sub(t, f32x4.mul(slope, m)))
  }
}

/**
 * Moves values toward slope * guide + rest, by sums over windows; a value that differs by more than `limit` keeps
 * what is beyond, twice over, until it is left alone at three times the limit.
 */
export function approach(value: usize, guide: usize, slope: usize, rest: usize, n: i32, share: f32, limit: f32, amount: f32): void {
  const k = splat(share)
  const t = splat(limit)
  const three = splat(1.5)
  const half = splat(0.5)
  const zero = splat(0.0)
  const one = splat(1.0)
  const inverse = splat(1.0 / limit)
  const a = splat(amount)
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const x = v128.load(value + i)
    const smooth = f32x4.mul(f32x4.add(f32x4.mul(v128.load(slope + i), v128.load(guide + i)), v128.load(rest + i)), k)
    const off = f32x4.sub(x, smooth)
    // 1 up to the limit, 0 from three limits on
    const w = f32x4.pmax(f32x4.pmin(f32x4.sub(three, f32x4.mul(f32x4.mul(f32x4.abs(off), inverse), half)), one), zero)
    v128.store(value + i, f32x4.sub(x, f32x4.mul(f32x4.mul(off, w), a)))
  }
}
