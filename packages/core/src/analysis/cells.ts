import type { CfaPattern } from '../raw'

/** Side of a cell in sensor pixels: whole repeats of the filter pattern. */
export const cellSize = (pattern: CfaPattern): number => (pattern.size === 2 ? 8 : 6)

/** Floats that the kernel writes for a cell. */
export const CELL_FLOATS = 32

/** Share of the white level from which on a sample counts as clipped: what lies above is no measure of light. */
export const CLIPPED_FROM = 0.985
