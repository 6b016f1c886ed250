import { useAtomValue } from 'jotai'
import { placedView } from '../picture/geometry'
import { Pixels } from '../picture/Pixels'
import { geometryAtom } from '../state/atoms'
import { maskViewAtom } from './maskView'
import { ShapeOverlay } from './ShapeOverlay'
import { UnderPointer } from './underPointer'

/** The mask of the area in the hand over the picture, the handles of its shape, and what is looked for under the pointer. */
export function ShapeLayers() {
  const geometry = useAtomValue(geometryAtom)
  const shown = useAtomValue(maskViewAtom)
  return (
    <>
      {shown && geometry && (
        <Pixels
          {...placedView({ view: shown, geometry: shown.geometry }, geometry)}
          label="The mask of the area"
        />
      )}
      <ShapeOverlay />
      <UnderPointer />
    </>
  )
}
