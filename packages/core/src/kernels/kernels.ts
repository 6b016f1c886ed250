/**
 * The inner loops, compiled from `kernels/assembly`. All arguments are byte addresses in the engine's memory or
 * plain numbers; what each does is said beside its source. Addresses are multiples of 16, counts of floats
 * multiples of 4.
 */
export interface Kernels {
  f32_to_f16(src: number, dst: number, n: number): void
  f16_to_f32(src: number, dst: number, n: number): void
  blend(x: number, x0: number, strength: number, n: number): void
  scale(x: number, k: number, n: number): void
  fetch_mosaic(
    src: number,
    srcStride: number,
    areaX: number,
    areaY: number,
    areaW: number,
    areaH: number,
    x0: number,
    y0: number,
    w: number,
    h: number,
    dst: number,
    dstStride: number,
    levels: number,
  ): void
  apply_table(data: number, n: number, table: number, size: number): void
  copy_u16(src: number, dst: number, n: number, swap: number): void
  mend_defects(
    src: number,
    dst: number,
    w: number,
    h: number,
    stride: number,
    floor: number,
    share: number,
  ): void
  colour_differences(
    src: number,
    dh: number,
    dv: number,
    w: number,
    h: number,
    stride: number,
    green: number,
  ): void
  smooth9(src: number, dst: number, w: number, h: number, stride: number, step: number): void
  fuse_green(
    src: number,
    dh: number,
    dv: number,
    sh: number,
    sv: number,
    dst: number,
    w: number,
    h: number,
    stride: number,
    green: number,
    work: number,
  ): void
  sparse_difference(
    src: number,
    green: number,
    dst: number,
    w: number,
    h: number,
    stride: number,
    px: number,
    py: number,
  ): void
  spread_difference(diff: number, green: number, dst: number, w: number, h: number, stride: number): void
  ljpeg_table(counts: number, values: number, table: number): number
  ljpeg_scan(
    data: number,
    length: number,
    tables: number,
    components: number,
    columns: number,
    rows: number,
    predictor: number,
    precision: number,
    line: number,
    dst: number,
    dstStride: number,
    keepW: number,
    keepH: number,
  ): number
  resample_line(src: number, dst: number, outW: number, starts: number, weights: number, taps: number): void
  weigh_lines(src: number, stride: number, count: number, weights: number, dst: number, n: number): void
  matrix3(r: number, g: number, b: number, n: number, m: number): void
  render_base(r: number, g: number, b: number, n: number, curve: number, lab: number): void
  to_gamut(r: number, g: number, b: number, n: number, m: number, lab: number): void
  transfer(x: number, n: number, cut: number, slope: number, a: number, p: number, b: number): void
  pack_rgb8(r: number, g: number, b: number, w: number, dst: number, table: number): void
  pack_rgb16(r: number, g: number, b: number, w: number, dst: number): void
  pack_screen(
    r: number,
    g: number,
    b: number,
    w: number,
    dst: number,
    highs: number,
    lows: number,
    hi: number,
    lo: number,
    counts: number,
    table: number,
  ): void
  histogram_line(r: number, g: number, b: number, w: number, counts: number, weights: number): void
}

/** Instantiates the compiled kernels over a memory. */
export async function loadKernels(module: WebAssembly.Module, memory: WebAssembly.Memory): Promise<Kernels> {
  const abort = () => {
    throw new Error('a kernel stopped')
  }
  const instance = await WebAssembly.instantiate(module, { env: { memory, abort } })
  return instance.exports as unknown as Kernels
}
