// What the mosaic shows of itself in small: cells of a few pixels, for rebuilding highlights and evening greens.

/**
 * Counts one row of cells of a 16-bit mosaic. A quad is one repeat of the filter pattern; only quads without a
 * clipped sample speak for the colour of a cell.
 * @param src first sample of the row of cells
 * @param colours size x size bytes: 0 red, 1 green in a row with red, 2 blue, 3 green in a row with blue
 * @param levels 4 x 3 floats by such a colour: black, 1 / (white - black) * balance, stored value from which on it
 * counts as clipped
 * @param out 32 floats a cell: sums of red, green beside red, blue, green beside blue over sound quads (weighted by
 * their brightness), weight, number of quads with all three clipped, two unused; then for quads in which a part of
 * the colours is clipped (bit 0 red, 1 green, 2 blue; from 1 to 6) sums of red, green and blue and their number
 */
export function survey_row(
  src: usize, stride: i32, cells: i32, cell: i32, size: i32, colours: usize, levels: usize, out: usize,
): void {
  for (let c = 0; c < cells; c++) {
    const at = src + (<usize>(c * cell) << 1)
    memory.fill(out, 0, 128)
    if (size == 2 && cell == 8 && sound(at, stride, levels)) bayer_cell(at, stride, colours, levels, out)
    else plain_cell(at, stride, cell, size, colours, levels, out)
    out += 128
  }
}

/** Whether no sample of an 8 x 8 cell reaches the lowest level that clips. */
// @ts-ignore: decorator
@inline function sound(src: usize, stride: i32, levels: usize): bool {
  const lowest = min(min(load<f32>(levels, 8), load<f32>(levels, 20)), min(load<f32>(levels, 32), load<f32>(levels, 44)))
  const top = i16x8.splat(<i16><u16>lowest)
  let most = v128.load(src)
  for (let y = 1; y < 8; y++) most = i16x8.max_u(most, v128.load(src + (<usize>(y * stride) << 1)))
  return !v128.any_true(i16x8.ge_u(most, top))
}

/** A cell of 8 x 8 without clipped samples, four quads at a time. */
function bayer_cell(src: usize, stride: i32, colours: usize, levels: usize, out: usize): void {
  const low = i32x4.splat(0xffff)
  const zero = f32x4.splat(0)
  // the four places of the pattern and what they are
  const k0 = <i32>load<u8>(colours), k1 = <i32>load<u8>(colours + 1), k2 = <i32>load<u8>(colours + 2), k3 = <i32>load<u8>(colours + 3)
  const l0 = levels + <usize>(k0 * 12), l1 = levels + <usize>(k1 * 12), l2 = levels + <usize>(k2 * 12), l3 = levels + <usize>(k3 * 12)
  const b0 = v128.load32_splat(l0), b1 = v128.load32_splat(l1), b2 = v128.load32_splat(l2), b3 = v128.load32_splat(l3)
  const g0 = v128.load32_splat(l0, 4), g1 = v128.load32_splat(l1, 4), g2 = v128.load32_splat(l2, 4), g3 = v128.load32_splat(l3, 4)
  // greens are at 0 and 3, or at 1 and 2
  const outer = (k0 & 1) != 0
  let s0 = zero, s1 = zero, s2 = zero, s3 = zero, weight = zero
  for (let y = 0; y < 8; y += 2) {
    const a = v128.load(src + (<usize>(y * stride) << 1))
    const b = v128.load(src + (<usize>((y + 1) * stride) << 1))
    const v0 = f32x4.mul(f32x4.sub(f32x4.convert_i32x4_s(v128.and(a, low)), b0), g0)
    const v1 = f32x4.mul(f32x4.sub(f32x4.convert_i32x4_s(i32x4.shr_u(a, 16)), b1), g1)
    const v2 = f32x4.mul(f32x4.sub(f32x4.convert_i32x4_s(v128.and(b, low)), b2), g2)
    const v3 = f32x4.mul(f32x4.sub(f32x4.convert_i32x4_s(i32x4.shr_u(b, 16)), b3), g3)
    // bright places say more about the light that clipped; what lies below black says nothing
    const least = f32x4.pmin(f32x4.pmin(v0, v1), f32x4.pmin(v2, v3))
    const w = v128.and(outer ? f32x4.add(v0, v3) : f32x4.add(v1, v2), f32x4.gt(least, zero))
    s0 = f32x4.add(s0, f32x4.mul(w, v0))
    s1 = f32x4.add(s1, f32x4.mul(w, v1))
    s2 = f32x4.add(s2, f32x4.mul(w, v2))
    s3 = f32x4.add(s3, f32x4.mul(w, v3))
    weight = f32x4.add(weight, w)
  }
  // red, green beside red, blue, green beside blue, in that order
  store<f32>(out + (<usize>k0 << 2), lanes(s0))
  store<f32>(out + (<usize>k1 << 2), lanes(s1))
  store<f32>(out + (<usize>k2 << 2), lanes(s2))
  store<f32>(out + (<usize>k3 << 2), lanes(s3))
  store<f32>(out, lanes(weight), 16)
}

