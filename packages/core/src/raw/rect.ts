export interface Rect {
  x: number
  y: number
  width: number
  height: number
}

/** A rectangle that reaches farther to every side. */
export const grown = ({ x, y, width, height }: Rect, by: number): Rect => ({
  ...{ x: x - by, y: y - by },
  ...{ width: width + 2 * by, height: height + 2 * by },
})

/** What two rectangles have in common; of no width or height where that is nothing. */
export function common(a: Rect, b: Rect): Rect {
  const [x, y] = [Math.max(a.x, b.x), Math.max(a.y, b.y)]
  return {
    ...{ x, y },
    width: Math.max(Math.min(a.x + a.width, b.x + b.width) - x, 0),
    height: Math.max(Math.min(a.y + a.height, b.y + b.height) - y, 0),
  }
}
