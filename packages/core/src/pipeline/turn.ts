import { address, type Raster, type Scratch } from '../memory'
import { turned, turnsBack, uprightSize, type Size } from '../geometry/upright'
import type { Kernels } from '../kernels/kernels'

/**
 * Stores a developed tile as 16-bit floats at its upright place in the kept picture. Lines are written in groups of
 * four: a tile that has another to its right is a multiple of four wide.
 * @param margin surroundings of the tile that are left out
 * @param region the tile's place in the picture as the sensor has it
 * @param whole that picture's size
 */
export function storeTurned(
  kernels: Kernels,
  scratch: Scratch,
  tile: Raster,
  margin: number,
  region: Size & { x: number; y: number },
  whole: Size,
  orientation: number,
  target: Raster,
): void {
  const n = (k: number) => (k + 3) & ~3
  if (orientation === 1) {
    for (let p = 0; p < 3; p++)
      for (let j = 0; j < region.height; j++)
        kernels.f32_to_f16(
          address(tile, p, margin, margin + j),
          address(target, p, region.x, region.y + j),
          n(region.width),
        )
    return
  }
  // a line of the upright tile is gathered from a line or a column of this one
  const [x0, y0] = turned(region.x, region.y, whole, orientation)
  const [x1, y1] = turned(region.x + region.width - 1, region.y + region.height - 1, whole, orientation)
  const left = Math.min(x0, x1)
  const top = Math.min(y0, y1)
  const { width, height } = uprightSize(region, orientation)
  // its inverse: the same turn, but for a quarter turn one way and the other
  const back = turnsBack(orientation)
  const upright = uprightSize(whole, orientation)
  const at = (x: number, y: number, p: number) => {
    const [sx, sy] = turned(x, y, upright, back)
    return address(tile, p, margin + sx - region.x, margin + sy - region.y)
  }
  const line = scratch.take(n(width) * 4)
  const half = scratch.take(n(width) * 2)
  for (let p = 0; p < 3; p++)
    for (let j = 0; j < height; j++) {
      const from = at(left, top + j, p)
      const step = width > 1 ? at(left + 1, top + j, p) - from : 4
      kernels.gather_line(from, step, line, width)
      kernels.f32_to_f16(line, half, n(width))
      scratch.copy(half, address(target, p, left, top + j), width * 2)
    }
}
