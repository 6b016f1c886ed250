import { address, type Raster } from '../memory'
import type { Rect } from '../raw'
import type { PictureContext, Tile } from '../steps'

/** How many times smaller the quick picture is: one pixel for each repeat of a Bayer pattern, four for a larger one. */
export const quickFactor = (context: Pick<PictureContext, 'pattern' | 'layout'>): number =>
  context.layout === 'linear' || context.pattern.size === 2 ? 2 : 3

/** Size of the quick picture, as the sensor has it. */
export const quickSize = (size: { width: number; height: number }, factor: number) => ({
  width: Math.floor(size.width / factor),
  height: Math.floor(size.height / factor),
})

/**
 * A quick picture from a mosaic: each pixel the means of the colours in a small square. Good for a view much smaller
 * than the sensor.
 * @param margin surroundings of the tile that are left out
 * @returns the tile's part of the quick picture, its place in it, and the whole's size
 */
export function binMosaic(
  { raster, x, y, kernels, scratch }: Tile,
  context: PictureContext,
  margin: number,
  region: Rect,
): { raster: Raster; place: Rect; whole: { width: number; height: number } } {
  const factor = quickFactor(context)
  const whole = quickSize(context.sensorSize, factor)
  const px = Math.floor(region.x / factor)
  const py = Math.floor(region.y / factor)
  const place = {
    x: px,
    y: py,
    width: Math.min(Math.floor((region.x + region.width) / factor), whole.width) - px,
    height: Math.min(Math.floor((region.y + region.height) / factor), whole.height) - py,
  }
  const out = scratch.raster(place.width, place.height, 3)
  const { size, colours } = context.pattern
  const pattern = scratch.bytes(Uint8Array.from(colours))
  for (let j = 0; j < place.height; j++) {
    const sy = margin + j * factor
    if (context.layout === 'linear')
      for (let p = 0; p < 3; p++)
        kernels.bin_plane(
          address(raster, p, margin, sy),
          raster.stride,
          place.width,
          factor,
          address(out, p, 0, j),
        )
    else
      kernels.bin_line(
        address(raster, 0, margin, sy),
        raster.stride,
        place.width,
        factor,
        pattern,
        size,
        (((x + margin) % size) + size) % size,
        (((y + sy) % size) + size) % size,
        address(out, 0, 0, j),
        address(out, 1, 0, j),
        address(out, 2, 0, j),
      )
  }
  return { raster: out, place, whole }
}
