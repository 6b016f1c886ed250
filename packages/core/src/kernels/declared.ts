// Made from kernels/assembly by scripts/kernelDeclarations.mjs; changes here are lost.

/**
 * The inner loops, compiled from `kernels/assembly`. All arguments are byte addresses in the engine's memory or
 * plain numbers; what each does is said beside its source. Addresses are multiples of 16, counts of floats
 * multiples of 4.
 */
// prettier-ignore
export interface Kernels {
  f32_to_f16(src: number, dst: number, n: number): void
  f16_to_f32(src: number, dst: number, n: number): void
  blend(x: number, x0: number, strength: number, n: number): void
  blend_masked(x: number, after: number, mask: number, strength: number, n: number): void
  scale(x: number, k: number, n: number): void
  unpack_line(src: number, dst: number, n: number, bits: number, swap: number): void
  split_line_u16(src: number, r: number, g: number, b: number, n: number): void
  split_line_f32(src: number, r: number, g: number, b: number, n: number): void
  apply_table(data: number, n: number, table: number, size: number): void
  lift_line(src: number, float: number, map: number, dst: number, n: number, black: number, gain: number, delta: number): void
  hsv_table(r: number, g: number, b: number, n: number, table: number, hues: number, saturations: number, levels: number, curve: number): void
  hue_curve(r: number, g: number, b: number, n: number, table: number): void
  mend_defects(src: number, dst: number, w: number, h: number, stride: number, floor: number, share: number): void
  mend_specks(src: number, dst: number, w: number, h: number, stride: number, floor: number, share: number): void
  to_log(src: number, dst: number, n: number, knee: number): void
  from_log(data: number, n: number, knee: number): void
  colour_differences(src: number, dh: number, dv: number, w: number, h: number, stride: number, green: number): void
  smooth5(src: number, dst: number, w: number, h: number, stride: number, step: number): void
  fuse_green(src: number, dh: number, dv: number, sh: number, sv: number, dst: number, doubt: number, w: number, h: number, stride: number, green: number, work: number): void
  sparse_difference(src: number, green: number, dst: number, w: number, h: number, stride: number, px: number, py: number): void
  settle_differences(diff: number, doubt: number, src: number, green: number, dst: number, w: number, h: number, stride: number, px: number, py: number, tau: number): void
  spread_rows(diff: number, dst: number, w: number, h: number, stride: number, py: number): void
  spread_columns(rows: number, green: number, dst: number, w: number, h: number, stride: number, py: number, knee: number): void
  ljpeg_table(counts: number, values: number, table: number): number
  ljpeg_scan(data: number, length: number, tables: number, components: number, columns: number, rows: number, predictor: number, precision: number, line: number, dst: number, dstStride: number, keepW: number, keepH: number): number
  resample_line(src: number, dst: number, outW: number, starts: number, weights: number, taps: number): void
  weigh_lines(src: number, stride: number, count: number, weights: number, dst: number, n: number): void
  matrix3(r: number, g: number, b: number, n: number, m: number): void
  lift_display(r: number, g: number, b: number, n: number, table: number, count: number): void
  render_base(r: number, g: number, b: number, n: number, table: number, count: number, top: number, white: number, lab: number): void
  to_gamut(r: number, g: number, b: number, n: number, m: number, lab: number): void
  oklab_to_gamut(l: number, a: number, b: number, n: number, lab: number): void
  transfer(x: number, n: number, cut: number, slope: number, a: number, p: number, b: number): void
  pack_rgb8(r: number, g: number, b: number, w: number, dst: number, table: number, mask: number, x0: number, y: number): void
  pack_rgb16(r: number, g: number, b: number, w: number, dst: number): void
  pack_screen(r: number, g: number, b: number, w: number, dst: number, highs: number, lows: number, hi: number, lo: number, counts: number, table: number, mask: number, x0: number, row: number): void
  histogram_line(r: number, g: number, b: number, w: number, counts: number, weights: number): void
  survey_row(src: number, stride: number, cells: number, cell: number, size: number, colours: number, levels: number, out: number): void
  even_greens(data: number, w: number, h: number, stride: number, x0: number, y0: number, green: number, blueRow: number, map: number, mapW: number, mapH: number, perCell: number): void
  rebuild_highlights(src: number, dst: number, w: number, h: number, stride: number, x0: number, y0: number, pattern: number, size: number, clip: number, red: number, blue: number, mapW: number, mapH: number, perCell: number, most: number, amount: number): void
  bin_line(src: number, stride: number, n: number, factor: number, pattern: number, size: number, px: number, py: number, r: number, g: number, b: number): void
  bin_plane(src: number, stride: number, n: number, factor: number, dst: number): void
  gather_line(src: number, step: number, dst: number, n: number): void
  mask_colour(src: number, dst: number, known: number, w: number, h: number, stride: number, pattern: number, size: number, px: number, py: number, colour: number, others: number): void
  subtract(a: number, b: number, dst: number, n: number): void
  sum(a: number, b: number, dst: number, n: number): void
  divide(a: number, b: number, dst: number, n: number): void
  taps7(src: number, dst: number, w: number, h: number, stride: number, step: number, t0: number, t1: number, t2: number, t3: number): void
  let_in(dst: number, a: number, b: number, known: number, share: number, n: number): void
  green_along(src: number, known: number, dst: number, w: number, h: number, stride: number): void
  mend_defects_large(src: number, dst: number, w: number, h: number, stride: number, floor: number, share: number, pattern: number, size: number, px: number, py: number, ring: number): void
  size_gain(r: number, g: number, b: number, n: number, table: number, count: number, top: number): void
  channel_curve(p: number, n: number, table: number, count: number, root: number): void
  local_gain_line(r: number, g: number, b: number, w: number, mapA: number, mapB: number, mapW: number, x0: number, step: number, table: number, count: number, from: number, perStop: number, weights: number, lift: number): void
  log_luminance(r: number, g: number, b: number, n: number, weights: number, dst: number): void
  colour_table(r: number, g: number, b: number, n: number, table: number, size: number, fourth: number): void
  hold_unit(p: number, n: number): void
  box_mean(src: number, dst: number, w: number, h: number, r: number, work: number): void
  to_oklab(r: number, g: number, b: number, n: number, lab: number): void
  from_oklab(r: number, g: number, b: number, n: number, lab: number): void
  colourfulness(l: number, a: number, b: number, n: number, p: number): void
  hue_nodes(l: number, a: number, b: number, n: number, nodes: number, count: number): void
  hue_table(l: number, a: number, b: number, n: number, table: number, count: number): void
  tint_by_tone(l: number, a: number, b: number, n: number, table: number, count: number, keep: number): void
  mix_grey(l: number, a: number, b: number, n: number, lab: number, w: number): void
  burn_line(l: number, a: number, b: number, w: number, x0: number, cx: number, du: number, v: number, begin: number, run: number, thirds: number): void
  grain_line(l: number, w: number, even: number, odd: number, share: number, size: number, x0: number, step: number, amount: number): void
  map_line(numbers: number, tables: number, entries: number, col: number, row: number, n: number, places: number, channels: number): void
  extent_line(sx: number, sy: number, n: number, width: number, height: number, bounds: number): void
  sample_line(src: number, stride: number, left: number, top: number, planes: number, plane: number, sx: number, sy: number, n: number, weights: number, taps: number, width: number, height: number, gain: number, dst: number, line: number): void
  shade_line(line: number, sx: number, sy: number, n: number, map: number, across: number, down: number, ax: number, bx: number, ay: number, by: number): void
  edge_colour(l: number, a: number, b: number, outA: number, outB: number, w: number, h: number, stride: number, reach: number, amount: number, cosine: number, sine: number, end: number, per: number, edge: number, perEdge: number, coloured: number): void
  block_forward(src: number, step: number, dst: number): void
  block_inverse(at: number): void
  shrink_blocks(src: number, num: number, den: number, planes: number, plane: number, w: number, h: number, stride: number, x0: number, y0: number, means: number, step: number, thresholds: number, window: number, work: number): void
  filter_groups(noisy: number, pilot: number, num: number, den: number, planes: number, plane: number, w: number, h: number, stride: number, x0: number, y0: number, means: number, step: number, radius: number, most: number, near: number, sigmas: number, window: number, work: number): void
  settle(num: number, den: number, src: number, n: number): void
  coarser(src: number, stride: number, dst: number, small: number, w: number, h: number): void
  add_coarse(dst: number, w: number, h: number, stride: number, ox: number, oy: number, a: number, b: number, small: number, sw: number, sh: number, amount: number, work: number): void
  shares_back(means: number, squares: number, dst: number, n: number, share: number, keep: number, tone: number, white: number): void
  mix_by(dst: number, other: number, shares: number, n: number): void
  stabilise_cells(top: number, bottom: number, dst: number, plane: number, n: number, numbers: number): void
  restore_cells(src: number, plane: number, top: number, bottom: number, n: number, numbers: number): void
  box_sum(src: number, dst: number, w: number, h: number, stride: number, r: number, work: number): void
  to_roots(r: number, g: number, b: number, n: number, knee: number, y: number, u: number, v: number): void
  from_roots(r: number, g: number, b: number, n: number, knee: number, y: number, u: number, v: number): void
  multiply(a: number, b: number, dst: number, n: number): void
  fit_lines(guide: number, squares: number, value: number, products: number, n: number, share: number, eps: number): void
  approach(value: number, guide: number, slope: number, rest: number, n: number, share: number, limit: number, amount: number): void
  weigh_light(r: number, g: number, b: number, dst: number, n: number, weights: number): void
  convolve(src: number, dst: number, w: number, h: number, stride: number, taps: number, r: number): void
  blur(src: number, dst: number, w: number, h: number, stride: number, taps: number, r: number, work: number): void
  extremes(src: number, lo: number, hi: number, w: number, h: number, stride: number, r: number, work: number): void
  widen_ridges(src: number, lo: number, hi: number, w: number, h: number, stride: number, d: number, gain: number): void
  hold_sharp(light: number, sharp: number, lo: number, hi: number, mask: number, n: number, numbers: number): void
  take_light(r: number, g: number, b: number, light: number, sharp: number, n: number, knee: number): void
  take_colour(r: number, g: number, b: number, light: number, sharp: number, sharper: number, plane: number, mask: number, n: number, knee: number, weights: number, numbers: number): void
  edge_mask(means: number, squares: number, dst: number, n: number, share: number, a: number, b: number, relative: number, strict: number): void
  add_level(src: number, dst: number, w: number, h: number, stride: number, ox: number, oy: number, mx: number, my: number, unit: number, level: number, rate: number): void
  add_unsharp(light: number, soft: number, mask: number, n: number, numbers: number): void
  relief_line(r: number, g: number, b: number, w: number, maps: number, mapW: number, x0: number, step: number, weights: number, amounts: number): void
  haze_line(r: number, g: number, b: number, w: number, maps: number, mapW: number, x0: number, step: number, weights: number, numbers: number): void
  spread(values: number, w: number, h: number, work: number): void
  every_second(src: number, dst: number, n: number): void
  to_every_second(src: number, dst: number, n: number): void
  places_apart(x: number, y: number, step: number, n: number, table: number, per: number, last: number, left: number, top: number, across: number, scale: number, right: number, bottom: number, places: number): void
  patch_costs(image: number, w: number, seen: number, width: number, height: number, need: number, field: number, costs: number, known: number): void
  patch_cost(image: number, w: number, seen: number, width: number, patch: number, known: number, x: number, y: number): number
  match_pass(image: number, w: number, h: number, ok: number, seen: number, width: number, height: number, need: number, field: number, costs: number, known: number, back: number, radius: number, tries: number, keep: number, seed: number): number
  vote_patches(image: number, w: number, seen: number, width: number, height: number, hole: number, need: number, field: number, costs: number, trust: number, spread: number): void
}
