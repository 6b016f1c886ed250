import { centreAtom, finishedAtom, geometryAtom, paneAtom, zoomAtom } from '../state/atoms'
import type { Bench, Place } from '../state/types'
import { centreAround, ZOOM, zoomOf, zoomStep, type Geometry, type Pane } from './geometry'

/** A place held so that the pane stays full of picture, as far as there is any. */
function held(centre: Place, width: number, height: number, pane: Pane): Place {
  const hold = (v: number, full: number, room: number) => {
    const half = Math.min(room / 2 / full, 0.5)
    return Math.min(Math.max(v, half), 1 - half)
  }
  return { x: hold(centre.x, width, pane.width), y: hold(centre.y, height, pane.height) }
}

const sizeOf = (g: Geometry) => [g.width * g.pixel, g.height * g.pixel] as const

/** Moves a zoomed picture, as far as there is something of it to be seen. @param dx, dy CSS pixels */
export function panBy({ get, set }: Bench, dx: number, dy: number): void {
  const geometry = get(geometryAtom)
  const pane = get(paneAtom)
  if (!geometry || !pane) return
  const [width, height] = sizeOf(geometry)
  set(centreAtom, (c) => held({ x: c.x - dx / width, y: c.y - dy / height }, width, height, pane))
}

/** Zooms about a place of the pane, CSS pixels; the place stays where it is. */
export function zoomAround({ get, set }: Bench, factor: number, x: number, y: number): void {
  const geometry = get(geometryAtom)
  const pane = get(paneAtom)
  if (!geometry || !pane) return
  const from = zoomOf(geometry, get(finishedAtom), pane)
  const to = Math.min(Math.max(from * factor, ZOOM.least), ZOOM.most)
  if (to === from) return
  const [width, height] = sizeOf(geometry)
  const by = to / from
  set(centreAtom, held(centreAround(geometry, pane, by, x, y), width * by, height * by, pane))
  set(zoomAtom, to)
}

/** Zooms to the next step, about the middle. */
export function zoomBySteps(bench: Bench, up: boolean): void {
  const geometry = bench.get(geometryAtom)
  const pane = bench.get(paneAtom)
  if (!geometry || !pane) return
  const from = zoomOf(geometry, bench.get(finishedAtom), pane)
  zoomAround(bench, zoomStep(from, up) / from, pane.width / 2, pane.height / 2)
}
