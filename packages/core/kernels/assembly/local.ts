import { dot3, exp2x4, held, log2x4, lookup4, splat } from './mathf'

// Lines changed by what coarse maps know of the picture: coefficients of guided filters over log2 of the luminance.
// `maps` are lines of mapW entries, one after the other; see local_gain_line for x0 and step.

// @ts-ignore: decorator
@inline function base(maps: usize, line: usize, k: usize, place: v128, stops: v128): v128 {
  const at = maps + 2 * k * line
  return f32x4.add(f32x4.mul(lookup4(at, place), stops), lookup4(at + line, place))
}

/** A difference in stops, large ones held back. */
// @ts-ignore: decorator
@inline function eased(d: v128): v128 {
  return f32x4.div(d, f32x4.add(splat(1.0), f32x4.mul(f32x4.abs(d), splat(0.35))))
}

/**
 * Local contrast at three sizes: what lies between the light and the narrow base, between that and the medium one,
 * and between that and the broad one, each stretched or flattened.
 * @param maps lines a and b of the three bases
 * @param amounts fine, medium, broad, then the stops below which fine drawing is only noise
 */
export function relief_line(
  r: usize, g: usize, b: usize, w: i32, maps: usize, mapW: i32, x0: f32, step: f32, weights: usize, amounts: usize,
): void {
  const line = ((<usize>mapW) + 4) << 2
  const end = splat(<f32>(mapW - 1) - 0.001)
  const fine = v128.load32_splat(amounts), medium = v128.load32_splat(amounts + 4), broad = v128.load32_splat(amounts + 8)
  const dark = v128.load32_splat(amounts + 12)
  let at = f32x4.add(splat(x0), f32x4(0, 1, 2, 3))
  for (let i: usize = 0; i < <usize>w << 2; i += 16) {
    const x = v128.load(r + i), y = v128.load(g + i), z = v128.load(b + i)
    const stops = log2x4(f32x4.pmax(dot3(weights, x, y, z), splat(6.1e-5)))
    const place = held(f32x4.sub(f32x4.mul(f32x4.add(at, splat(0.5)), splat(step)), splat(0.5)), end)
    const one = base(maps, line, 0, place, stops)
    const two = base(maps, line, 1, place, stops)
    const three = base(maps, line, 2, place, stops)
    // fades over the last three stops above the noise
    const seen = f32x4.pmin(f32x4.pmax(f32x4.mul(f32x4.sub(one, dark), splat(0.333333)), splat(0.0)), splat(1.0))
    let sum = f32x4.mul(f32x4.mul(fine, seen), eased(f32x4.sub(stops, one)))
    sum = f32x4.add(sum, f32x4.mul(medium, eased(f32x4.sub(one, two))))
    sum = f32x4.add(sum, f32x4.mul(broad, eased(f32x4.sub(two, three))))
    const gain = exp2x4(sum)
    v128.store(r + i, f32x4.mul(x, gain))
    v128.store(g + i, f32x4.mul(y, gain))
    v128.store(b + i, f32x4.mul(z, gain))
    at = f32x4.add(at, splat(4.0))
  }
}

/**
 * Haze taken out of the light or added to it: light = clear * t + air * (1 - t) (Koschmieder 1924).
 * @param maps lines a and b of the transmission, and of the narrow base
 * @param numbers air (three), strength, power over 1 - t, least transmission, largest gain of fine drawing
 */
export function haze_line(
  r: usize, g: usize, b: usize, w: i32, maps: usize, mapW: i32, x0: f32, step: f32, weights: usize, numbers: usize,
): void {
  const line = ((<usize>mapW) + 4) << 2
  const end = splat(<f32>(mapW - 1) - 0.001)
  const one = splat(1.0)
  const strength = load<f32>(numbers + 12)
  const power = v128.load32_splat(numbers + 16)
  const least = v128.load32_splat(numbers + 20)
  const most = v128.load32_splat(numbers + 24)
  let at = f32x4.add(splat(x0), f32x4(0, 1, 2, 3))
  for (let i: usize = 0; i < <usize>w << 2; i += 16) {
    const x = v128.load(r + i), y = v128.load(g + i), z = v128.load(b + i)
    const stops = log2x4(f32x4.pmax(dot3(weights, x, y, z), splat(6.1e-5)))
    const place = held(f32x4.sub(f32x4.mul(f32x4.add(at, splat(0.5)), splat(step)), splat(0.5)), end)
    at = f32x4.add(at, splat(4.0))
    const t = f32x4.pmin(f32x4.pmax(base(maps, line, 0, place, stops), splat(0.02)), splat(0.999))
    if (strength >= 0) {
      const veil = exp2x4(f32x4.mul(power, log2x4(f32x4.sub(one, t))))
      const through = f32x4.pmax(f32x4.sub(one, f32x4.mul(splat(strength), veil)), least)
      const gain = f32x4.div(one, through)
      const fine = f32x4.pmin(gain, most)
      // what is finer than the base, noise above all, gains no more than it may
      const off = f32x4.pmin(f32x4.pmax(f32x4.sub(base(maps, line, 1, place, stops), stops), splat(-1.0)), one)
      const share = exp2x4(off)
      clear(r + i, x, v128.load32_splat(numbers), share, gain, fine)
      clear(g + i, y, v128.load32_splat(numbers + 4), share, gain, fine)
      clear(b + i, z, v128.load32_splat(numbers + 8), share, gain, fine)
    } else {
      // as much again of the way through the haze that is there, and a little everywhere
      const k = splat(-strength)
      const through = f32x4.mul(
        exp2x4(f32x4.mul(f32x4.mul(k, splat(1.5)), log2x4(t))),
        f32x4.sub(one, f32x4.mul(k, splat(0.3))),
      )
      const rest = f32x4.sub(one, through)
      v128.store(r + i, f32x4.add(f32x4.mul(x, through), f32x4.mul(rest, v128.load32_splat(numbers))))
      v128.store(g + i, f32x4.add(f32x4.mul(y, through), f32x4.mul(rest, v128.load32_splat(numbers + 4))))
      v128.store(b + i, f32x4.add(f32x4.mul(z, through), f32x4.mul(rest, v128.load32_splat(numbers + 8))))
    }
  }
}

// @ts-ignore: decorator
@inline function clear(dst: usize, v: v128, air: v128, share: v128, gain: v128, held: v128): void {
  const even = f32x4.mul(v, share)
  const wide = f32x4.add(f32x4.mul(f32x4.sub(even, air), gain), air)
  const done = f32x4.add(wide, f32x4.mul(f32x4.sub(v, even), held))
  // nothing falls below a twentieth of what it was: no colour turns into its opposite
  v128.store(dst, f32x4.pmax(done, f32x4.mul(v, splat(0.05))))
}
