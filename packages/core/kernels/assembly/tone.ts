import { dot3, held, log2x4, lookup4, splat } from './mathf'

/** Contraharmonic mean of three channels without their negative parts: the colour's size, for grey the grey. */
// @ts-ignore: decorator
@inline export function sizeOf(x: v128, y: v128, z: v128): v128 {
  const zero = splat(0.0)
  const px = f32x4.pmax(x, zero), py = f32x4.pmax(y, zero), pz = f32x4.pmax(z, zero)
  const xx = f32x4.mul(px, px), yy = f32x4.mul(py, py), zz = f32x4.mul(pz, pz)
  const squares = f32x4.add(f32x4.add(xx, yy), zz)
  const cubes = f32x4.add(f32x4.add(f32x4.mul(xx, px), f32x4.mul(yy, py)), f32x4.mul(zz, pz))
  return f32x4.div(cubes, f32x4.pmax(squares, splat(1e-20)))
}

/**
 * Multiplies colours by a gain that depends on their size alone; hue and the ratios of the channels stay.
 * @param table gains over the square root of the size from 0 to `top`, `count` of them; beyond, the last one holds
 */
export function size_gain(r: usize, g: usize, b: usize, n: i32, table: usize, count: i32, top: f32): void {
  const scale = splat(<f32>(count - 1) / top)
  const last = splat(<f32>(count - 1) - 0.001)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const x = v128.load(r + i), y = v128.load(g + i), z = v128.load(b + i)
    const gain = lookup4(table, held(f32x4.mul(f32x4.sqrt(sizeOf(x, y, z)), scale), last))
    v128.store(r + i, f32x4.mul(x, gain))
    v128.store(g + i, f32x4.mul(y, gain))
    v128.store(b + i, f32x4.mul(z, gain))
  }
}

/**
 * One channel through a curve, in place. Below 0 it goes on beside itself, above 1 in proportion.
 * @param table values over 0..1, or over the square root of it where `root` is not 0
 */
export function channel_curve(p: usize, n: i32, table: usize, count: i32, root: i32): void {
  const scale = splat(<f32>(count - 1))
  const last = splat(<f32>(count - 1) - 0.001)
  const one = splat(1.0), zero = splat(0.0)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const x = v128.load(p + i)
    let at = held(x, one)
    if (root != 0) at = f32x4.sqrt(at)
    const y = lookup4(table, f32x4.pmin(f32x4.mul(at, scale), last))
    v128.store(p + i, f32x4.mul(f32x4.add(y, f32x4.pmin(x, zero)), f32x4.pmax(x, one)))
  }
}

/**
 * One line multiplied by gains that depend on the local brightness: base = a * log2(luminance) + b, where a and b
 * come from a coarse line of a guided filter's coefficients.
 * @param mapA, mapB one line of each map, mapW entries
 * @param x0 the first sample's column in the whole picture (a whole number, so that every cut gives the same bits),
 * `step` map entries from one column to the next
 * @param table gains over the base from `from` stops on, `perStop` entries a stop, `count` in all
 * @param weights luminance of the channels
 * @param lift stops that the light was multiplied by since the maps were made
 */
export function local_gain_line(
  r: usize, g: usize, b: usize, w: i32, mapA: usize, mapB: usize, mapW: i32, x0: f32, step: f32,
  table: usize, count: i32, from: f32, perStop: f32, weights: usize, lift: f32,
): void {
  const end = splat(<f32>(mapW - 1) - 0.001)
  const last = splat(<f32>(count - 1) - 0.001)
  const first = splat(from - lift), per = splat(perStop), lifted = splat(lift)
  const half = splat(0.5), along = splat(step), on = splat(4.0)
  let at = f32x4.add(splat(x0), f32x4(0, 1, 2, 3))
  for (let i: usize = 0; i < <usize>w << 2; i += 16) {
    const x = v128.load(r + i), y = v128.load(g + i), z = v128.load(b + i)
    const stops = f32x4.sub(log2x4(f32x4.pmax(dot3(weights, x, y, z), splat(6.1e-5))), lifted)
    const place = held(f32x4.sub(f32x4.mul(f32x4.add(at, half), along), half), end)
    const base = f32x4.add(f32x4.mul(lookup4(mapA, place), stops), lookup4(mapB, place))
    const gain = lookup4(table, held(f32x4.mul(f32x4.sub(base, first), per), last))
    v128.store(r + i, f32x4.mul(x, gain))
    v128.store(g + i, f32x4.mul(y, gain))
    v128.store(b + i, f32x4.mul(z, gain))
    at = f32x4.add(at, on)
  }
}

/** dst = log2 of the luminance, held from below at 2^-14. */
export function log_luminance(r: usize, g: usize, b: usize, n: i32, weights: usize, dst: usize): void {
  for (let i: usize = 0; i < <usize>n << 2; i += 16)
    v128.store(dst + i, log2x4(f32x4.pmax(dot3(weights, v128.load(r + i), v128.load(g + i), v128.load(b + i)), splat(6.1e-5))))
}

