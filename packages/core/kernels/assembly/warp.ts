import { lookup4, splat } from './mathf'

// Places are kept in a 512th of a pixel: as fine as a picture can show, and whole pixels stay whole.
const STEPS: f32 = 512.0
/** Where nothing of the picture lies. */
const NOWHERE: f32 = -1.0e6

// @ts-ignore: decorator
@inline function p(at: usize, i: usize): v128 { return v128.load32_splat(at + (i << 2)) }

/**
 * Where the samples of a line lie in the picture that they come from.
 * @param numbers 0..5 affine from pixel centres to the view, 6..14 homography to the ideal picture, 15 16 centre of the
 *   lens, 17 18 entries of a table by radius and the last one, 19 half diagonal, 20 21 middle of the picture, 22..27
 *   tangential terms by channel, 28 whether the view is softened, 29 half diagonal down the picture,
 *   30 whether the lens moves anything, 31 whether light is evened out
 * @param tables factors of red, green and blue by radius, gain by radius on the sensor, softening; `entries` floats each
 * @param col first pixel of the line, n pixels, a multiple of 4
 * @param places x and y of red, green, blue, gain: seven lines of n floats
 * @param channels 3, or 1 where all have the same places
 */
export function map_line(
  numbers: usize, tables: usize, entries: i32, col: f32, row: f32, n: i32, places: usize, channels: i32,
): void {
  const size = <usize>n << 2
  const table = <usize>entries << 2
  const y = splat(row + 0.5)
  const half = p(numbers, 19), halfDown = p(numbers, 29)
  const per = p(numbers, 17), last = p(numbers, 18)
  const soft = load<f32>(numbers + 28 * 4) != 0.0
  const bent = load<f32>(numbers + 30 * 4) != 0.0, shaded = load<f32>(numbers + 31 * 4) != 0.0
  const one = splat(1.0)
  const right = f32x4.mul(p(numbers, 20), splat(2.0)), bottom = f32x4.mul(p(numbers, 21), splat(2.0))
  for (let i = 0; i < n; i += 4) {
    const x = f32x4.add(splat(col + <f32>i), f32x4(0.5, 1.5, 2.5, 3.5))
    let u = f32x4.add(f32x4.add(f32x4.mul(p(numbers, 0), x), f32x4.mul(p(numbers, 1), y)), p(numbers, 2))
    let v = f32x4.add(f32x4.add(f32x4.mul(p(numbers, 3), x), f32x4.mul(p(numbers, 4), y)), p(numbers, 5))
    if (soft) {
      const r = f32x4.sqrt(f32x4.add(f32x4.mul(u, u), f32x4.mul(v, v)))
      const k = lookup4(tables + 4 * table, f32x4.pmin(f32x4.mul(r, per), last))
      u = f32x4.mul(u, k)
      v = f32x4.mul(v, k)
    }
    const a = f32x4.add(f32x4.add(f32x4.mul(p(numbers, 6), u), f32x4.mul(p(numbers, 7), v)), p(numbers, 8))
    const b = f32x4.add(f32x4.add(f32x4.mul(p(numbers, 9), u), f32x4.mul(p(numbers, 10), v)), p(numbers, 11))
    const w = f32x4.add(f32x4.add(f32x4.mul(p(numbers, 12), u), f32x4.mul(p(numbers, 13), v)), p(numbers, 14))
    let nowhere = f32x4.lt(w, splat(0.001))
    const by = f32x4.div(splat(1.0), f32x4.pmax(w, splat(0.001)))
    const dx = f32x4.sub(f32x4.mul(a, by), p(numbers, 15))
    const dy = f32x4.sub(f32x4.mul(b, by), p(numbers, 16))
    const xy = f32x4.mul(f32x4.add(dx, dx), dy)
    const xx = f32x4.mul(dx, dx), yy = f32x4.mul(dy, dy)
    const r2 = f32x4.add(xx, yy)
    const r = f32x4.sqrt(r2)
    const at = f32x4.pmin(f32x4.mul(r, per), last)
    let sensor = splat(0.0)
    for (let c: usize = 0; c < 3; c++) {
      if (channels == 1 && c != 1) continue
      const f = bent ? lookup4(tables + c * table, at) : one
      const k0 = p(numbers, 22 + 2 * c), k1 = p(numbers, 23 + 2 * c)
      if (c == 1) sensor = f32x4.mul(r, f)
      let sx = f32x4.add(f32x4.mul(dx, f), f32x4.add(f32x4.mul(k0, xy), f32x4.mul(k1, f32x4.add(r2, f32x4.add(xx, xx)))))
      let sy = f32x4.add(f32x4.mul(dy, f), f32x4.add(f32x4.mul(k1, xy), f32x4.mul(k0, f32x4.add(r2, f32x4.add(yy, yy)))))
      sx = f32x4.add(f32x4.mul(f32x4.add(sx, p(numbers, 15)), half), p(numbers, 20))
      sy = f32x4.add(f32x4.mul(f32x4.add(sy, p(numbers, 16)), halfDown), p(numbers, 21))
      const to = places + 2 * c * size + (<usize>i << 2)
      v128.store(to, sx)
      v128.store(to + size, sy)
      // the picture ends where the first of its channels does, without a coloured rim
      const outside = v128.or(
        v128.or(f32x4.lt(sx, splat(0.0)), f32x4.lt(sy, splat(0.0))),
        v128.or(f32x4.gt(sx, right), f32x4.gt(sy, bottom)),
      )
      nowhere = v128.or(nowhere, outside)
    }
    if (v128.any_true(nowhere)) {
      for (let c: usize = 0; c < 3; c++) {
        if (channels == 1 && c != 1) continue
        const to = places + 2 * c * size + (<usize>i << 2)
        v128.store(to, v128.bitselect(splat(NOWHERE), v128.load(to), nowhere))
      }
    }
    v128.store(
      places + 6 * size + (<usize>i << 2),
      shaded ? lookup4(tables + 3 * table, f32x4.pmin(f32x4.mul(sensor, per), last)) : one,
    )
  }
}

