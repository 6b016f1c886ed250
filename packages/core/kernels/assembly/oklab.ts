import { cbrtx4, dot3, exp2x4, held, lookup4, smooth, splat, turnsx4 } from './mathf'

// What works on lightness, hue and colourfulness: three planes hold L, a and b of Oklab.

/** Linear RGB to Oklab, in place. @param lab 36 floats as for render_base */
export function to_oklab(r: usize, g: usize, b: usize, n: i32, lab: usize): void {
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const x = v128.load(r + i), y = v128.load(g + i), z = v128.load(b + i)
    const l = cbrtx4(dot3(lab, x, y, z)), m = cbrtx4(dot3(lab + 12, x, y, z)), s = cbrtx4(dot3(lab + 24, x, y, z))
    v128.store(r + i, dot3(lab + 36, l, m, s))
    v128.store(g + i, dot3(lab + 48, l, m, s))
    v128.store(b + i, dot3(lab + 60, l, m, s))
  }
}

// @ts-ignore: decorator
@inline function cube(x: v128): v128 { return f32x4.mul(f32x4.mul(x, x), x) }

/** Oklab to linear RGB, in place. */
export function from_oklab(r: usize, g: usize, b: usize, n: i32, lab: usize): void {
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const x = v128.load(r + i), y = v128.load(g + i), z = v128.load(b + i)
    const l = cube(dot3(lab + 72, x, y, z)), m = cube(dot3(lab + 84, x, y, z)), s = cube(dot3(lab + 96, x, y, z))
    v128.store(r + i, dot3(lab + 108, l, m, s))
    v128.store(g + i, dot3(lab + 120, l, m, s))
    v128.store(b + i, dot3(lab + 132, l, m, s))
  }
}

/**
 * Colourfulness of all colours, and of muted ones apart from skin.
 * @param p 12 floats: factor for all, added factor for muted, 1 / chroma at which that is a quarter, cosine and sine
 * of skin's hue, cosine of the half angle where skin ends, 1 / (cosine where it is full - that), chroma where it
 * begins, 1 / (chroma where it is full - that), chroma where it begins to end, 1 / (length of the end), share spared
 */
export function colourfulness(l: usize, a: usize, b: usize, n: i32, p: usize): void {
  const all = v128.load32_splat(p), muted = v128.load32_splat(p, 4), knee = v128.load32_splat(p, 8)
  const one = splat(1.0)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const x = v128.load(a + i), y = v128.load(b + i)
    const chroma = f32x4.sqrt(f32x4.add(f32x4.mul(x, x), f32x4.mul(y, y)))
    const t = f32x4.mul(chroma, knee)
    const fall = f32x4.div(one, f32x4.add(one, f32x4.mul(t, t)))
    const cosine = f32x4.div(f32x4.add(f32x4.mul(x, v128.load32_splat(p, 12)), f32x4.mul(y, v128.load32_splat(p, 16))), f32x4.pmax(chroma, splat(1e-6)))
    const near = smooth(f32x4.mul(f32x4.sub(cosine, v128.load32_splat(p, 20)), v128.load32_splat(p, 24)))
    const enough = smooth(f32x4.mul(f32x4.sub(chroma, v128.load32_splat(p, 28)), v128.load32_splat(p, 32)))
    const much = smooth(f32x4.sub(one, f32x4.mul(f32x4.sub(chroma, v128.load32_splat(p, 36)), v128.load32_splat(p, 40))))
    const skin = f32x4.mul(f32x4.mul(near, enough), f32x4.mul(much, v128.load32_splat(p, 44)))
    const gain = f32x4.mul(all, f32x4.add(one, f32x4.mul(f32x4.mul(muted, f32x4.mul(fall, fall)), f32x4.sub(one, skin))))
    v128.store(a + i, f32x4.mul(x, gain))
    v128.store(b + i, f32x4.mul(y, gain))
  }
}

/** Floats of a node: see hue_nodes. */
const NODE: usize = 40

/**
 * Hue, colourfulness and lightness shifted around hues.
 * @param nodes `count` of 10 floats: hue and 1 / half width in turns, shift in radians, colourfulness - 1, lightness,
 * 1 where limits hold, then lowest and highest chroma, lowest and highest lightness
 */
