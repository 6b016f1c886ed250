import { dot3, splat } from './mathf'

/** The level table's first entry stands for 2^-20, each octave has 8192, the last entry for 1 and above. */
const PARTS_OF_OCTAVE = 13
const TABLE_START: i32 = 107 << PARTS_OF_OCTAVE
const TABLE_END: i32 = 20 << PARTS_OF_OCTAVE

/** 8-bit level of a linear value in parts of 256, by the upper bits of the float. */
// @ts-ignore: decorator
@inline function level(p: usize, table: usize): i32 {
  const i = (load<i32>(p) >> (23 - PARTS_OF_OCTAVE)) - TABLE_START
  return <i32>load<u16>(table + (<usize>min(max(i, 0), TABLE_END) << 1))
}

/** Side of the dither mask, and how far apart the channels lie in it. */
const SIDE = 64
const GREEN_X = 21, GREEN_Y = 43, BLUE_X = 47, BLUE_Y = 17

/** The line of the mask for a line of the picture. */
// @ts-ignore: decorator
@inline function maskLine(mask: usize, y: i32): usize { return mask + <usize>((y & (SIDE - 1)) * SIDE) }

/** A threshold between 0 and 255. */
// @ts-ignore: decorator
@inline function threshold(line: usize, x: i32): i32 { return <i32>load<u8>(line + <usize>(x & (SIDE - 1))) }

/**
 * Three linear planes to interleaved RGB, 8 bit; one line of w pixels. What lies between two levels is dithered.
 * @param table 163841 u16: the level of each step of value in parts of 256, transfer curve included
 * @param mask SIDE x SIDE thresholds
 * @param x0, y place of the first pixel in the whole picture
 */
export function pack_rgb8(r: usize, g: usize, b: usize, w: i32, dst: usize, table: usize, mask: usize, x0: i32, y: i32): void {
  const red = maskLine(mask, y), green = maskLine(mask, y + GREEN_Y), blue = maskLine(mask, y + BLUE_Y)
  for (let i = 0; i < w; i++) {
    const o = <usize>i << 2
    const d = dst + <usize>(i * 3)
    const x = x0 + i
    store<u8>(d, <u8>((level(r + o, table) + threshold(red, x)) >> 8))
    store<u8>(d, <u8>((level(g + o, table) + threshold(green, x + GREEN_X)) >> 8), 1)
    store<u8>(d, <u8>((level(b + o, table) + threshold(blue, x + BLUE_X)) >> 8), 2)
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

/** The same as `level` for values that are known not to exceed 1. */
// @ts-ignore: decorator
@inline function levelOfUnit(p: usize, table: usize): i32 {
  return <i32>load<u16>(table + (<usize>max((load<i32>(p) >> (23 - PARTS_OF_OCTAVE)) - TABLE_START, 0) << 1))
}

/**
 * One line for the screen: linear planes within 0..1 to RGBA, dithered as by pack_rgb8, and (where `highs` is not 0) two layers that
 * hold the clipping channels' own colours (dark grey for all three in the highlights) where a channel's nearest level is at or
 * beyond a threshold (levels of 255), transparent elsewhere.
 * @param table, mask, x0, row as for pack_rgb8
 * @param counts 6 u32: clipped highlights R G B, clipped shadows R G B; added to
 */
export function pack_screen(
  r: usize, g: usize, b: usize, w: i32, dst: usize, highs: usize, lows: usize, hi: i32, lo: i32, counts: usize, table: usize,
  mask: usize, x0: i32, row: i32,
): void {
  const red = maskLine(mask, row), green = maskLine(mask, row + GREEN_Y), blue = maskLine(mask, row + BLUE_Y)
  for (let i = 0; i < w; i++) {
    const o = <usize>i << 2
    const at = x0 + i
    const p = levelOfUnit(r + o, table), q = levelOfUnit(g + o, table), s = levelOfUnit(b + o, table)
    store<i32>(
      dst + o,
      ((p + threshold(red, at)) >> 8) | (((q + threshold(green, at + GREEN_X)) >> 8) << 8) | (((s + threshold(blue, at + BLUE_X)) >> 8) << 16) | 0xff000000,
    )
    const x = (p + 128) >> 8, y = (q + 128) >> 8, z = (s + 128) >> 8
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