// @ts-ignore: decorator
@inline function lanes(v: v128): f32 {
  return (f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1)) + (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3))
}

/** Any cell, quad by quad. */
function plain_cell(
  src: usize, stride: i32, cell: i32, size: i32, colours: usize, levels: usize, out: usize,
): void {
  const quads = cell / size
  let r: f32 = 0, gr: f32 = 0, b: f32 = 0, gb: f32 = 0, weight: f32 = 0
  for (let j = 0; j < quads; j++) {
    for (let i = 0; i < quads; i++) {
      let at = src + (<usize>(j * size * stride + i * size) << 1)
      let s0: f32 = 0, s1: f32 = 0, s2: f32 = 0, s3: f32 = 0
      let which = 0
      for (let y = 0; y < size; y++) {
        for (let x = 0; x < size; x++) {
          const k = <i32>load<u8>(colours + <usize>(y * size + x))
          const l = levels + <usize>(k * 12)
          const stored = <f32>load<u16>(at + (<usize>x << 1))
          if (stored >= load<f32>(l, 8)) which |= k == 0 ? 1 : k == 2 ? 4 : 2
          const v = (stored - load<f32>(l)) * load<f32>(l, 4)
          if (k == 0) s0 += v
          else if (k == 1) s1 += v
          else if (k == 2) s2 += v
          else s3 += v
        }
        at += <usize>stride << 1
      }
      if (which == 7) add(out + 20, 1)
      else if (which != 0) {
        const kind = out + 16 + (<usize>which << 4)
        add(kind, s0)
        add(kind + 4, s1 + s3)
        add(kind + 8, s2)
        add(kind + 12, 1)
      }
      if (which != 0 || s0 <= 0 || s1 <= 0 || s2 <= 0 || s3 <= 0) continue
      // bright places say more about the light that clipped
      const w = s1 + s3
      r += w * s0
      gr += w * s1
      b += w * s2
      gb += w * s3
      weight += w
    }
  }
  store<f32>(out, r)
  store<f32>(out, gr, 4)
  store<f32>(out, b, 8)
  store<f32>(out, gb, 12)
  store<f32>(out, weight, 16)
}

// @ts-ignore: decorator
@inline function add(at: usize, v: f32): void {
  store<f32>(at, load<f32>(at) + v)
}

// @ts-ignore: decorator
@inline function between(map: usize, w: i32, h: i32, x: f32, y: f32): f32 {
  const cx = min(max(x, <f32>0), <f32>(w - 1))
  const cy = min(max(y, <f32>0), <f32>(h - 1))
  const x0 = min(<i32>cx, w - 1), y0 = min(<i32>cy, h - 1)
  const x1 = min(x0 + 1, w - 1), y1 = min(y0 + 1, h - 1)
  const fx = cx - <f32>x0, fy = cy - <f32>y0
  const a = load<f32>(map + (<usize>(y0 * w + x0) << 2)), b = load<f32>(map + (<usize>(y0 * w + x1) << 2))
  const c = load<f32>(map + (<usize>(y1 * w + x0) << 2)), d = load<f32>(map + (<usize>(y1 * w + x1) << 2))
  const top = a + (b - a) * fx
  return top + (c + (d - c) * fx - top) * fy
}