export function hue_nodes(l: usize, a: usize, b: usize, n: i32, nodes: usize, count: i32): void {
  const one = splat(1.0), zero = splat(0.0)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const light = v128.load(l + i), x = v128.load(a + i), y = v128.load(b + i)
    const squared = f32x4.add(f32x4.mul(x, x), f32x4.mul(y, y))
    const hue = turnsx4(y, x)
    const chroma = f32x4.sqrt(squared)
    let turn = zero, gain = one, lift = zero
    for (let k: usize = 0; k < <usize>count; k++) {
      const p = nodes + k * NODE
      let d = f32x4.sub(hue, v128.load32_splat(p))
      d = f32x4.sub(d, f32x4.nearest(d))
      let w = smooth(f32x4.sub(one, f32x4.mul(f32x4.abs(d), v128.load32_splat(p, 4))))
      if (load<f32>(p, 20) != 0) {
        // the limits' edges are soft: a fortieth of chroma, a tenth of lightness
        const above = smooth(f32x4.add(splat(0.5), f32x4.mul(f32x4.sub(chroma, v128.load32_splat(p, 24)), splat(40.0))))
        const below = smooth(f32x4.add(splat(0.5), f32x4.mul(f32x4.sub(v128.load32_splat(p, 28), chroma), splat(40.0))))
        const over = smooth(f32x4.add(splat(0.5), f32x4.mul(f32x4.sub(light, v128.load32_splat(p, 32)), splat(10.0))))
        const under = smooth(f32x4.add(splat(0.5), f32x4.mul(f32x4.sub(v128.load32_splat(p, 36), light), splat(10.0))))
        w = f32x4.mul(f32x4.mul(w, f32x4.mul(above, below)), f32x4.mul(over, under))
      }
      turn = f32x4.add(turn, f32x4.mul(w, v128.load32_splat(p, 8)))
      gain = f32x4.mul(gain, f32x4.add(one, f32x4.mul(w, v128.load32_splat(p, 12))))
      lift = f32x4.add(lift, f32x4.mul(w, v128.load32_splat(p, 16)))
    }
    // hardly coloured places have hardly a hue: what changes lightness fades there
    const sure = f32x4.div(squared, f32x4.add(squared, splat(0.0009)))
    v128.store(l + i, f32x4.mul(light, f32x4.add(one, f32x4.mul(lift, sure))))
    const t = f32x4.pmin(f32x4.pmax(turn, splat(-1.6)), splat(1.6))
    const tt = f32x4.mul(t, t)
    const sine = f32x4.mul(t, f32x4.add(one, f32x4.mul(tt, f32x4.add(splat(-0.16666667), f32x4.mul(tt, f32x4.add(splat(0.00833333), f32x4.mul(tt, splat(-0.00019841))))))))
    const cosine = f32x4.add(one, f32x4.mul(tt, f32x4.add(splat(-0.5), f32x4.mul(tt, f32x4.add(splat(0.04166667), f32x4.mul(tt, f32x4.add(splat(-0.00138889), f32x4.mul(tt, splat(0.0000248)))))))))
    v128.store(a + i, f32x4.mul(gain, f32x4.sub(f32x4.mul(x, cosine), f32x4.mul(y, sine))))
    v128.store(b + i, f32x4.mul(gain, f32x4.add(f32x4.mul(x, sine), f32x4.mul(y, cosine))))
  }
}

/**
 * The same by a table of the whole circle, for nodes without limits.
 * @param table over the turn from -0.5 to 0.5, `count` entries each: cosine and sine of the shift, both times the
 * colourfulness, and lightness to add as a share of it
 */
export function hue_table(l: usize, a: usize, b: usize, n: i32, table: usize, count: i32): void {
  const one = splat(1.0), half = splat(0.5)
  const scale = splat(<f32>(count - 1)), last = splat(<f32>(count - 1) - 0.001)
  const size = <usize>count << 2
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const light = v128.load(l + i), x = v128.load(a + i), y = v128.load(b + i)
    const squared = f32x4.add(f32x4.mul(x, x), f32x4.mul(y, y))
    const at = held(f32x4.mul(f32x4.add(turnsx4(y, x), half), scale), last)
    const cosine = lookup4(table, at), sine = lookup4(table + size, at), lift = lookup4(table + 2 * size, at)
    // hardly coloured places have hardly a hue: what changes lightness fades there
    const sure = f32x4.div(squared, f32x4.add(squared, splat(0.0009)))
    v128.store(l + i, f32x4.mul(light, f32x4.add(one, f32x4.mul(lift, sure))))
    v128.store(a + i, f32x4.sub(f32x4.mul(x, cosine), f32x4.mul(y, sine)))
    v128.store(b + i, f32x4.add(f32x4.mul(x, sine), f32x4.mul(y, cosine)))
  }
}