/**
 * A table of colours, looked up between its entries by tetrahedra (Kasson, Nin, Plouffe and Hafner 1995); in place.
 * @param table size^3 entries of four floats (R, G, B, another), red running fastest; channels 0..1, held to that
 * @param fourth plane for what the fourth numbers give, or 0
 */
export function colour_table(r: usize, g: usize, b: usize, n: i32, table: usize, size: i32, fourth: usize): void {
  const top = <f32>(size - 1)
  const row = <usize>size << 4
  const sheet = row * <usize>size
  for (let i: usize = 0; i < <usize>n << 2; i += 4) {
    const x = min<f32>(max<f32>(load<f32>(r + i), 0), 1) * top
    const y = min<f32>(max<f32>(load<f32>(g + i), 0), 1) * top
    const z = min<f32>(max<f32>(load<f32>(b + i), 0), 1) * top
    const kx = min<i32>(<i32>x, size - 2), ky = min<i32>(<i32>y, size - 2), kz = min<i32>(<i32>z, size - 2)
    const fx = x - <f32>kx, fy = y - <f32>ky, fz = z - <f32>kz
    const at = table + (<usize>kx << 4) + <usize>ky * row + <usize>kz * sheet
    // the largest fraction goes first, so that grey stays on the diagonal
    let d1: usize, d2: usize, f1: f32, f2: f32, f3: f32
    if (fx >= fy) {
      if (fy >= fz) { d1 = 16; d2 = 16 + row; f1 = fx; f2 = fy; f3 = fz }
      else if (fx >= fz) { d1 = 16; d2 = 16 + sheet; f1 = fx; f2 = fz; f3 = fy }
      else { d1 = sheet; d2 = sheet + 16; f1 = fz; f2 = fx; f3 = fy }
    } else {
      if (fx >= fz) { d1 = row; d2 = row + 16; f1 = fy; f2 = fx; f3 = fz }
      else if (fy >= fz) { d1 = row; d2 = row + sheet; f1 = fy; f2 = fz; f3 = fx }
      else { d1 = sheet; d2 = sheet + row; f1 = fz; f2 = fy; f3 = fx }
    }
    const c = f32x4.add(
      f32x4.add(f32x4.mul(v128.load(at), splat(1 - f1)), f32x4.mul(v128.load(at + d1), splat(f1 - f2))),
      f32x4.add(f32x4.mul(v128.load(at + d2), splat(f2 - f3)), f32x4.mul(v128.load(at + 16 + row + sheet), splat(f3))),
    )
    store<f32>(r + i, f32x4.extract_lane(c, 0))
    store<f32>(g + i, f32x4.extract_lane(c, 1))
    store<f32>(b + i, f32x4.extract_lane(c, 2))
    if (fourth) store<f32>(fourth + i, f32x4.extract_lane(c, 3))
  }
}

/** n floats held to 0..1. */
export function hold_unit(p: usize, n: i32): void {
  for (let i: usize = 0; i < <usize>n << 2; i += 16) v128.store(p + i, held(v128.load(p + i), splat(1.0)))
}

/**
 * Means over windows of 2r + 1 pixels square, at the edges over what is there; running sums, lines without gaps.
 * @param work room for w * h floats and another line
 */
export function box_mean(src: usize, dst: usize, w: i32, h: i32, r: i32, work: usize): void {
  const line = <usize>w << 2
  for (let y = 0; y < h; y++) {
    const from = src + <usize>y * line, to = work + <usize>y * line
    let sum: f32 = 0
    for (let x = 0; x < min(r, w); x++) sum += load<f32>(from + (<usize>x << 2))
    for (let x = 0; x < w; x++) {
      if (x + r < w) sum += load<f32>(from + (<usize>(x + r) << 2))
      if (x - r - 1 >= 0) sum -= load<f32>(from + (<usize>(x - r - 1) << 2))
      store<f32>(to + (<usize>x << 2), sum / <f32>(min(x + r, w - 1) - max(x - r, 0) + 1))
    }
  }
  const sums = work + <usize>h * line
  memory.fill(sums, 0, line)
  for (let y = 0; y < min(r, h); y++) addLine(sums, work + <usize>y * line, w)
  for (let y = 0; y < h; y++) {
    if (y + r < h) addLine(sums, work + <usize>(y + r) * line, w)
    if (y - r - 1 >= 0) subtractLine(sums, work + <usize>(y - r - 1) * line, w)
    const share: f32 = 1 / <f32>(min(y + r, h - 1) - max(y - r, 0) + 1)
    const to = dst + <usize>y * line
    for (let x = 0; x < w; x++) store<f32>(to + (<usize>x << 2), load<f32>(sums + (<usize>x << 2)) * share)
  }
}

// @ts-ignore: decorator
@inline function addLine(sums: usize, line: usize, w: i32): void {
  for (let x: usize = 0; x < <usize>w << 2; x += 4) store<f32>(sums + x, load<f32>(sums + x) + load<f32>(line + x))
}
// @ts-ignore: decorator
@inline function subtractLine(sums: usize, line: usize, w: i32): void {
  for (let x: usize = 0; x < <usize>w << 2; x += 4) store<f32>(sums + x, load<f32>(sums + x) - load<f32>(line + x))
}
