import type { Rect, Square } from '@dunkelkammer/core'

/** The part of the upright picture around a place of the frame, in its pixels. */
export function around(square: Square, x: number, y: number, radius: number): Rect | undefined {
  const at = square.toSource(x, y)
  // room for the kernel of the resampling, and for what a lens or perspective draws apart
  const r = Math.ceil(radius) * 3 + 16
  return at && { x: Math.floor(at[0]) - r, y: Math.floor(at[1]) - r, width: 2 * r, height: 2 * r }
}
