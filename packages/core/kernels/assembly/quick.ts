// The quick picture: small squares of the mosaic to one pixel each.

/** Four squares of 2 x 2 at a time; places of the colours by 2 * y + x, the second green after the first. */
function quads_line(
  src: usize, stride: i32, n: i32, red: i32, green: i32, green2: i32, blue: i32, r: usize, g: usize, b: usize,
): i32 {
  const half = f32x4.splat(0.5)
  let i = 0
  for (; i + 4 <= n; i += 4) {
    const at = src + (<usize>(i * 2) << 2)
    const o = <usize>i << 2
    v128.store(r + o, place(at, stride, red))
    v128.store(b + o, place(at, stride, blue))
    v128.store(g + o, f32x4.mul(half, f32x4.add(place(at, stride, green), place(at, stride, green2))))
  }
  return i
}

// @ts-ignore: decorator
@inline function place(at: usize, stride: i32, p: i32): v128 {
  const q = at + (<usize>((p >> 1) * stride + (p & 1)) << 2)
  return v128.shuffle<f32>(v128.load(q), v128.load(q, 16), 0, 2, 4, 6)
}

/**
 * One line: the mean of each colour in squares of `factor` x `factor` samples. A colour that a square has none of
 * keeps the value of the square before.
 * @param px, py place of the first sample in the pattern of size x size bytes 0, 1, 2
 */
export function bin_line(
  src: usize, stride: i32, n: i32, factor: i32, pattern: usize, size: i32, px: i32, py: i32,
  r: usize, g: usize, b: usize,
): void {
  let lastR: f32 = 0, lastG: f32 = 0, lastB: f32 = 0
  let start = 0
  if (size == 2 && factor == 2) {
    let red = 0, blue = 0, green = -1, green2 = 0
    for (let k = 0; k < 4; k++) {
      const c = load<u8>(pattern + <usize>((((k >> 1) + py) & 1) * 2 + (((k & 1) + px) & 1)))
      if (c == 0) red = k
      else if (c == 2) blue = k
      else if (green < 0) green = k
      else green2 = k
    }
    start = quads_line(src, stride, n, red, green, green2, blue, r, g, b)
  }
  for (let i = start; i < n; i++) {
    let s0: f32 = 0, s1: f32 = 0, s2: f32 = 0, n0: f32 = 0, n1: f32 = 0, n2: f32 = 0
    for (let y = 0; y < factor; y++) {
      const row = pattern + <usize>((py + y) % size * size)
      const at = src + (<usize>(y * stride + i * factor) << 2)
      for (let x = 0; x < factor; x++) {
        const c = load<u8>(row + <usize>((px + i * factor + x) % size))
        const v = load<f32>(at + (<usize>x << 2))
        if (c == 0) { s0 += v; n0++ }
        else if (c == 1) { s1 += v; n1++ }
        else { s2 += v; n2++ }
      }
    }
    if (n0 > 0) lastR = s0 / n0
    if (n1 > 0) lastG = s1 / n1
    if (n2 > 0) lastB = s2 / n2
    store<f32>(r + (<usize>i << 2), lastR)
    store<f32>(g + (<usize>i << 2), lastG)
    store<f32>(b + (<usize>i << 2), lastB)
  }
}

/** One line of one plane: the mean of squares of `factor` x `factor` samples. */
export function bin_plane(src: usize, stride: i32, n: i32, factor: i32, dst: usize): void {
  const share: f32 = 1 / <f32>(factor * factor)
  for (let i = 0; i < n; i++) {
    let sum: f32 = 0
    for (let y = 0; y < factor; y++)
      for (let x = 0; x < factor; x++) sum += load<f32>(src + (<usize>(y * stride + i * factor + x) << 2))
    store<f32>(dst + (<usize>i << 2), sum * share)
  }
}

/** n floats that lie `step` bytes apart, to lie next to each other. */
export function gather_line(src: usize, step: i32, dst: usize, n: i32): void {
  for (let i = 0; i < n; i++) store<f32>(dst + (<usize>i << 2), load<f32>(src + <isize>(i * step)))
}
