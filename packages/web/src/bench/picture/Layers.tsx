import { useAtomValue } from 'jotai'
import { geometryAtom, previewUrlAtom, zoomAtom } from '../state/atoms'
import { viewsAtom } from '../state/looking'
import { placedView, placeOfWhole } from './geometry'
import { Pixels } from './Pixels'

/** The picture as it is computed, over what is known of it until then. */
export function Layers() {
  const { main, whole } = useAtomValue(viewsAtom)
  const geometry = useAtomValue(geometryAtom)
  const zoom = useAtomValue(zoomAtom)
  const previewUrl = useAtomValue(previewUrlAtom)
  if (!geometry) return null
  const under = zoom !== 'fit' ? whole : undefined
  return (
    <>
      {!main && previewUrl && (
        <img
          src={previewUrl}
          alt="The camera's own picture, until the development is ready"
          draggable={false}
          onError={(e) => (e.currentTarget.style.visibility = 'hidden')}
          className="pointer-events-none absolute object-contain"
          style={placeOfWhole(geometry)}
        />
      )}
      {under && <Pixels {...placedView(under, geometry)} />}
      {main && (
        <Pixels {...placedView(main, geometry)} label="The developed picture" exact={main.view.exact} />
      )}
      {main?.view.highs && (
        <Pixels {...placedView(main, geometry)} rgba={main.view.highs} className="clip-highs" />
      )}
      {main?.view.lows && (
        <Pixels {...placedView(main, geometry)} rgba={main.view.lows} className="clip-lows" />
      )}
    </>
  )
}
