/** A place in a picture or on the sensor. */
export interface Place {
  x: number
  y: number
  /** Of the pen that drew a way through here, 0..1; full where missing. */
  pressure?: number
}

/** The box around places. */
export function boundsOf(places: readonly Place[]): { x: number; y: number; width: number; height: number } {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity]
  for (const { x, y } of places) {
    left = Math.min(left, x)
    top = Math.min(top, y)
    right = Math.max(right, x)
    bottom = Math.max(bottom, y)
  }
  return { x: left, y: top, width: right - left, height: bottom - top }
}
