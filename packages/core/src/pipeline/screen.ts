import { COUNT_PARTS } from '../analysis/histogram'

/** Columns of pixels of a view that are counted together, and shown again together. */
export const SCREEN_CELL = 128
/** Integers that a cell's counts take: of levels as in a histogram's line, and of clipped channels. */
export const SCREEN_COUNTS = 4 * COUNT_PARTS + 6