/**
 * Colour and lightness added by lightness.
 * @param table a, b and lightness to add over L = 0..1, `count` entries each, one after the other
 * @param keep how much of the colour that is there stays
 */
export function tint_by_tone(l: usize, a: usize, b: usize, n: i32, table: usize, count: i32, keep: f32): void {
  const scale = splat(<f32>(count - 1)), last = splat(<f32>(count - 1) - 0.001)
  const size = <usize>count << 2
  const stay = splat(keep)
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const light = v128.load(l + i)
    const at = held(f32x4.mul(light, scale), last)
    v128.store(a + i, f32x4.add(f32x4.mul(stay, v128.load(a + i)), lookup4(table, at)))
    v128.store(b + i, f32x4.add(f32x4.mul(stay, v128.load(b + i)), lookup4(table + size, at)))
    v128.store(l + i, f32x4.add(light, lookup4(table + 2 * size, at)))
  }
}

/** Colour drained into the grey of a mixture of linear channels. @param w 3 floats, @param lab 36 floats */
export function mix_grey(l: usize, a: usize, b: usize, n: i32, lab: usize, w: usize): void {
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const x = v128.load(l + i), y = v128.load(a + i), z = v128.load(b + i)
    const p = cube(dot3(lab + 72, x, y, z)), q = cube(dot3(lab + 84, x, y, z)), s = cube(dot3(lab + 96, x, y, z))
    const grey = dot3(w, dot3(lab + 108, p, q, s), dot3(lab + 120, p, q, s), dot3(lab + 132, p, q, s))
    v128.store(l + i, cbrtx4(f32x4.pmax(grey, splat(0.0))))
    v128.store(a + i, splat(0.0))
    v128.store(b + i, splat(0.0))
  }
}

/**
 * One line darkened or lightened toward the edges. Oklab of light k times as strong is k^(1/3) times as large.
 * @param x0 the first sample's column in the whole picture, `cx` that of the centre, `du` 1 / the radius across
 * @param v place down in units of the radius there
 * @param begin distance where it begins, `run` 1 / the length of the run-out
 * @param thirds a third of the stops at the end of it
 */
export function burn_line(l: usize, a: usize, b: usize, w: i32, x0: f32, cx: f32, du: f32, v: f32, begin: f32, run: f32, thirds: f32): void {
  let column = f32x4.add(splat(x0), f32x4(0, 1, 2, 3))
  const on = splat(4.0), vv = splat(v * v), centre = splat(cx), across = splat(du)
  for (let i: usize = 0; i < <usize>w << 2; i += 16) {
    const u = f32x4.mul(f32x4.sub(column, centre), across)
    const d = f32x4.sqrt(f32x4.add(f32x4.mul(u, u), vv))
    const gain = exp2x4(f32x4.mul(splat(thirds), smooth(f32x4.mul(f32x4.sub(d, splat(begin)), splat(run)))))
    v128.store(l + i, f32x4.mul(v128.load(l + i), gain))
    v128.store(a + i, f32x4.mul(v128.load(a + i), gain))
    v128.store(b + i, f32x4.mul(v128.load(b + i), gain))
    column = f32x4.add(column, on)
  }
}

/**
 * One line of film grain on lightness, most in the middle tones.
 * @param even, odd two lines of the grain's picture, `size` (a power of two) long and repeating, let in by 1 - share
 * and `share`
 * @param x0 the first sample's column in the whole picture, `step` samples of the grain to a column
 */
export function grain_line(l: usize, w: i32, even: usize, odd: usize, share: f32, size: i32, x0: f32, step: f32, amount: f32): void {
  const mask = size - 1
  for (let i = 0; i < w; i++) {
    const at = (x0 + <f32>i + 0.5) * step - 0.5
    const k = <i32>floor<f32>(at)
    const f = at - <f32>k
    const p = <usize>(k & mask) << 2, q = <usize>((k + 1) & mask) << 2
    const e = load<f32>(even + p) + f * (load<f32>(even + q) - load<f32>(even + p))
    const o = load<f32>(odd + p) + f * (load<f32>(odd + q) - load<f32>(odd + p))
    const s = l + (<usize>i << 2)
    const light = load<f32>(s)
    const t = min<f32>(max<f32>(light, 0), 1)
    store<f32>(s, light + amount * (e + share * (o - e)) * (4 * t * (1 - t) * 0.8 + 0.2 * min<f32>(1, 8 * t)))
  }
}