/**
 * Widens bounds by the places of a line that lie in the picture.
 * @param bounds least and largest x, least and largest y
 */
export function extent_line(sx: usize, sy: usize, n: i32, width: f32, height: f32, bounds: usize): void {
  let x0 = splat(load<f32>(bounds)), x1 = splat(load<f32>(bounds, 4))
  let y0 = splat(load<f32>(bounds, 8)), y1 = splat(load<f32>(bounds, 12))
  const zero = splat(0.0), w = splat(width), h = splat(height)
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const x = v128.load(sx + i), y = v128.load(sy + i)
    const within = v128.and(
      v128.and(f32x4.ge(x, zero), f32x4.le(x, w)),
      v128.and(f32x4.ge(y, zero), f32x4.le(y, h)),
    )
    x0 = v128.bitselect(f32x4.pmin(x0, x), x0, within)
    x1 = v128.bitselect(f32x4.pmax(x1, x), x1, within)
    y0 = v128.bitselect(f32x4.pmin(y0, y), y0, within)
    y1 = v128.bitselect(f32x4.pmax(y1, y), y1, within)
  }
  store<f32>(bounds, min(min(f32x4.extract_lane(x0, 0), f32x4.extract_lane(x0, 1)), min(f32x4.extract_lane(x0, 2), f32x4.extract_lane(x0, 3))))
  store<f32>(bounds, max(max(f32x4.extract_lane(x1, 0), f32x4.extract_lane(x1, 1)), max(f32x4.extract_lane(x1, 2), f32x4.extract_lane(x1, 3))), 4)
  store<f32>(bounds, min(min(f32x4.extract_lane(y0, 0), f32x4.extract_lane(y0, 1)), min(f32x4.extract_lane(y0, 2), f32x4.extract_lane(y0, 3))), 8)
  store<f32>(bounds, max(max(f32x4.extract_lane(y1, 0), f32x4.extract_lane(y1, 1)), max(f32x4.extract_lane(y1, 2), f32x4.extract_lane(y1, 3))), 12)
}

// 1.5 * 2^23: added to a number it leaves the nearest whole one in the low bits
const ROUND: f32 = 12582912.0
const ROUND_BITS: i32 = 0x4b400000

/** Sums of the four lanes of four vectors, as one vector: pairs first, in a fixed order. */
// @ts-ignore: decorator
@inline function sums(a: v128, b: v128, c: v128, d: v128): v128 {
  const ab = f32x4.add(i32x4.shuffle(a, b, 0, 4, 2, 6), i32x4.shuffle(a, b, 1, 5, 3, 7))
  const cd = f32x4.add(i32x4.shuffle(c, d, 0, 4, 2, 6), i32x4.shuffle(c, d, 1, 5, 3, 7))
  return f32x4.add(i32x4.shuffle(ab, cd, 0, 1, 4, 5), i32x4.shuffle(ab, cd, 2, 3, 6, 7))
}

