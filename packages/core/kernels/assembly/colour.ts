import { cbrtx4, dot3, lookup4, powx4, splat } from './mathf'
import { sizeOf } from './tone'

/**
 * RGB <- matrix x min(RGB, ceilings), three planes of n floats (n a multiple of 4).
 * @param m 9 floats by rows, then 3 ceilings
 */
export function matrix3(r: usize, g: usize, b: usize, n: i32, m: usize): void {
  const topR = v128.load32_splat(m, 36), topG = v128.load32_splat(m, 40), topB = v128.load32_splat(m, 44)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const x = f32x4.pmin(v128.load(r + i), topR)
    const y = f32x4.pmin(v128.load(g + i), topG)
    const z = f32x4.pmin(v128.load(b + i), topB)
    v128.store(r + i, dot3(m, x, y, z))
    v128.store(g + i, dot3(m + 12, x, y, z))
    v128.store(b + i, dot3(m + 24, x, y, z))
  }
}

/**
 * Display light back to scene light: every colour is multiplied by a gain that depends on its size alone.
 * @param table gains over the square root of the size from 0 to 1, `count` of them; beyond 1 the last one holds
 */
export function lift_display(r: usize, g: usize, b: usize, n: i32, table: usize, count: i32): void {
  const top = <f32>(count - 1)
  for (let i: usize = 0; i < <usize>n << 2; i += 4) {
    const x = load<f32>(r + i), y = load<f32>(g + i), z = load<f32>(b + i)
    const px = max<f32>(x, 0), py = max<f32>(y, 0), pz = max<f32>(z, 0)
    const xx = px * px, yy = py * py, zz = pz * pz
    const size = (xx * px + yy * py + zz * pz) / max<f32>(xx + yy + zz, 1e-20)
    const at = min<f32>(sqrt<f32>(size), 1) * top
    const k = min<i32>(<i32>at, count - 2)
    const from = load<f32>(table + (<usize>k << 2)), to = load<f32>(table + (<usize>k << 2), 4)
    const gain = from + (to - from) * (at - <f32>k)
    store<f32>(r + i, x * gain)
    store<f32>(g + i, y * gain)
    store<f32>(b + i, z * gain)
  }
}

/**
 * Base rendering: a curve of the colour's size, chromaticity kept, and a way to white at constant Oklab hue for the
 * brightest.
 * @param table what sizes are multiplied by, over their square root from 0 to `top`, `count` entries; beyond, sizes
 * become 1
 * @param white 2 floats: where the way to white starts, 1 / its length
 * @param lab 36 floats: RGB -> LMS, LMS' -> Lab, Lab -> LMS', LMS -> RGB
 */
export function render_base(r: usize, g: usize, b: usize, n: i32, table: usize, count: i32, top: f32, white: usize, lab: usize): void {
  const start = v128.load32_splat(white)
  const slope = v128.load32_splat(white, 4)
  const scale = splat(<f32>(count - 1) / top)
  const last = splat(<f32>(count - 1) - 0.001)
  const most = splat(top)
  const zero = splat(0.0)
  const one = splat(1.0)
  const tiny = splat(1e-9)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    let x = v128.load(r + i)
    let y = v128.load(g + i)
    let z = v128.load(b + i)
    const size = f32x4.pmax(sizeOf(x, y, z), tiny)
    const root = f32x4.sqrt(size)
    const gain = v128.bitselect(lookup4(table, f32x4.pmin(f32x4.mul(root, scale), last)), f32x4.div(one, size), f32x4.lt(root, most))
    const toned = f32x4.pmin(f32x4.mul(gain, size), one)
    x = f32x4.mul(x, gain)
    y = f32x4.mul(y, gain)
    z = f32x4.mul(z, gain)
    const u = f32x4.pmin(f32x4.pmax(f32x4.mul(f32x4.sub(toned, start), slope), zero), one)
    if (v128.any_true(f32x4.gt(u, zero))) {
      const t = f32x4.mul(f32x4.mul(u, u), f32x4.sub(splat(3.0), f32x4.add(u, u)))
      const l0 = cbrtx4(dot3(lab, x, y, z)), m0 = cbrtx4(dot3(lab + 12, x, y, z)), s0 = cbrtx4(dot3(lab + 24, x, y, z))
      // lightness goes to that of the grey of the same size, chroma to none, hue stays
      const light = dot3(lab + 36, l0, m0, s0)
      const white = f32x4.mul(cbrtx4(toned), dot3(lab + 36, one, one, one))
      const l1 = f32x4.add(light, f32x4.mul(t, f32x4.sub(white, light)))
      const rest = f32x4.sub(one, t)
      const a1 = f32x4.mul(rest, dot3(lab + 48, l0, m0, s0)), b1 = f32x4.mul(rest, dot3(lab + 60, l0, m0, s0))
      const l2 = dot3(lab + 72, l1, a1, b1), m2 = dot3(lab + 84, l1, a1, b1), s2 = dot3(lab + 96, l1, a1, b1)
      const l = f32x4.mul(f32x4.mul(l2, l2), l2), m = f32x4.mul(f32x4.mul(m2, m2), m2), s = f32x4.mul(f32x4.mul(s2, s2), s2)
      // greys have no hue to keep, and stay grey to the last place by the plain mixture
      const coloured = f32x4.gt(f32x4.add(f32x4.mul(a1, a1), f32x4.mul(b1, b1)), splat(1e-10))
      const on = f32x4.gt(u, zero)
      x = v128.bitselect(v128.bitselect(dot3(lab + 108, l, m, s), f32x4.add(x, f32x4.mul(t, f32x4.sub(toned, x))), coloured), x, on)
      y = v128.bitselect(v128.bitselect(dot3(lab + 120, l, m, s), f32x4.add(y, f32x4.mul(t, f32x4.sub(toned, y))), coloured), y, on)
      z = v128.bitselect(v128.bitselect(dot3(lab + 132, l, m, s), f32x4.add(z, f32x4.mul(t, f32x4.sub(toned, z))), coloured), z, on)
    }
    v128.store(r + i, x)
    v128.store(g + i, y)
    v128.store(b + i, z)
  }
}

