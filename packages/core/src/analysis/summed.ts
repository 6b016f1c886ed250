/** Sums over all that lies above and left of a place (Viola and Jones 2001). */
export interface Sums {
  stride: number
  values: Float64Array
}

/** @param of the value at a place, counted line by line */
export function summed(width: number, height: number, of: (at: number) => number): Sums {
  const stride = width + 1
  const values = new Float64Array(stride * (height + 1))
  for (let y = 0; y < height; y++) {
    let line = 0
    for (let x = 0; x < width; x++) {
      line += of(y * width + x)
      values[(y + 1) * stride + x + 1] = values[y * stride + x + 1] + line
    }
  }
  return { stride, values }
}

/** Sum over a rectangle; right and bottom are no part of it. */
export const sumOver = (
  { stride, values }: Sums,
  left: number,
  top: number,
  right: number,
  bottom: number,
): number =>
  values[bottom * stride + right] -
  values[top * stride + right] -
  values[bottom * stride + left] +
  values[top * stride + left]
