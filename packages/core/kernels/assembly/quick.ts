// The quick picture: small squares of the mosaic to one pixel each.

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
  for (let i = 0; i < n; i++) {
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
