// What the mosaic shows of itself in small: cells of a few pixels, for rebuilding highlights and evening greens.

/**
 * Counts one row of cells of a 16-bit mosaic. A quad is one repeat of the filter pattern; only quads without a
 * clipped sample speak for the colour of a cell.
 * @param src first sample of the row of cells
 * @param colours size x size bytes: 0 red, 1 green in a row with red, 2 blue, 3 green in a row with blue
 * @param levels 4 x 3 floats by such a colour: black, 1 / (white - black) * balance, stored value from which on it
 * counts as clipped
 * @param out 20 floats a cell: sums of red, green beside red, blue, green beside blue over sound quads (weighted by
 * their brightness), weight, clipped samples of red, green, blue; over quads in which one colour alone is clipped the
 * sums of the other two: blue and red for green, green and red for blue, blue and green for red; over quads
 * in which red or blue alone is not, its sum and their number, red first; two unused
 */
export function survey_row(
  src: usize, stride: i32, cells: i32, cell: i32, size: i32, colours: usize, levels: usize, out: usize,
): void {
  const quads = cell / size
  for (let c = 0; c < cells; c++) {
    let r: f32 = 0, gr: f32 = 0, b: f32 = 0, gb: f32 = 0, weight: f32 = 0
    let cr: f32 = 0, cg: f32 = 0, cb: f32 = 0, gB: f32 = 0, gR: f32 = 0, bG: f32 = 0, bR: f32 = 0, rB: f32 = 0, rG: f32 = 0, leftR: f32 = 0, nR: f32 = 0, leftB: f32 = 0, nB: f32 = 0
    for (let j = 0; j < quads; j++) {
      for (let i = 0; i < quads; i++) {
        let at = src + (<usize>(j * size * stride + c * cell + i * size) << 1)
        let s0: f32 = 0, s1: f32 = 0, s2: f32 = 0, s3: f32 = 0
        let clipped = false
        let which = 0
        for (let y = 0; y < size; y++) {
          for (let x = 0; x < size; x++) {
            const k = <i32>load<u8>(colours + <usize>(y * size + x))
            const l = levels + <usize>(k * 12)
            const stored = <f32>load<u16>(at + (<usize>x << 1))
            if (stored >= load<f32>(l, 8)) {
              clipped = true
              if (k == 0) { cr++; which |= 1 }
              else if (k == 2) { cb++; which |= 4 }
              else { cg++; which |= 2 }
            }
            const v = (stored - load<f32>(l)) * load<f32>(l, 4)
            if (k == 0) s0 += v
            else if (k == 1) s1 += v
            else if (k == 2) s2 += v
            else s3 += v
          }
          at += <usize>stride << 1
        }
        if (which == 2) { gB += s2; gR += s0 }
        else if (which == 4) { bG += s1 + s3; bR += s0 }
        else if (which == 1) { rB += s2; rG += s1 + s3 }
        else if (which == 6) { leftR += s0; nR++ }
        else if (which == 3) { leftB += s2; nB++ }
        if (clipped || s0 <= 0 || s1 <= 0 || s2 <= 0 || s3 <= 0) continue
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
    store<f32>(out, cr, 20)
    store<f32>(out, cg, 24)
    store<f32>(out, cb, 28)
    store<f32>(out, gB, 32)
    store<f32>(out, gR, 36)
    store<f32>(out, bG, 40)
    store<f32>(out, bR, 44)
    store<f32>(out, rB, 48)
    store<f32>(out, rG, 52)
    store<f32>(out, leftR, 56)
    store<f32>(out, nR, 60)
    store<f32>(out, leftB, 64)
    store<f32>(out, nB, 68)
    out += 80
  }
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

/** One line of a map of cells, linear between their middles, as n floats for pixels x0, x0 + 1 .. of line y. */
export function map_line(map: usize, w: i32, h: i32, x0: i32, y: i32, n: i32, perCell: f32, dst: usize): void {
  const cy = (<f32>y + 0.5) * perCell - 0.5
  for (let i = 0; i < n; i++) {
    store<f32>(dst + (<usize>i << 2), between(map, w, h, (<f32>(x0 + i) + 0.5) * perCell - 0.5, cy))
  }
}

/**
 * Greens of the two kinds of rows brought together: those beside red times the map's gain, those beside blue divided
 * by it. In place.
 * @param phase parity of x of the green places in this line
 */
export function even_line(line: usize, gains: usize, n: i32, phase: i32, divide: bool): void {
  for (let i = phase; i < n; i += 2) {
    const at = <usize>i << 2
    const g = load<f32>(gains + at)
    store<f32>(line + at, load<f32>(line + at) * (divide ? 1 / g : g))
  }
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
  const reach = size == 2 ? 1 : 2
  for (let y = 0; y < h; y++) {
    const row = <usize>(y * stride) << 2
    memory.copy(dst + row, src + row, <usize>stride << 2)
    if (y < reach || y >= h - reach) continue
    const py = <usize>(((y + y0) % size + size) % size * size)
    for (let x = reach; x < w - reach; x++) {
      const at = src + row + (<usize>x << 2)
      const v = load<f32>(at)
      if (v < least) continue
      const own = <i32>load<u8>(pattern + py + <usize>(((x + x0) % size + size) % size))
      const top = own == 0 ? clip0 : own == 1 ? clip1 : clip2
      if (v < top) {
        if (amount < 1) store<f32>(dst + row + (<usize>x << 2), least + (v - least) * amount)
        continue
      }
      // what is left of each colour around
      let s0: f32 = 0, s1: f32 = 0, s2: f32 = 0, n0: f32 = 0, n1: f32 = 0, n2: f32 = 0, a0: f32 = 0, a1: f32 = 0, a2: f32 = 0
      for (let j = -reach; j <= reach; j++) {
        const qy = <usize>(((y + j + y0) % size + size) % size * size)
        for (let i = -reach; i <= reach; i++) {
          const k = <i32>load<u8>(pattern + qy + <usize>(((x + i + x0) % size + size) % size))
          const u = load<f32>(at + (<isize>(j * stride + i) << 2))
          if (k == 0) { a0++; if (u < clip0) { s0 += u; n0++ } }
          else if (k == 1) { a1++; if (u < clip1) { s1 += u; n1++ } }
          else { a2++; if (u < clip2) { s2 += u; n2++ } }
        }
      }
      const mx = (<f32>(x + x0) + 0.5) * perCell - 0.5, my = (<f32>(y + y0) + 0.5) * perCell - 0.5
      const rg = between(red, mapW, mapH, mx, my)
      const bg = between(blue, mapW, mapH, mx, my)
      const mine = own == 0 ? rg : own == 1 ? <f32>1 : bg
      // what is clipped around says that there is at least the light that clips it, the more of it the surer
      const light = max(clip0 / rg * (1 - n0 / a0), max(clip1 * (1 - n1 / a1), clip2 / bg * (1 - n2 / a2)))
      let guess: f32 = 0, trust: f32 = 0
      if (own != 0 && n0 > 0) { const t = n0 / a0; guess += t * t * (s0 / n0) / rg; trust += t * t }
      if (own != 1 && n1 > 0) { const t = n1 / a1; guess += t * t * (s1 / n1); trust += t * t }
      if (own != 2 && n2 > 0) { const t = n2 / a2; guess += t * t * (s2 / n2) / bg; trust += t * t }
      let found = light
      if (trust > 0) {
        const share = min(trust, <f32>1)
        found = max(share * (guess / trust) + (1 - share) * light, light)
      }
      const result = mine * found
      const rebuilt = min(max(result, v), most)
      store<f32>(dst + row + (<usize>x << 2), least + (rebuilt - least) * amount)
    }
  }
}
