import { oklabBlock, working } from '../colour'
import { identity } from '../math'
import { planeLength, planes, type Tile } from './step'

const LAB = oklabBlock(working, working, identity)

/** Brings a picture's planes to what a step wants them to hold. */
export function bringTo(tile: Tile, colours: Tile['colours']): void {
  if (tile.colours === colours) return
  const { raster, kernels, scratch } = tile
  const mark = scratch.mark()
  const convert = colours === 'oklab' ? kernels.to_oklab : kernels.from_oklab
  convert(...planes(raster), planeLength(raster), scratch.floats(LAB))
  scratch.release(mark)
  tile.colours = colours
}
