import { between, srgb, working } from '../../colour'
import { decode, encode } from '../../output/target'
import { bringTo } from '../colours'
import { planeLength, planes, type Surveyed, type Tile } from '../step'

const OPEN = [1e6, 1e6, 1e6]
const TO_SRGB = [...between(working, srgb), ...OPEN]
const FROM_SRGB = [...between(srgb, working), ...OPEN]
const ENTRIES = 4097

/** sRGB's curve over the square root of light, and its inverse over the encoded value. */
const ENCODE = Float32Array.from({ length: ENTRIES }, (_, i) => encode(srgb.curve, (i / (ENTRIES - 1)) ** 2))
const DECODE = Float32Array.from({ length: ENTRIES }, (_, i) => decode(srgb.curve, i / (ENTRIES - 1)))

/**
 * Looks colours up in a table of encoded sRGB, as .cube files hold them. What of a colour lies outside sRGB is
 * carried past the table, so that wide colours do not run into its walls.
 */
export function runTable(tile: Tile, { at, width: size }: Surveyed): void {
  const { raster, kernels, scratch } = tile
  bringTo(tile, 'rgb')
  const mark = scratch.mark()
  const n = planeLength(raster)
  const all = planes(raster)
  kernels.matrix3(...all, n, scratch.floats(TO_SRGB))
  const rest = scratch.raster(raster.width, raster.height, 3)
  scratch.copy(raster.offset, rest.offset, n * 12)
  const encoded = scratch.floats(ENCODE)
  const decoded = scratch.floats(DECODE)
  kernels.hold_unit(raster.offset, n * 3)
  kernels.subtract(rest.offset, raster.offset, rest.offset, n * 3)
  for (const p of all) kernels.channel_curve(p, n, encoded, ENTRIES, 1)
  kernels.colour_table(...all, n, at, size, 0)
  for (const p of all) kernels.channel_curve(p, n, decoded, ENTRIES, 0)
  kernels.sum(raster.offset, rest.offset, raster.offset, n * 3)
  kernels.matrix3(...all, n, scratch.floats(FROM_SRGB))
  scratch.release(mark)
}
