export { f32_to_f16, f16_to_f32, blend, scale } from './convert'
export { unpack_line, split_line_u16, split_line_f32, apply_table, lift_line } from './unpack'
export { hsv_table, hue_curve } from './hsv'
export { mend_defects } from './sensor'
export {
  to_log, from_log, colour_differences, smooth5, fuse_green, sparse_difference, settle_differences, spread_rows, spread_columns,
} from './demosaic'
export { ljpeg_table, ljpeg_scan } from './ljpeg'
export { resample_line, weigh_lines } from './resample'
export { matrix3, lift_display, render_base, to_gamut, transfer } from './colour'
export { pack_rgb8, pack_rgb16, pack_screen, histogram_line } from './pack'
export { survey_row, even_greens, rebuild_highlights } from './survey'
export { bin_line, bin_plane, gather_line } from './quick'
export { mask_colour, subtract, sum, divide, taps7, let_in, green_along, mend_defects_large } from './masked'
