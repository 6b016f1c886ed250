import { squareAtom } from '../state/atoms'
import type { Bench } from '../state/types'

/** Shows a place of the sensor at 100 %, where the frame shows it at all. */
export function showPlace({ get, zoom }: Bench, { x, y }: { x: number; y: number }): void {
  const square = get(squareAtom)
  const long = Math.max(square.size.width, square.size.height)
  const at = square.toFrame(x * long, y * long)
  if (at) zoom(1, { x: at[0] / square.width, y: at[1] / square.height })
}