/**
 * Greens of the two kinds of rows of a 2 x 2 pattern brought together: those beside red times the map's gain, those
 * beside blue divided by it. The gain is linear between the middles of the map's cells, and even over blocks of four
 * columns and two rows of the sensor. In place.
 * @param x0, y0 place of the first sample on the sensor
 * @param green parity of x + y of the green places
 * @param blueRow parity of y of the rows with blue
 */
export function even_greens(
  data: usize, w: i32, h: i32, stride: i32, x0: i32, y0: i32, green: i32, blueRow: i32,
  map: usize, mapW: i32, mapH: i32, perCell: f32,
): void {
  for (let j = 0; j < h; j++) {
    const y = y0 + j
    const my = min(max((<f32>((y >> 1) * 2) + 1) * perCell - 0.5, <f32>0), <f32>(mapH - 1))
    const top = min(<i32>my, mapH - 1)
    const share = my - <f32>top
    const upper = map + (<usize>(top * mapW) << 2), lower = map + (<usize>(min(top + 1, mapH - 1) * mapW) << 2)
    const divide = (y & 1) == blueRow
    const row = data + (<usize>(j * stride) << 2)
    const phase = (green ^ y) & 1
    let cell = -1
    let a: f32 = 0, d: f32 = 0
    // blocks of four columns of the sensor, the first and the last of them perhaps in part
    for (let block = x0 >> 2; block << 2 < x0 + w; block++) {
      const mx = min(max((<f32>(block << 2) + 2) * perCell - 0.5, <f32>0), <f32>(mapW - 1))
      const k = min(<i32>mx, mapW - 1)
      if (k != cell) {
        cell = k
        const here = <usize>k << 2, next = <usize>min(k + 1, mapW - 1) << 2
        a = load<f32>(upper + here) + (load<f32>(lower + here) - load<f32>(upper + here)) * share
        d = load<f32>(upper + next) + (load<f32>(lower + next) - load<f32>(upper + next)) * share - a
      }
      let gain = a + d * (mx - <f32>k)
      if (divide) gain = 1 / gain
      const first = (block << 2) + phase - x0
      if (first >= 0 && first < w) store<f32>(row + (<usize>first << 2), load<f32>(row + (<usize>first << 2)) * gain)
      const second = first + 2
      if (second >= 0 && second < w) store<f32>(row + (<usize>second << 2), load<f32>(row + (<usize>second << 2)) * gain)
    }
  }
}

/** Share of the level that clips a colour from which on a sample gives way to what is rebuilt, little by little. */
const FADE: f32 = 0.95

/** Share by which light that clips all is taken to exceed what clips it. */
const BEYOND: f32 = 0.15

/** How far a sample is still a measure of light: 1 below what fades, 0 where it clips. */
// @ts-ignore: decorator
@inline function soundness(v: f32, clip: f32): f32 {
  if (v <= clip * FADE) return 1
  if (v >= clip) return 0
  const t: f32 = (v / clip - FADE) / (1 - FADE)
  return 1 - t * t * (3 - 2 * t)
}

/**
 * Clipped samples of a window of the mosaic from the other colours around them. Reach 2.
 * @param amount 1 as rebuilt, 0 all cut at the lowest of the clipping levels
 * @param pattern size x size bytes 0, 1, 2; x0, y0 place of the window on the sensor
 * @param clip 3 floats: level from which on a colour counts as clipped
 * @param red, blue maps of cells: red and blue over green as the surroundings have them
 */
