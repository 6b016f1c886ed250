import { centreAtom, geometryAtom, paneAtom } from '../state/atoms'
import type { Bench } from '../state/types'

/** Moves a zoomed picture, as far as there is something of it to be seen. @param dx, dy CSS pixels */
export function panBy({ get, set }: Bench, dx: number, dy: number): void {
  const geometry = get(geometryAtom)
  const pane = get(paneAtom)
  if (!geometry || !pane) return
  const hold = (v: number, full: number, room: number) => {
    const half = Math.min(room / 2 / (full * geometry.pixel), 0.5)
    return Math.min(Math.max(v, half), 1 - half)
  }
  set(centreAtom, (c) => ({
    x: hold(c.x - dx / (geometry.width * geometry.pixel), geometry.width, pane.width),
    y: hold(c.y - dy / (geometry.height * geometry.pixel), geometry.height, pane.height),
  }))
}