// @ts-ignore: decorator
@inline function cube(x: v128): v128 { return f32x4.mul(f32x4.mul(x, x), x) }

/** What rounding may take a colour on the border beyond it: cut off, it is where it was. */
const ROUNDING: f32 = 2e-6

// @ts-ignore: decorator
@inline function outside(x: v128, y: v128, z: v128): v128 {
  const lo = f32x4.lt(f32x4.pmin(f32x4.pmin(x, y), z), splat(-ROUNDING))
  const hi = f32x4.gt(f32x4.pmax(f32x4.pmax(x, y), z), splat(<f32>1.0 + ROUNDING))
  return v128.or(lo, hi)
}

/**
 * Least way from grey to a border, below as a share of the largest channel and above, by which what lies outside is measured: the
 * shorter it is, the steeper chroma falls.
 */
const BELOW: f32 = 0.5
const ABOVE: f32 = 0.33

/**
 * Colours given as lightness, a and b of Oklab brought near the target's gamut by giving up chroma, the more the further out they
 * are; what is left outside is cut off. The resulting linear channels go to the places r, g and b. The share of chroma that stays
 * is a smooth function of the colour: a search for the border along constant lightness and hue gives up no lightness at all, but
 * jumps where the border runs along with the search, as it does near the blue of displays.
 * @param lab as for to_gamut
 */
// @ts-ignore: decorator
@inline function fitChroma(light: v128, aa: v128, bb: v128, lab: usize, r: usize, g: usize, b: usize): void {
  const zero = splat(0.0), one = splat(1.0)
  const root = f32x4.mul(light, v128.load32_splat(lab, 72))
  const dl = dot3(lab + 72, zero, aa, bb), dm = dot3(lab + 84, zero, aa, bb), ds = dot3(lab + 96, zero, aa, bb)
  let l = cube(f32x4.add(root, dl)), m = cube(f32x4.add(root, dm)), s = cube(f32x4.add(root, ds))
  const grey = cube(root)
  let share = one
  for (let k = 0; k < 2; k++) {
    const x = dot3(lab + 108, l, m, s), y = dot3(lab + 120, l, m, s), z = dot3(lab + 132, l, m, s)
    const most = f32x4.pmax(f32x4.pmax(x, y), f32x4.pmax(z, splat(1e-9)))
    const least = f32x4.pmin(f32x4.pmin(x, y), f32x4.pmin(z, zero))
    // as much as brings a channel back along a straight line to grey, where that is not too steep
    const below = f32x4.div(f32x4.neg(least), f32x4.pmax(grey, f32x4.mul(most, splat(BELOW))))
    const above = f32x4.div(f32x4.pmax(f32x4.sub(most, one), zero), f32x4.pmax(f32x4.sub(one, grey), splat(ABOVE)))
    share = f32x4.div(share, f32x4.add(one, f32x4.add(below, above)))
    l = cube(f32x4.add(root, f32x4.mul(share, dl)))
    m = cube(f32x4.add(root, f32x4.mul(share, dm)))
    s = cube(f32x4.add(root, f32x4.mul(share, ds)))
  }
  v128.store(r, dot3(lab + 108, l, m, s))
  v128.store(g, dot3(lab + 120, l, m, s))
  v128.store(b, dot3(lab + 132, l, m, s))
}

