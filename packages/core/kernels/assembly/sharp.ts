import { splat } from './mathf'

/** Mean light of three channels, weighted. */
export function weigh_light(r: usize, g: usize, b: usize, dst: usize, n: i32, weights: usize): void {
  const p = v128.load32_splat(weights), q = v128.load32_splat(weights + 4), s = v128.load32_splat(weights + 8)
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16)
    v128.store(dst + i, f32x4.add(
      f32x4.add(f32x4.mul(v128.load(r + i), p), f32x4.mul(v128.load(g + i), q)),
      f32x4.mul(v128.load(b + i), s),
    ))
}

/**
 * Convolution with (2 r + 1)^2 taps, line by line in a fixed order; the window's edge is repeated. Eight samples at
 * once.
 */
export function convolve(src: usize, dst: usize, w: i32, h: i32, stride: i32, taps: usize, r: i32): void {
  const line = (<usize>stride) << 2
  const row = (<usize>(2 * r + 1)) << 2
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x += 8) {
      const at = (<usize>x) << 2
      if (x < r || x + 8 + r > w) {
        edge_convolve(src, dst, w, h, stride, taps, r, x, y)
        continue
      }
      let a = splat(0.0)
      let b = splat(0.0)
      let k = taps
      for (let j = -r; j <= r; j++) {
        let p = src + <usize>min(max(y + j, 0), h - 1) * line + at - ((<usize>r) << 2)
        const end = k + row
        for (; k < end; k += 4) {
          const t = v128.load32_splat(k)
          a = f32x4.add(a, f32x4.mul(t, v128.load(p)))
          b = f32x4.add(b, f32x4.mul(t, v128.load(p, 16)))
          p += 4
        }
      }
      const to = dst + <usize>y * line + at
      v128.store(to, a)
      v128.store(to, b, 16)
    }
  }
}

/** The same one by one where the taps reach beyond the window: its edge is repeated. */
function edge_convolve(src: usize, dst: usize, w: i32, h: i32, stride: i32, taps: usize, r: i32, x0: i32, y: i32): void {
  for (let x = x0; x < min(x0 + 8, w); x++) {
    let sum: f32 = 0.0
    let k = taps
    for (let j = -r; j <= r; j++) {
      const row = src + ((<usize>(min(max(y + j, 0), h - 1) * stride)) << 2)
      for (let i = -r; i <= r; i++) {
        sum += load<f32>(k) * load<f32>(row + ((<usize>min(max(x + i, 0), w - 1)) << 2))
        k += 4
      }
    }
    store<f32>(dst + ((<usize>(y * stride + x)) << 2), sum)
  }
}

/** Symmetric taps across, then down: taps[0] in the middle. `work` holds one plane. */
export function blur(src: usize, dst: usize, w: i32, h: i32, stride: i32, taps: usize, r: i32, work: usize): void {
  const line = (<usize>stride) << 2
  for (let y = 0; y < h; y++) {
    const s = src + (<usize>y) * line
    const d = work + (<usize>y) * line
    for (let x = 0; x < w; x += 4) {
      if (x >= r && x + 4 + r <= w) {
        const p = s + ((<usize>x) << 2)
        let sum = f32x4.mul(v128.load(p), v128.load32_splat(taps))
        for (let k = 1; k <= r; k++) {
          const o = (<usize>k) << 2
          sum = f32x4.add(sum, f32x4.mul(f32x4.add(v128.load(p - o), v128.load(p + o)), v128.load32_splat(taps + o)))
        }
        v128.store(d + ((<usize>x) << 2), sum)
      } else
        for (let i = x; i < min(x + 4, w); i++) {
          let sum = load<f32>(s + ((<usize>i) << 2)) * load<f32>(taps)
          for (let k = 1; k <= r; k++) {
            const p = load<f32>(s + ((<usize>max(i - k, 0)) << 2))
            const q = load<f32>(s + ((<usize>min(i + k, w - 1)) << 2))
            sum += (p + q) * load<f32>(taps + ((<usize>k) << 2))
          }
          store<f32>(d + ((<usize>i) << 2), sum)
        }
    }
  }
  for (let y = 0; y < h; y++) {
    const d = dst + (<usize>y) * line
    for (let x: usize = 0; x < line; x += 16) {
      let sum = f32x4.mul(v128.load(work + (<usize>y) * line + x), v128.load32_splat(taps))
      for (let k = 1; k <= r; k++) {
        const p = v128.load(work + (<usize>max(y - k, 0)) * line + x)
        const q = v128.load(work + (<usize>min(y + k, h - 1)) * line + x)
        sum = f32x4.add(sum, f32x4.mul(f32x4.add(p, q), v128.load32_splat(taps + ((<usize>k) << 2))))
      }
      v128.store(d + x, sum)
    }
  }
}