/** Six by six samples weighed, all but the last sum. */
// @ts-ignore: decorator
@inline function six(s: usize, pitch: usize, wx: usize, wy: usize): v128 {
  let w = v128.load32_splat(wy)
  let low = f32x4.mul(w, v128.load(s)), high = f32x4.mul(w, v128.load(s, 16))
  for (let k: usize = 4; k < 24; k += 4) {
    s += pitch
    w = v128.load32_splat(wy + k)
    low = f32x4.add(low, f32x4.mul(w, v128.load(s)))
    high = f32x4.add(high, f32x4.mul(w, v128.load(s, 16)))
  }
  return f32x4.add(f32x4.mul(low, v128.load(wx)), f32x4.mul(high, v128.load(wx, 16)))
}

/** Four by four. */
// @ts-ignore: decorator
@inline function four(s: usize, pitch: usize, wx: usize, wy: usize): v128 {
  const a = f32x4.add(
    f32x4.mul(v128.load32_splat(wy), v128.load(s)),
    f32x4.mul(v128.load32_splat(wy, 4), v128.load(s + pitch)),
  )
  const b = f32x4.add(
    f32x4.mul(v128.load32_splat(wy, 8), v128.load(s + 2 * pitch)),
    f32x4.mul(v128.load32_splat(wy, 12), v128.load(s + 3 * pitch)),
  )
  return f32x4.mul(f32x4.add(a, b), v128.load(wx))
}

/**
 * A line of one channel or of several that have the same places, sampled by a windowed kernel.
 * @param src window of the picture, whose first sample is the picture's (left, top), lines `stride` floats apart
 * @param planes how many channels, `plane` bytes apart in the window and `line` bytes in the result
 * @param taps 6: weights 512 times 8 floats by place within a pixel, the last two 0; 4: weights 512 times 4
 * @param width, height of the picture: beyond it there is nothing
 * @param gain by which the result is multiplied
 */
export function sample_line(
  src: usize, stride: i32, left: i32, top: i32, planes: i32, plane: i32, sx: usize, sy: usize, n: i32,
  weights: usize, taps: i32, width: f32, height: f32, gain: usize, dst: usize, line: i32,
): void {
  const pitch = (<usize>stride) << 2
  const zero = splat(0.0), right = splat(width), bottom = splat(height)
  const ox = splat(<f32>left + 0.5), oy = splat(<f32>top + 0.5)
  const steps = splat(STEPS), round = splat(ROUND), bits = i32x4.splat(ROUND_BITS)
  // weights of a phase: 32 bytes or 16
  const wide: i32 = taps == 6 ? 5 : 4
  const before: i32 = taps == 6 ? 2 : 1
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const x = v128.load(sx + i), y = v128.load(sy + i)
    const within = v128.and(
      v128.and(f32x4.ge(x, zero), f32x4.le(x, right)),
      v128.and(f32x4.ge(y, zero), f32x4.le(y, bottom)),
    )
    if (!v128.any_true(within)) {
      for (let c = 0; c < planes; c++) v128.store(dst + <usize>(c * line) + i, zero)
      continue
    }
    // places outside are read where the window begins, and dropped afterwards
    const start = splat(<f32>before)
    const lx = v128.bitselect(f32x4.sub(x, ox), start, within)
    const ly = v128.bitselect(f32x4.sub(y, oy), start, within)
    const qx = i32x4.sub(f32x4.add(f32x4.mul(lx, steps), round), bits)
    const qy = i32x4.sub(f32x4.add(f32x4.mul(ly, steps), round), bits)
    const px = i32x4.shl(v128.and(qx, i32x4.splat(511)), wide)
    const py = i32x4.shl(v128.and(qy, i32x4.splat(511)), wide)
    const at = i32x4.shl(
      i32x4.add(
        i32x4.mul(i32x4.sub(i32x4.shr_s(qy, 9), i32x4.splat(before)), i32x4.splat(stride)),
        i32x4.sub(i32x4.shr_s(qx, 9), i32x4.splat(before)),
      ),
      2,
    )
    const s0 = src + <usize>i32x4.extract_lane(at, 0), s1 = src + <usize>i32x4.extract_lane(at, 1)
    const s2 = src + <usize>i32x4.extract_lane(at, 2), s3 = src + <usize>i32x4.extract_lane(at, 3)
    const x0 = weights + <usize>i32x4.extract_lane(px, 0), x1 = weights + <usize>i32x4.extract_lane(px, 1)
    const x2 = weights + <usize>i32x4.extract_lane(px, 2), x3 = weights + <usize>i32x4.extract_lane(px, 3)
    const y0 = weights + <usize>i32x4.extract_lane(py, 0), y1 = weights + <usize>i32x4.extract_lane(py, 1)
    const y2 = weights + <usize>i32x4.extract_lane(py, 2), y3 = weights + <usize>i32x4.extract_lane(py, 3)
    const light = v128.load(gain + i)
    for (let c = 0; c < planes; c++) {
      const o = <usize>(c * plane)
      const sum =
        taps == 6
          ? sums(six(s0 + o, pitch, x0, y0), six(s1 + o, pitch, x1, y1), six(s2 + o, pitch, x2, y2), six(s3 + o, pitch, x3, y3))
          : sums(four(s0 + o, pitch, x0, y0), four(s1 + o, pitch, x1, y1), four(s2 + o, pitch, x2, y2), four(s3 + o, pitch, x3, y3))
      v128.store(dst + <usize>(c * line) + i, v128.and(f32x4.mul(sum, light), within))
    }
  }
}

