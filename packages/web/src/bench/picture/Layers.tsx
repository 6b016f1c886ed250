import { useAtomValue } from 'jotai'
import { geometryAtom, previewUrlAtom, squaredAtom, zoomAtom } from '../state/atoms'
import { viewsAtom } from '../state/looking'
import { placedView, placeOfWhole } from './geometry'
import { Pixels } from './Pixels'
import { Preview } from './Preview'

/** The picture as it is computed, over what is known of it until then. */
export function Layers() {
  const { main, whole } = useAtomValue(viewsAtom)
  const geometry = useAtomValue(geometryAtom)
  const zoom = useAtomValue(zoomAtom)
  const previewUrl = useAtomValue(previewUrlAtom)
  const { development } = useAtomValue(squaredAtom)
  if (!geometry) return null
  // what shows while something newer is on its way stands in for that
  const exact = main?.view.exact && main.development === development && main.geometry === geometry
  const under = zoom !== 'fit' ? whole : undefined
  return (
    <>
      {!main && previewUrl && (
        <Preview
          url={previewUrl}
          label="The camera’s own picture, until the development is ready"
          className="pointer-events-none absolute object-contain"
          style={placeOfWhole(geometry)}
        />
      )}
      {under && <Pixels {...placedView(under, geometry)} />}
      {main && <Pixels {...placedView(main, geometry)} label="The developed picture" exact={exact} />}
      {main?.view.highs && (
        <Pixels {...placedView(main, geometry)} rgba={main.view.highs} className="clip-highs" />
      )}
      {main?.view.lows && (
        <Pixels {...placedView(main, geometry)} rgba={main.view.lows} className="clip-lows" />
      )}
    </>
  )
}