/**
 * Working space to the target's linear RGB, held to 0..1. Colours outside the target keep their hue in Oklab, and their lightness
 * nearly, and give up chroma.
 * @param m 9 floats: working -> target
 * @param lab 36 floats: working RGB -> LMS, LMS' -> Lab, Lab -> LMS', LMS -> target RGB
 */
export function to_gamut(r: usize, g: usize, b: usize, n: i32, m: usize, lab: usize): void {
  const zero = splat(0.0)
  const one = splat(1.0)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const x = v128.load(r + i)
    const y = v128.load(g + i)
    const z = v128.load(b + i)
    let tx = dot3(m, x, y, z)
    let ty = dot3(m + 12, x, y, z)
    let tz = dot3(m + 24, x, y, z)
    const out = outside(tx, ty, tz)
    if (v128.any_true(out)) {
      const l0 = cbrtx4(dot3(lab, x, y, z)), m0 = cbrtx4(dot3(lab + 12, x, y, z)), s0 = cbrtx4(dot3(lab + 24, x, y, z))
      const light = f32x4.pmin(f32x4.pmax(dot3(lab + 36, l0, m0, s0), zero), one)
      fitChroma(light, dot3(lab + 48, l0, m0, s0), dot3(lab + 60, l0, m0, s0), lab, r + i, g + i, b + i)
      tx = v128.bitselect(v128.load(r + i), tx, out)
      ty = v128.bitselect(v128.load(g + i), ty, out)
      tz = v128.bitselect(v128.load(b + i), tz, out)
    }
    v128.store(r + i, f32x4.pmin(f32x4.pmax(tx, zero), one))
    v128.store(g + i, f32x4.pmin(f32x4.pmax(ty, zero), one))
    v128.store(b + i, f32x4.pmin(f32x4.pmax(tz, zero), one))
  }
}

/** The same for planes that hold Oklab. */
export function oklab_to_gamut(l: usize, a: usize, b: usize, n: i32, lab: usize): void {
  const zero = splat(0.0)
  const one = splat(1.0)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const light = v128.load(l + i), aa = v128.load(a + i), bb = v128.load(b + i)
    const x = cube(dot3(lab + 72, light, aa, bb)), y = cube(dot3(lab + 84, light, aa, bb)), z = cube(dot3(lab + 96, light, aa, bb))
    let tx = dot3(lab + 108, x, y, z)
    let ty = dot3(lab + 120, x, y, z)
    let tz = dot3(lab + 132, x, y, z)
    const out = outside(tx, ty, tz)
    if (v128.any_true(out)) {
      fitChroma(f32x4.pmin(f32x4.pmax(light, zero), one), aa, bb, lab, l + i, a + i, b + i)
      tx = v128.bitselect(v128.load(l + i), tx, out)
      ty = v128.bitselect(v128.load(a + i), ty, out)
      tz = v128.bitselect(v128.load(b + i), tz, out)
    }
    v128.store(l + i, f32x4.pmin(f32x4.pmax(tx, zero), one))
    v128.store(a + i, f32x4.pmin(f32x4.pmax(ty, zero), one))
    v128.store(b + i, f32x4.pmin(f32x4.pmax(tz, zero), one))
  }
}

/**
 * Transfer curve over n floats in 0..1: below `cut` slope * x, above a * x^p - b.
 */
export function transfer(x: usize, n: i32, cut: f32, slope: f32, a: f32, p: f32, b: f32): void {
  const kc = splat(cut), ks = splat(slope), ka = splat(a), kp = splat(p), kb = splat(b)
  const tiny = splat(1e-9)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const v = v128.load(x + i)
    const curve = f32x4.sub(f32x4.mul(ka, powx4(f32x4.pmax(v, tiny), kp)), kb)
    v128.store(x + i, v128.bitselect(f32x4.mul(ks, v), curve, f32x4.lt(v, kc)))
  }
}
