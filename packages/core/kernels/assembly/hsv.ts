// Hue, saturation and value tables and tone curves of a file's own rendering (DNG 1.7, chapter 6).

// @ts-ignore: decorator
@inline function entry(table: usize, i: i32): usize { return table + <usize>(i * 12) }

/**
 * Looks colours up by hue, saturation and value, trilinearly, and turns the hue by what is found there (in sixths of
 * a turn), multiplying saturation and value.
 * @param table hues x saturations x levels entries of three floats, saturation running fastest, then hue
 * @param curve for an encoded value axis: two tables of 4097 floats over 0..1, encoding and its inverse; 0 for none
 */
export function hsv_table(
  r: usize, g: usize, b: usize, n: i32, table: usize, hues: i32, saturations: i32, levels: i32, curve: usize,
): void {
  const hueStep = <f32>hues / 6
  for (let i: usize = 0; i < <usize>n << 2; i += 4) {
    const red = load<f32>(r + i), green = load<f32>(g + i), blue = load<f32>(b + i)
    const v = max(max(red, green), blue)
    const low = min(min(red, green), blue)
    const chroma = v - low
    if (!(v > 0)) continue
    let h: f32 = 0
    if (chroma > 0) {
      if (v == red) { h = (green - blue) / chroma; if (h < 0) h += 6 }
      else if (v == green) h = 2 + (blue - red) / chroma
      else h = 4 + (red - green) / chroma
    }
    const s = min(chroma / v, <f32>1)
    let value = v
    if (curve != 0) {
      const t = min(max(v, <f32>0), <f32>1) * 4096
      const k = min(<i32>t, 4095)
      const a = load<f32>(curve + (<usize>k << 2))
      value = a + (load<f32>(curve + (<usize>(k + 1) << 2)) - a) * (t - <f32>k)
    }
    const hf = h * hueStep
    let h0 = <i32>hf
    const fh = hf - <f32>h0
    if (h0 >= hues) h0 -= hues
    const h1 = h0 + 1 >= hues ? 0 : h0 + 1
    const sf = s * <f32>(saturations - 1)
    const s0 = min(<i32>sf, saturations - 2)
    const fs = sf - <f32>s0
    let v0 = 0
    let fv: f32 = 0
    let step = 0
    if (levels > 1) {
      const vf = min(max(value, <f32>0), <f32>1) * <f32>(levels - 1)
      v0 = min(<i32>vf, levels - 2)
      fv = vf - <f32>v0
      step = hues * saturations
    }
    let turn: f32 = 0, more: f32 = 0, lift: f32 = 0
    for (let k = 0; k < 8; k++) {
      const w = ((k & 1) != 0 ? fs : 1 - fs) * ((k & 2) != 0 ? fh : 1 - fh) * ((k & 4) != 0 ? fv : 1 - fv)
      if (w == 0) continue
      const at = entry(table, (v0 * hues + ((k & 2) != 0 ? h1 : h0)) * saturations + s0 + (k & 1) + ((k & 4) != 0 ? step : 0))
      turn += w * load<f32>(at)
      more += w * load<f32>(at, 4)
      lift += w * load<f32>(at, 8)
    }
    h += turn
    if (h < 0) h += 6
    if (h >= 6) h -= 6
    const sat = min(s * more, <f32>1)
    let top: f32
    if (curve != 0) {
      const inverse = curve + 4097 * 4
      const t = min(max(value * lift, <f32>0), <f32>1) * 4096
      const k = min(<i32>t, 4095)
      const a = load<f32>(inverse + (<usize>k << 2))
      // beyond the table light goes on as it was
      top = v > 1 ? v * lift : a + (load<f32>(inverse + (<usize>(k + 1) << 2)) - a) * (t - <f32>k)
    } else top = v * lift
    const sector = <i32>h
    const f = h - <f32>sector
    const p = top * (1 - sat)
    const q = top * (1 - sat * f)
    const t2 = top * (1 - sat * (1 - f))
    let nr: f32, ng: f32, nb: f32
    if (sector == 0) { nr = top; ng = t2; nb = p }
    else if (sector == 1) { nr = q; ng = top; nb = p }
    else if (sector == 2) { nr = p; ng = top; nb = t2 }
    else if (sector == 3) { nr = p; ng = q; nb = top }
    else if (sector == 4) { nr = t2; ng = p; nb = top }
    else { nr = top; ng = p; nb = q }
    store<f32>(r + i, nr)
    store<f32>(g + i, ng)
    store<f32>(b + i, nb)
  }
}

// @ts-ignore: decorator
@inline function through(table: usize, x: f32): f32 {
  const t = min(max(x, <f32>0), <f32>1) * 4096
  const k = min(<i32>t, 4095)
  const a = load<f32>(table + (<usize>k << 2))
  return a + (load<f32>(table + (<usize>(k + 1) << 2)) - a) * (t - <f32>k)
}

/**
 * A tone curve (4097 floats over 0..1) on the largest and the smallest channel; the middle one keeps its place
 * between them, so that the hue of hexagonal models stays.
 */
export function hue_curve(r: usize, g: usize, b: usize, n: i32, table: usize): void {
  for (let i: usize = 0; i < <usize>n << 2; i += 4) {
    const red = load<f32>(r + i), green = load<f32>(g + i), blue = load<f32>(b + i)
    const hi = max(max(red, green), blue)
    const lo = min(min(red, green), blue)
    const top = through(table, hi)
    const low = through(table, lo)
    const k = hi > lo ? (top - low) / (hi - lo) : <f32>0
    store<f32>(r + i, low + (red - lo) * k)
    store<f32>(g + i, low + (green - lo) * k)
    store<f32>(b + i, low + (blue - lo) * k)
  }
}
