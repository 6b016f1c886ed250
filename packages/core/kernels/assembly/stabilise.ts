import { splat } from './mathf'

// A mosaic of 2 x 2 as four planes of half its size, stabilised (generalised Anscombe; Makitalo and Foi 2013) and
// turned so that the first holds the light and the others what differs between the colours.

// @ts-ignore: decorator
@inline function parameter(at: usize, i: usize): v128 { return v128.load32_splat(at + (i << 2)) }

/** 2 / a * sqrt(max(a * v + c, 0)), the noise of which has a variance of 1; parameters 2 / a, a, c. */
// @ts-ignore: decorator
@inline function stable(v: v128, at: usize): v128 {
  const inner = f32x4.add(f32x4.mul(v, parameter(at, 1)), parameter(at, 2))
  return f32x4.mul(f32x4.sqrt(f32x4.pmax(inner, splat(0.0))), parameter(at, 0))
}

/**
 * The unbiased inverse in closed form: (D^2 / 4 + sqrt(3/2) / 4 / D - 11 / 8 / D^2 + 5/8 sqrt(3/2) / D^3) a + d, d
 * holding what is constant.
 */
// @ts-ignore: decorator
@inline function unstable(v: v128, at: usize): v128 {
  const d = f32x4.pmax(v, splat(1.2247448))
  const r = f32x4.div(splat(1.0), d)
  const tail = f32x4.mul(
    r,
    f32x4.add(splat(0.30618622), f32x4.mul(r, f32x4.add(splat(-1.375), f32x4.mul(r, splat(0.76546555))))),
  )
  const inner = f32x4.add(f32x4.mul(f32x4.mul(d, d), splat(0.25)), tail)
  return f32x4.add(f32x4.mul(inner, parameter(at, 1)), parameter(at, 3))
}

/**
 * Two lines of a mosaic to a line of each of four planes.
 * @param top, bottom 2 n samples each
 * @param dst the first plane's line, the others `plane` bytes apart
 * @param numbers for each of the four places of a cell: 2 / a, a, c, d; then the 4 x 4 matrix
 */
export function stabilise_cells(top: usize, bottom: usize, dst: usize, plane: usize, n: i32, numbers: usize): void {
  const m = numbers + 64
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const t0 = v128.load(top + 2 * i), t1 = v128.load(top + 2 * i + 16)
    const b0 = v128.load(bottom + 2 * i), b1 = v128.load(bottom + 2 * i + 16)
    const a = stable(v128.shuffle<f32>(t0, t1, 0, 2, 4, 6), numbers)
    const b = stable(v128.shuffle<f32>(t0, t1, 1, 3, 5, 7), numbers + 16)
    const c = stable(v128.shuffle<f32>(b0, b1, 0, 2, 4, 6), numbers + 32)
    const d = stable(v128.shuffle<f32>(b0, b1, 1, 3, 5, 7), numbers + 48)
    for (let p: usize = 0; p < 4; p++) {
      const k = m + (p << 4)
      v128.store(
        dst + p * plane + i,
        f32x4.add(
          f32x4.add(f32x4.mul(a, parameter(k, 0)), f32x4.mul(b, parameter(k, 1))),
          f32x4.add(f32x4.mul(c, parameter(k, 2)), f32x4.mul(d, parameter(k, 3))),
        ),
      )
    }
  }
}

/** The way back; the matrix given is the transposed one. */
export function restore_cells(src: usize, plane: usize, top: usize, bottom: usize, n: i32, numbers: usize): void {
  const m = numbers + 64
  for (let i: usize = 0; i < (<usize>n) << 2; i += 16) {
    const s0 = v128.load(src + i), s1 = v128.load(src + plane + i)
    const s2 = v128.load(src + 2 * plane + i), s3 = v128.load(src + 3 * plane + i)
    const a = unstable(turned(s0, s1, s2, s3, m), numbers)
    const b = unstable(turned(s0, s1, s2, s3, m + 16), numbers + 16)
    const c = unstable(turned(s0, s1, s2, s3, m + 32), numbers + 32)
    const d = unstable(turned(s0, s1, s2, s3, m + 48), numbers + 48)
    v128.store(top + 2 * i, v128.shuffle<f32>(a, b, 0, 4, 1, 5))
    v128.store(top + 2 * i + 16, v128.shuffle<f32>(a, b, 2, 6, 3, 7))
    v128.store(bottom + 2 * i, v128.shuffle<f32>(c, d, 0, 4, 1, 5))
    v128.store(bottom + 2 * i + 16, v128.shuffle<f32>(c, d, 2, 6, 3, 7))
  }
}

// @ts-ignore: decorator
@inline function turned(s0: v128, s1: v128, s2: v128, s3: v128, k: usize): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(s0, parameter(k, 0)), f32x4.mul(s1, parameter(k, 1))),
    f32x4.add(f32x4.mul(s2, parameter(k, 2)), f32x4.mul(s3, parameter(k, 3))),
  )
}