/** Least and largest of (2 r + 1)^2 neighbours; edges of the window repeated. `work` holds two planes. */
export function extremes(src: usize, lo: usize, hi: usize, w: i32, h: i32, stride: i32, r: i32, work: usize): void {
  const line = (<usize>stride) << 2
  const other = work + line * (<usize>h)
  for (let y = 0; y < h; y++) {
    const s = src + (<usize>y) * line
    const d = (<usize>y) * line
    for (let x = 0; x < w; x += 4) {
      if (x >= r && x + 4 + r <= w) {
        const p = s + ((<usize>x) << 2)
        let least = v128.load(p)
        let most = least
        for (let k = 1; k <= r; k++) {
          const a = v128.load(p - ((<usize>k) << 2)), b = v128.load(p + ((<usize>k) << 2))
          least = f32x4.pmin(least, f32x4.pmin(a, b))
          most = f32x4.pmax(most, f32x4.pmax(a, b))
        }
        v128.store(work + d + ((<usize>x) << 2), least)
        v128.store(other + d + ((<usize>x) << 2), most)
      } else
        for (let i = x; i < min(x + 4, w); i++) {
          let least = load<f32>(s + ((<usize>i) << 2))
          let most = least
          for (let k = max(i - r, 0); k <= min(i + r, w - 1); k++) {
            const v = load<f32>(s + ((<usize>k) << 2))
            least = min(least, v)
            most = max(most, v)
          }
          store<f32>(work + d + ((<usize>i) << 2), least)
          store<f32>(other + d + ((<usize>i) << 2), most)
        }
    }
  }
  for (let y = 0; y < h; y++)
    for (let x: usize = 0; x < line; x += 16) {
      let least = v128.load(work + (<usize>y) * line + x)
      let most = v128.load(other + (<usize>y) * line + x)
      for (let k = max(y - r, 0); k <= min(y + r, h - 1); k++) {
        least = f32x4.pmin(least, v128.load(work + (<usize>k) * line + x))
        most = f32x4.pmax(most, v128.load(other + (<usize>k) * line + x))
      }
      v128.store(lo + (<usize>y) * line + x, least)
      v128.store(hi + (<usize>y) * line + x, most)
    }
}

/**
 * Lets the extremes around give way where light is a ridge or a dark line: a blur has taken some of its height, which the
 * extremes of what is left cannot know. Beside an edge light falls off to one side alone, so that halos stay held.
 * @param d distance in samples at which both sides must have fallen off
 * @param gain times that fall by which the extremes may be passed
 */
export function widen_ridges(src: usize, lo: usize, hi: usize, w: i32, h: i32, stride: i32, d: i32, gain: f32): void {
  const line = (<usize>stride) << 2
  const far = (<usize>d) << 2
  const down = (<usize>d) * line
  const zero = splat(0.0), by = splat(gain)
  for (let y = d; y < h - d; y++) {
    const row = (<usize>y) * line
    let x = d
    for (; x + 4 + d <= w; x += 4) {
      const o = row + ((<usize>x) << 2)
      const p = src + o
      const v = v128.load(p)
      let up = zero, under = zero
      for (let k = 0; k < 4; k++) {
        const step = k == 0 ? far : k == 1 ? down : k == 2 ? down + far : down - far
        const a = f32x4.sub(v, v128.load(p - step)), b = f32x4.sub(v, v128.load(p + step))
        up = f32x4.pmax(up, f32x4.pmin(a, b))
        under = f32x4.pmax(under, f32x4.sub(zero, f32x4.pmax(a, b)))
      }
      v128.store(hi + o, f32x4.add(v128.load(hi + o), f32x4.mul(by, up)))
      v128.store(lo + o, f32x4.sub(v128.load(lo + o), f32x4.mul(by, under)))
    }
    for (; x < w - d; x++) {
      const o = row + ((<usize>x) << 2)
      const p = src + o
      const v = load<f32>(p)
      let up: f32 = 0, under: f32 = 0
      for (let k = 0; k < 4; k++) {
        const step = k == 0 ? far : k == 1 ? down : k == 2 ? down + far : down - far
        const a = v - load<f32>(p - step), b = v - load<f32>(p + step)
        up = max(up, min(a, b))
        under = max(under, -max(a, b))
      }
      store<f32>(hi + o, load<f32>(hi + o) + gain * up)
      store<f32>(lo + o, load<f32>(lo + o) - gain * under)
    }
  }
}

