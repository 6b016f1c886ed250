import { strideFor, address, type Raster, type Scratch } from '../memory'
import type { Kernels } from '../kernels/kernels'
import type { OpenPicture } from './picture'

const wrap = (i: number, n: number) => ((i % n) + n) % n

/**
 * The place inside 0..size-1 that stands for place `i`: mirrored without repeating the edge where the pattern allows
 * it, moved by whole patterns otherwise; the filter's colour stays.
 */
export function inside(i: number, size: number, period: number): number {
  if (i >= 0 && i < size) return i
  if (period === 2) {
    const m = wrap(i, 2 * (size - 1))
    return m < size ? m : 2 * (size - 1) - m
  }
  if (i < 0) return wrap(i, period)
  const last = size - period
  return last + wrap(i - last, period)
}

/**
 * A window of the sensor as light: black taken off, white at 1 times the as-shot balance; a mosaic as one plane,
 * linear colours as three. Beyond the readable area it goes on mirrored.
 * @param x, y sensor pixels, may lie outside
 */
export function fetchWindow(
  kernels: Kernels,
  scratch: Scratch,
  picture: OpenPicture,
  x: number,
  y: number,
  width: number,
  height: number,
): Raster {
  const { active, sensor, levels } = picture
  const { pattern } = picture.context
  const planes = sensor.planes
  const out = scratch.raster(width, height, planes)
  const stride = strideFor(width)
  const period = planes === 1 ? pattern.size : 2
  const columns = Array.from({ length: width }, (_, i) => inside(x + i - active.x, active.width, period))
  const whole = x >= active.x && x + stride <= active.x + active.width
  const map = whole
    ? 0
    : scratch.ints([...columns.map((c) => c + active.x), ...new Array<number>(stride - width).fill(active.x)])
  const { rows: blackRows, columns: blackColumns, values } = levels.black
  // black and gain of a line, by its place in the two patterns; few lines differ
  const kinds = new Map<number, { black: number; gain: number }>()
  const kind = (row: number, plane: number) => {
    const key = (row % blackRows) * 8 + (planes === 1 ? (row + active.y) % pattern.size : plane)
    let found = kinds.get(key)
    if (!found) {
      const black = new Float32Array(stride)
      const gain = new Float32Array(stride)
      const sample = planes === 1 ? 0 : plane
      columns.forEach((c, i) => {
        const place = (row % blackRows) * blackColumns + (c % blackColumns)
        const own = values[place * planes + plane]
        const colour =
          planes === 1
            ? pattern.colours[
                ((row + active.y) % pattern.size) * pattern.size + ((c + active.x) % pattern.size)
              ]
            : plane
        black[i] = own + (levels.deltaH?.[c] ?? 0)
        gain[i] = levels.balance[colour] / (levels.white[sample] - levels.highestBlack[sample])
      })
      kinds.set(key, (found = { black: scratch.floats(black), gain: scratch.floats(gain) }))
    }
    return found
  }
  for (let p = 0; p < planes; p++)
    for (let j = 0; j < height; j++) {
      const row = inside(y + j - active.y, active.height, period)
      const { black, gain } = kind(row, p)
      kernels.lift_line(
        address(sensor, p, whole ? x : 0, row + active.y),
        sensor.format === 'f32' ? 1 : 0,
        map,
        address(out, p, 0, j),
        stride,
        black,
        gain,
        levels.deltaV?.[row] ?? 0,
      )
    }
  return out
}
