/** How samples are stored; `f16` is IEEE 754 binary16. */
export type SampleFormat = 'f32' | 'f16' | 'u16' | 'u8'

const BYTES: Record<SampleFormat, number> = { f32: 4, f16: 2, u16: 2, u8: 1 }

/**
 * A planar picture in the engine's memory: plain data, so that it can be sent to a worker; nothing is copied.
 * Lines are `stride` samples apart, planes `stride * height`.
 */
export interface Raster {
  /** Byte address of the first sample. */
  offset: number
  width: number
  height: number
  stride: number
  planes: number
  format: SampleFormat
}

/** Lines start at multiples of 4 samples, so that kernels need no ragged ends. */
export const strideFor = (width: number): number => (width + 3) & ~3

export const rasterBytes = (r: Omit<Raster, 'offset'>): number =>
  r.stride * r.height * r.planes * BYTES[r.format]

/** Byte address of sample (x, y) of a plane. */
export const address = (r: Raster, plane: number, x: number, y: number): number =>
  r.offset + ((plane * r.height + y) * r.stride + x) * BYTES[r.format]