/**
 * The sharper light held to what is seemly.
 * @param light before, `sharp` after, which is replaced
 * @param lo, hi extremes around; light may pass them by `halo` of their distance
 * @param mask how much each place takes, or 0 for all of it
 * @param numbers amount, halo, a and b of the noise, and by what multiple of it differences count half
 */
export function hold_sharp(light: usize, sharp: usize, lo: usize, hi: usize, mask: usize, n: i32, numbers: usize): void {
  const amount = v128.load32_splat(numbers), halo = v128.load32_splat(numbers + 4)
  const a = v128.load32_splat(numbers + 8), b = v128.load32_splat(numbers + 12)
  const least = splat(1e-20)
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const y = v128.load(light + i)
    const d = f32x4.sub(v128.load(sharp + i), y)
    const square = f32x4.mul(d, d)
    const noise = f32x4.add(f32x4.mul(a, f32x4.pmax(y, splat(0.0))), b)
    let k = f32x4.mul(amount, f32x4.div(square, f32x4.add(f32x4.add(square, noise), least)))
    if (mask) k = f32x4.mul(k, v128.load(mask + i))
    const v = f32x4.add(y, f32x4.mul(d, k))
    const low = v128.load(lo + i), high = v128.load(hi + i)
    const room = f32x4.mul(halo, f32x4.sub(high, low))
    v128.store(sharp + i, f32x4.pmin(f32x4.pmax(v, f32x4.sub(low, room)), f32x4.add(high, room)))
  }
}

/** Sharp over light, within a quarter and four times; `k` keeps nearly no light from mattering. */
// @ts-ignore: decorator
@inline function gain_of(light: v128, sharp: v128, k: v128): v128 {
  const zero = splat(0.0)
  const y = f32x4.add(f32x4.pmax(light, zero), k)
  const s = f32x4.add(f32x4.pmax(sharp, zero), k)
  return f32x4.pmin(f32x4.pmax(f32x4.div(s, y), splat(0.25)), splat(4.0))
}

/** Multiplies channels by sharp / light, within a quarter and four times; nearly no light changes by the same amount. */
export function take_light(r: usize, g: usize, b: usize, light: usize, sharp: usize, n: i32, knee: f32): void {
  const k = splat(knee)
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const gain = gain_of(v128.load(light + i), v128.load(sharp + i), k)
    v128.store(r + i, f32x4.mul(v128.load(r + i), gain))
    v128.store(g + i, f32x4.mul(v128.load(g + i), gain))
    v128.store(b + i, f32x4.mul(v128.load(b + i), gain))
  }
}

/**
 * The same, and what sharpening makes of the colours themselves beyond that; the light stays what `sharp` says.
 * @param sharper the three channels sharpened, planes `plane` bytes apart
 * @param weights of the channels in the light
 * @param mask how much each place takes, or 0 for all of it
 * @param numbers amount, a and b of the noise at which a change of colour counts half
 */
export function take_colour(
  r: usize, g: usize, b: usize, light: usize, sharp: usize, sharper: usize, plane: i32, mask: usize, n: i32, knee: f32,
  weights: usize, numbers: usize,
): void {
  const k = splat(knee), zero = splat(0.0), least = splat(1e-20)
  const wr = v128.load32_splat(weights), wg = v128.load32_splat(weights + 4), wb = v128.load32_splat(weights + 8)
  const amount = v128.load32_splat(numbers), na = v128.load32_splat(numbers + 4), nb = v128.load32_splat(numbers + 8)
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const own = f32x4.pmax(v128.load(light + i), zero)
    const gain = gain_of(own, v128.load(sharp + i), k)
    const ir = v128.load(r + i), ig = v128.load(g + i), ib = v128.load(b + i)
    const cr = v128.load(sharper + i), cg = v128.load(sharper + <usize>plane + i), cb = v128.load(sharper + <usize>(2 * plane) + i)
    const c = f32x4.add(f32x4.add(f32x4.mul(wr, cr), f32x4.mul(wg, cg)), f32x4.mul(wb, cb))
    const same = f32x4.div(c, f32x4.pmax(own, splat(1e-5)))
    // as far as light may change, colour may
    const within = v128.and(f32x4.gt(same, splat(0.25)), f32x4.lt(same, splat(4.0)))
    const er = f32x4.sub(f32x4.sub(cr, c), f32x4.mul(f32x4.sub(ir, own), same))
    const eg = f32x4.sub(f32x4.sub(cg, c), f32x4.mul(f32x4.sub(ig, own), same))
    const eb = f32x4.sub(f32x4.sub(cb, c), f32x4.mul(f32x4.sub(ib, own), same))
    const square = f32x4.add(f32x4.add(f32x4.mul(er, er), f32x4.mul(eg, eg)), f32x4.mul(eb, eb))
    const noise = f32x4.add(f32x4.mul(na, own), nb)
    let share = f32x4.mul(amount, f32x4.div(square, f32x4.add(f32x4.add(square, noise), least)))
    if (mask) share = f32x4.mul(share, v128.load(mask + i))
    share = v128.and(share, within)
    // colour takes no channel below nothing
    const vr = f32x4.mul(ir, gain), vg = f32x4.mul(ig, gain), vb = f32x4.mul(ib, gain)
    v128.store(r + i, f32x4.pmax(f32x4.add(vr, f32x4.mul(share, er)), f32x4.pmin(vr, zero)))
    v128.store(g + i, f32x4.pmax(f32x4.add(vg, f32x4.mul(share, eg)), f32x4.pmin(vg, zero)))
    v128.store(b + i, f32x4.pmax(f32x4.add(vb, f32x4.mul(share, eb)), f32x4.pmin(vb, zero)))
  }
}