/**
 * Multiplies a line by a map of gains over the picture, straight between its values and level beyond its ends.
 * @param ax, bx place in the map's columns = x * ax + bx; ay, by for rows
 */
export function shade_line(
  line: usize, sx: usize, sy: usize, n: i32, map: usize, across: i32, down: i32, ax: f32, bx: f32, ay: f32, by: f32,
): void {
  for (let i: usize = 0; i < (<usize>n) << 2; i += 4) {
    const x = min(max(load<f32>(sx + i) * ax + bx, 0.0), <f32>(across - 1))
    const y = min(max(load<f32>(sy + i) * ay + by, 0.0), <f32>(down - 1))
    const kx = min(<i32>x, max(across - 2, 0)), ky = min(<i32>y, max(down - 2, 0))
    const fx = x - <f32>kx, fy = y - <f32>ky
    const right: usize = across > 1 ? 4 : 0, below: usize = down > 1 ? (<usize>across) << 2 : 0
    const m = map + ((<usize>(ky * across + kx)) << 2)
    const a = load<f32>(m) + fx * (load<f32>(m + right) - load<f32>(m))
    const b = load<f32>(m + below) + fx * (load<f32>(m + below + right) - load<f32>(m + below))
    store<f32>(line + i, load<f32>(line + i) * (a + fy * (b - a)))
  }
}

// @ts-ignore: decorator
@inline function soft(x: f32): f32 {
  const t: f32 = min(max(x, 0.0), 1.0)
  return t * t * (3.0 - 2.0 * t)
}

/**
 * Takes a and b of Oklab toward those around, where lightness jumps and the place is more coloured than they are.
 * Within `reach` of the tile's border nothing is done.
 * @param cosine, sine direction of the hues that count; `end` the cosine of where they end, `per` over the soft part
 * @param edge, perEdge the same for contrast; `coloured` least chroma
 */
export function edge_colour(
  l: usize, a: usize, b: usize, outA: usize, outB: usize, w: i32, h: i32, stride: i32, reach: i32, amount: f32,
  cosine: f32, sine: f32, end: f32, per: f32, edge: f32, perEdge: f32, coloured: f32,
): void {
  const line = <usize>stride << 2
  const far = <usize>reach << 2
  const down = line * <usize>reach
  for (let y = reach; y < h - reach; y++) {
    for (let x = reach; x < w - reach; x++) {
      const at = <usize>y * line + (<usize>x << 2)
      const pa = load<f32>(a + at), pb = load<f32>(b + at)
      const chroma = sqrt<f32>(pa * pa + pb * pb)
      if (chroma < coloured) continue
      const hue = soft(((pa * cosine + pb * sine) / chroma - end) * per)
      if (hue == 0.0) continue
      // eight places around
      let low: f32 = load<f32>(l + at), high: f32 = low
      let sa: f32 = 0.0, sb: f32 = 0.0
      for (let k = 0; k < 8; k++) {
        const dx: usize = k == 0 || k == 3 || k == 5 ? -far : k == 1 || k == 6 ? 0 : far
        const dy: usize = k < 3 ? -down : k < 5 ? 0 : down
        const to = at + dx + dy
        const light = load<f32>(l + to)
        low = min(low, light)
        high = max(high, light)
        sa += load<f32>(a + to)
        sb += load<f32>(b + to)
      }
      sa *= 0.125
      sb *= 0.125
      const around = sqrt<f32>(sa * sa + sb * sb)
      if (around >= chroma) continue
      const jump = soft(((high - low) / max(high + low, 1e-6) - edge) * perEdge)
      const k = amount * hue * jump
      store<f32>(outA + at, pa + k * (sa - pa))
      store<f32>(outB + at, pb + k * (sb - pb))
    }
  }
}
