import { atom } from 'jotai'
import { geometryAtom, paneAtom, sizeAtom, squareAtom } from '../state/atoms'
import { layOutView } from './geometry'

/** Where the camera's own picture lies: it shows all of the sensor, whatever frame is set. */
export const cameraGeometryAtom = atom((get) => {
  const pane = get(paneAtom)
  if (get(squareAtom).plain || !pane) return get(geometryAtom)
  return layOutView(get(sizeAtom), pane, 'fit', { x: 0.5, y: 0.5 })
})