/**
 * Where there are edges: variance over that and the noise, from sums over windows; `strict` of it counts.
 * @param share one over the samples of a window; a, b noise of the light, `relative` of its square counts as noise too
 */
export function edge_mask(
  means: usize, squares: usize, dst: usize, n: i32, share: f32, a: f32, b: f32, relative: f32, strict: f32,
): void {
  const s = splat(share)
  const zero = splat(0.0)
  const e = splat(strict)
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const m = f32x4.mul(v128.load(means + i), s)
    const square = f32x4.mul(m, m)
    const variance = f32x4.pmax(f32x4.sub(f32x4.mul(v128.load(squares + i), s), square), zero)
    const noise = f32x4.add(
      f32x4.add(f32x4.mul(splat(a), f32x4.pmax(m, zero)), splat(b)),
      f32x4.mul(splat(relative), square),
    )
    const edge = f32x4.div(f32x4.mul(variance, variance), f32x4.add(f32x4.mul(variance, variance), f32x4.add(f32x4.mul(noise, noise), splat(1e-20))))
    v128.store(dst + i, f32x4.add(f32x4.sub(splat(1.0), e), f32x4.mul(e, edge)))
  }
}

/**
 * dst = dst + weight * src, weight from place: a hat of width 1 around `level` over rate * (squared radius).
 * @param ox, oy place of the first sample in the whole picture: whole numbers, so that every cut gives the same bits
 * @param mx, my its middle, `unit` one over half its diagonal
 */
export function add_level(
  src: usize, dst: usize, w: i32, h: i32, stride: i32, ox: i32, oy: i32, mx: f32, my: f32, unit: f32,
  level: f32, rate: f32,
): void {
  for (let y = 0; y < h; y++) {
    const dy = (<f32>(oy + y) + 0.5 - my) * unit
    for (let x = 0; x < w; x++) {
      const dx = (<f32>(ox + x) + 0.5 - mx) * unit
      const off = rate * (dx * dx + dy * dy) - level
      const weight = max<f32>(1.0 - Mathf.abs(off), 0.0)
      if (weight > 0) {
        const at = (<usize>(y * stride + x)) << 2
        store<f32>(dst + at, load<f32>(dst + at) + weight * load<f32>(src + at))
      }
    }
  }
}

/**
 * soft = the light with `strength` of what was blurred away, by square roots so that bright and dark sides of an edge
 * gain alike; differences within the noise count less.
 * @param numbers strength, a and b of the noise that counts half
 */
export function add_unsharp(light: usize, soft: usize, mask: usize, n: i32, numbers: usize): void {
  const strength = v128.load32_splat(numbers)
  const a = v128.load32_splat(numbers + 4), b = v128.load32_splat(numbers + 8)
  const zero = splat(0.0)
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const y = f32x4.pmax(v128.load(light + i), zero)
    const d = f32x4.sub(y, v128.load(soft + i))
    const square = f32x4.mul(d, d)
    const noise = f32x4.add(f32x4.mul(a, y), b)
    let k = f32x4.mul(strength, f32x4.div(square, f32x4.add(f32x4.add(square, noise), splat(1e-20))))
    if (mask) k = f32x4.mul(k, v128.load(mask + i))
    const root = f32x4.sqrt(y)
    const blurred = f32x4.sqrt(f32x4.pmax(v128.load(soft + i), zero))
    const v = f32x4.pmax(f32x4.add(root, f32x4.mul(k, f32x4.sub(root, blurred))), zero)
    v128.store(soft + i, f32x4.mul(v, v))
  }
}