export function rebuild_highlights(
  src: usize, dst: usize, w: i32, h: i32, stride: i32, x0: i32, y0: i32, pattern: usize, size: i32, clip: usize,
  red: usize, blue: usize, mapW: i32, mapH: i32, perCell: f32, most: f32, amount: f32,
): void {
  const clip0 = load<f32>(clip), clip1 = load<f32>(clip, 4), clip2 = load<f32>(clip, 8)
  const least = min(clip0, min(clip1, clip2))
  const reach: i32 = size == 2 ? 1 : 2
  for (let y = 0; y < h; y++) {
    const row = <usize>(y * stride) << 2
    memory.copy(dst + row, src + row, <usize>stride << 2)
    if (y < reach || y >= h - reach) continue
    const py = <usize>(((y + y0) % size + size) % size * size)
    for (let x = reach; x < w - reach; x++) {
      const at = src + row + (<usize>x << 2)
      const v = load<f32>(at)
      if (v < least * FADE) continue
      const own = <i32>load<u8>(pattern + py + <usize>(((x + x0) % size + size) % size))
      const top = own == 0 ? clip0 : own == 1 ? clip1 : clip2
      const still = soundness(v, top)
      if (still == 1) {
        if (amount < 1 && v > least) store<f32>(dst + row + (<usize>x << 2), least + (v - least) * amount)
        continue
      }
      // what is left of each colour around, the nearer the more
      let s0: f32 = 0, s1: f32 = 0, s2: f32 = 0, n0: f32 = 0, n1: f32 = 0, n2: f32 = 0, a0: f32 = 0, a1: f32 = 0, a2: f32 = 0
      let l0: f32 = 0, l1: f32 = 0, l2: f32 = 0
      for (let j = -reach; j <= reach; j++) {
        const qy = <usize>(((y + j + y0) % size + size) % size * size)
        for (let i = -reach; i <= reach; i++) {
          const k = <i32>load<u8>(pattern + qy + <usize>(((x + i + x0) % size + size) % size))
          const u = load<f32>(at + (<isize>(j * stride + i) << 2))
          const near: f32 = size == 2 ? <f32>((i == 0 ? 2 : 1) * (j == 0 ? 2 : 1)) : 1
          if (k == 0) { const t = near * soundness(u, clip0); a0 += near; s0 += t * u; n0 += t; l0 += near * min(u, clip0) }
          else if (k == 1) { const t = near * soundness(u, clip1); a1 += near; s1 += t * u; n1 += t; l1 += near * min(u, clip1) }
          else { const t = near * soundness(u, clip2); a2 += near; s2 += t * u; n2 += t; l2 += near * min(u, clip2) }
        }
      }
      const mx = (<f32>(x + x0) + 0.5) * perCell - 0.5, my = (<f32>(y + y0) + 0.5) * perCell - 0.5
      const rg = between(red, mapW, mapH, mx, my)
      const bg = between(blue, mapW, mapH, mx, my)
      n0 /= a0
      n1 /= a1
      n2 /= a2
      // what is clipped around says that there is at least the light that clips it
      l0 /= a0 * rg
      l1 /= a1
      l2 /= a2 * bg
      let guess: f32 = 0, trust: f32 = 0
      if (own != 0 && n0 > 0) { const t = n0 * n0; guess += t * s0 / (n0 * a0 * rg); trust += t }
      if (own != 1 && n1 > 0) { const t = n1 * n1; guess += t * s1 / (n1 * a1); trust += t }
      if (own != 2 && n2 > 0) { const t = n2 * n2; guess += t * s2 / (n2 * a2 * bg); trust += t }
      const light = max(l0, max(l1, l2))
      const share = min(trust, <f32>1)
      // nothing left: light is more likely above than at the least that clips all
      const none: f32 = 1 - share
      let found = (trust > 0 ? share * guess / trust : 0) + none * light * (1 + BEYOND * none * none * none)
      const b0: f32 = (1 - n0) * (l0 - found), b1: f32 = (1 - n1) * (l1 - found), b2: f32 = (1 - n2) * (l2 - found)
      found += max<f32>(0, max(b0, max(b1, b2)))
      const mine = own == 0 ? rg : own == 1 ? <f32>1 : bg
      const rebuilt = v + (min(max(mine * found, v), most) - v) * (1 - still)
      store<f32>(dst + row + (<usize>x << 2), rebuilt > least ? least + (rebuilt - least) * amount : rebuilt)
    }
  }
}
