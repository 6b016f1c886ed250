import { dot3, splat } from './mathf'

/** The level table's first entry stands for 2^-20, each octave has 2048, the last entry for 1 and above. */
const TABLE_START: i32 = 107 << 11
const TABLE_END: i32 = 20 << 11

/** 8-bit level of a linear value, by the upper bits of the float. */
// @ts-ignore: decorator
@inline function level(p: usize, table: usize): i32 {
  const i = (load<i32>(p) >> 12) - TABLE_START
  return <i32>load<u8>(table + <usize>min(max(i, 0), TABLE_END))
}

/**
 * Three linear planes to interleaved RGB, 8 bit; one line of w pixels.
 * @param table 40961 bytes: the level of each step of value, transfer curve and rounding included
 */
export function pack_rgb8(r: usize, g: usize, b: usize, w: i32, dst: usize, table: usize): void {
  for (let i = 0; i < w; i++) {
    const o = <usize>i << 2
    const d = dst + <usize>(i * 3)
    store<u8>(d, <u8>level(r + o, table))
    store<u8>(d, <u8>level(g + o, table), 1)
    store<u8>(d, <u8>level(b + o, table), 2)
  }
}

/** Three planes in 0..1 to interleaved RGB, 16 bit; one line of w pixels. */
export function pack_rgb16(r: usize, g: usize, b: usize, w: i32, dst: usize): void {
  const top: f32 = 65535.0
  for (let i = 0; i < w; i++) {
    const o = <usize>i << 2
    const d = dst + <usize>(i * 6)
    store<u16>(d, <u16>nearest(min(max(load<f32>(r + o) * top, 0), top)))
    store<u16>(d, <u16>nearest(min(max(load<f32>(g + o) * top, 0), top)), 2)
    store<u16>(d, <u16>nearest(min(max(load<f32>(b + o) * top, 0), top)), 4)
  }
}

/** The same for values that are known not to exceed 1. */
// @ts-ignore: decorator
@inline function levelOfUnit(p: usize, table: usize): i32 {
  return <i32>load<u8>(table + <usize>max((load<i32>(p) >> 12) - TABLE_START, 0))
}

/**
 * One line for the screen: linear planes within 0..1 to RGBA, and (where `highs` is not 0) two layers that hold the clipping channels' own colours (dark grey
 * for all three in the highlights) where a channel is at or beyond a threshold (levels of 255), transparent elsewhere.
 * @param table as for pack_rgb8
 * @param counts 6 u32: clipped highlights R G B, clipped shadows R G B; added to
 */
export function pack_screen(
  r: usize, g: usize, b: usize, w: i32, dst: usize, highs: usize, lows: usize, hi: i32, lo: i32, counts: usize, table: usize,
): void {
  for (let i = 0; i < w; i++) {
    const o = <usize>i << 2
    const x = levelOfUnit(r + o, table), y = levelOfUnit(g + o, table), z = levelOfUnit(b + o, table)
    store<i32>(dst + o, x | (y << 8) | (z << 16) | 0xff000000)
    let high = 0, low = 0
    if (max(max(x, y), z) >= hi) {
      high = 0xff000000
      if (x >= hi) { high |= 0xff; bump(counts) }
      if (y >= hi) { high |= 0xff00; bump(counts + 4) }
      if (z >= hi) { high |= 0xff0000; bump(counts + 8) }
      // white on white would not be seen
      if (high == <i32>0xffffffff) high = ALL_HIGHS
    }
    if (min(min(x, y), z) <= lo) {
      low = 0xff000000
      if (x <= lo) { low |= 0xff; bump(counts + 12) }
      if (y <= lo) { low |= 0xff00; bump(counts + 16) }
      if (z <= lo) { low |= 0xff0000; bump(counts + 20) }
    }
    if (highs) {
      store<i32>(highs + o, high)
      store<i32>(lows + o, low)
    }
  }
}

/** Where all channels clip, the layer of the highlights is a dark grey. */
const ALL_HIGHS: i32 = <i32>0xff202020

/** Parts of an octave that are counted apart, and octaves from 2^-15 to 2^1. */
const PARTS_SHIFT = 17
const LOWEST: i32 = 112 << 6
const PARTS: i32 = 16 << 6

// @ts-ignore: decorator
@inline function bump(p: usize): void { store<u32>(p, load<u32>(p) + 1) }

/** The upper bits of a float are a logarithm good enough to count by: exponent and 6 bits of mantissa. */
// @ts-ignore: decorator
@inline function part(v: v128): v128 {
  const bits = i32x4.sub(i32x4.shr_s(v, PARTS_SHIFT), i32x4.splat(LOWEST))
  const held = i32x4.min_s(i32x4.max_s(bits, i32x4.splat(0)), i32x4.splat(PARTS - 1))
  return i32x4.shl(held, 2)
}

/**
 * Adds one line of linear RGB to four counts (R, G, B, luminance) of 1024 parts: 64 of each octave from 2^-15 on,
 * evenly spaced within the octave.
 * @param weights 3 floats: luminance of R, G, B
 */
export function histogram_line(r: usize, g: usize, b: usize, w: i32, counts: usize, weights: usize): void {
  const size = <usize>PARTS << 2
  for (let i = 0; i < w; i += 4) {
    const o = <usize>i << 2
    const x = v128.load(r + o), y = v128.load(g + o), z = v128.load(b + o)
    const px = part(x), py = part(y), pz = part(z), pl = part(dot3(weights, x, y, z))
    const rest = w - i
    tally4(counts, size, i32x4.extract_lane(px, 0), i32x4.extract_lane(py, 0), i32x4.extract_lane(pz, 0), i32x4.extract_lane(pl, 0))
    if (rest > 1) tally4(counts, size, i32x4.extract_lane(px, 1), i32x4.extract_lane(py, 1), i32x4.extract_lane(pz, 1), i32x4.extract_lane(pl, 1))
    if (rest > 2) tally4(counts, size, i32x4.extract_lane(px, 2), i32x4.extract_lane(py, 2), i32x4.extract_lane(pz, 2), i32x4.extract_lane(pl, 2))
    if (rest > 3) tally4(counts, size, i32x4.extract_lane(px, 3), i32x4.extract_lane(py, 3), i32x4.extract_lane(pz, 3), i32x4.extract_lane(pl, 3))
  }
}

// @ts-ignore: decorator
@inline function tally4(counts: usize, size: usize, x: i32, y: i32, z: i32, l: i32): void {
  bump(counts + x)
  bump(counts + size + y)
  bump(counts + 2 * size + z)
  bump(counts + 3 * size + l)
}
