import { between, encodingTables, hsvBlock, romm, working, type HsvTable } from '../colour'
import { planeLength, planes, type Tile } from './step'

const OPEN = [1e6, 1e6, 1e6]
const TO_ROMM = [...between(working, romm), ...OPEN]
const FROM_ROMM = [...between(romm, working), ...OPEN]

/** A table of hue, saturation and value, ready to run. */
export interface PreparedTable {
  table: HsvTable
  block: Float32Array
  curve?: number[]
}

export const prepareTable = (table: HsvTable): PreparedTable => ({
  table,
  block: hsvBlock(table),
  curve: table.encoded ? encodingTables() : undefined,
})

/** Does something to a tile while its colours are linear ROMM RGB, the space that a file's tables speak of. */
export function inRomm(tile: Tile, act: () => void): void {
  const { raster, kernels, scratch } = tile
  const n = planeLength(raster)
  kernels.matrix3(...planes(raster), n, scratch.floats(TO_ROMM))
  act()
  kernels.matrix3(...planes(raster), n, scratch.floats(FROM_ROMM))
}

/** Looks a tile's colours up in a table; in and out of the working space. */
export function runTable(tile: Tile, { table, block, curve }: PreparedTable): void {
  const { raster, kernels, scratch } = tile
  inRomm(tile, () =>
    kernels.hsv_table(
      ...planes(raster),
      planeLength(raster),
      scratch.floats(block),
      table.hues,
      table.saturations,
      table.levels,
      curve ? scratch.floats(curve) : 0,
    ),
  )
}
