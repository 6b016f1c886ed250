// Stored samples to 16 bits, one line at a time.

/**
 * Whole samples of 8, 10, 12, 14 or 16 bits to 16. Depths between are packed without gaps, most significant bit
 * first (TIFF 6.0); 16 bits are swapped where wanted.
 */
export function unpack_line(src: usize, dst: usize, n: i32, bits: i32, swap: bool): void {
  if (bits == 16) {
    for (let i: usize = 0; i < <usize>n << 1; i += 2) {
      const v = load<u16>(src + i)
      store<u16>(dst + i, swap ? <u16>((v << 8) | (v >> 8)) : v)
    }
    return
  }
  if (bits == 8) {
    for (let i: usize = 0; i < <usize>n; i++) store<u16>(dst + (i << 1), load<u8>(src + i))
    return
  }
  let held: u32 = 0
  let count: i32 = 0
  const mask: u32 = (1 << bits) - 1
  for (let i: usize = 0; i < <usize>n; i++) {
    while (count < bits) {
      held = (held << 8) | load<u8>(src++)
      count += 8
    }
    count -= bits
    store<u16>(dst + (i << 1), <u16>((held >> count) & mask))
  }
}

/** Three interleaved 16-bit samples a pixel to three lines. */
export function split_line_u16(src: usize, r: usize, g: usize, b: usize, n: i32): void {
  for (let i: usize = 0; i < <usize>n << 1; i += 2) {
    store<u16>(r + i, load<u16>(src))
    store<u16>(g + i, load<u16>(src, 2))
    store<u16>(b + i, load<u16>(src, 4))
    src += 6
  }
}

/** Three interleaved floats a pixel to three lines. */
export function split_line_f32(src: usize, r: usize, g: usize, b: usize, n: i32): void {
  for (let i: usize = 0; i < <usize>n << 2; i += 4) {
    store<f32>(r + i, load<f32>(src))
    store<f32>(g + i, load<f32>(src, 4))
    store<f32>(b + i, load<f32>(src, 8))
    src += 12
  }
}

/** Replaces every sample by table[min(sample, size - 1)], over n samples. */
export function apply_table(data: usize, n: i32, table: usize, size: i32): void {
  for (let i: usize = 0; i < <usize>n << 1; i += 2) {
    const v = <i32>load<u16>(data + i)
    store<u16>(data + i, load<u16>(table + (<usize>min(v, size - 1) << 1)))
  }
}

/**
 * Samples of one line to light: (value - black - delta) * gain, with black and gain by place in the line.
 * @param map n places to read from, or 0 for n places in a row; samples are 16-bit whole numbers, or floats where
 * `float` is set
 */
export function lift_line(
  src: usize, float: bool, map: usize, dst: usize, n: i32, black: usize, gain: usize, delta: f32,
): void {
  if (map != 0) {
    for (let i: usize = 0; i < <usize>n << 2; i += 4) {
      const at = load<i32>(map + i)
      const v = float ? load<f32>(src + (<usize>at << 2)) : <f32>load<u16>(src + (<usize>at << 1))
      store<f32>(dst + i, (v - (load<f32>(black + i) + delta)) * load<f32>(gain + i))
    }
    return
  }
  const d = f32x4.splat(delta)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const v = float ? v128.load(src + i) : f32x4.convert_i32x4_u(v128.load16x4_u(src + (i >> 1)))
    v128.store(dst + i, f32x4.mul(f32x4.sub(v, f32x4.add(v128.load(black + i), d)), v128.load(gain + i)))
  }
}
