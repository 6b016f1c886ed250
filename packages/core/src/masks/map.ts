import { address, type Raster } from '../memory'

/** Something that was made once for a picture and lies over it, in sensor coordinates, to be sampled at any size. */
export interface MaskMap {
  raster: Raster
  /** Place of its first sample among all of the picture's at that size. */
  x: number
  y: number
  /** Samples per long edge, across and down. */
  perX: number
  perY: number
}

/**
 * Samples a plane of a map between its samples; beyond its border, what is there.
 * @param us, vs places in sensor coordinates
 */
export function sampleMap(
  memory: ArrayBufferLike,
  { raster, x: left, y: top, perX, perY }: MaskMap,
  plane: number,
  us: Float32Array,
  vs: Float32Array,
  out: Float32Array,
): void {
  const { width, height, stride } = raster
  const values = new Float32Array(memory, address(raster, plane, 0, 0), stride * height)
  for (let i = 0; i < out.length; i++) {
    const x = Math.min(Math.max(us[i] * perX - 0.5 - left, 0), width - 1)
    const y = Math.min(Math.max(vs[i] * perY - 0.5 - top, 0), height - 1)
    const [x0, y0] = [Math.floor(x), Math.floor(y)]
    const [fx, fy] = [x - x0, y - y0]
    const right = x0 + 1 < width ? 1 : 0
    const at = y0 * stride + x0
    const below = y0 + 1 < height ? at + stride : at
    const upper = values[at] + fx * (values[at + right] - values[at])
    const lower = values[below] + fx * (values[below + right] - values[below])
    out[i] = upper + fy * (lower - upper)
  }
}

/** Whether a place lies on a map. */
export const onMap = ({ raster, x, y, perX, perY }: MaskMap, u: number, v: number): boolean => {
  const [p, q] = [u * perX - x, v * perY - y]
  return p >= 0 && q >= 0 && p <= raster.width && q <= raster.height
}
