import { useAtomValue } from 'jotai'
import { referenceName } from '../before/reference'
import { dividerAtom, holdingAtom, referenceAtom } from '../before/choice'
import { geometryAtom, previewUrlAtom, zoomAtom } from '../state/atoms'
import { viewsAtom } from '../state/looking'
import { cameraGeometryAtom } from './cameraGeometry'
import { placedView, placeOfWhole } from './geometry'
import { Pixels } from './Pixels'

/** The picture as it is computed, over what is known of it until then, and under what it is compared with. */
export function Layers() {
  const { main, whole, before } = useAtomValue(viewsAtom)
  const geometry = useAtomValue(geometryAtom)
  const zoom = useAtomValue(zoomAtom)
  const previewUrl = useAtomValue(previewUrlAtom)
  const cameraGeometry = useAtomValue(cameraGeometryAtom)
  const showBefore = useAtomValue(holdingAtom)
  const divider = useAtomValue(dividerAtom)
  const reference = useAtomValue(referenceAtom)
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
      {(showBefore || divider !== undefined) && (before || reference.kind === 'camera') && (
        <div
          className="pointer-events-none absolute inset-0"
          style={
            !showBefore && divider !== undefined
              ? { clipPath: `inset(0 ${((1 - divider) * 100).toFixed(3)}% 0 0)` }
              : undefined
          }
        >
          {reference.kind === 'camera'
            ? previewUrl &&
              cameraGeometry && (
                <img
                  src={previewUrl}
                  alt="As the camera developed it"
                  draggable={false}
                  className="absolute max-w-none"
                  style={placeOfWhole(cameraGeometry)}
                />
              )
            : before && (
                <Pixels
                  {...placedView(before, geometry)}
                  label={
                    reference.kind === 'untouched' ? 'The untouched picture' : 'What it is compared with'
                  }
                />
              )}
          <p className="pointer-events-none absolute top-3 left-3 max-w-[80%] truncate bg-night/85 px-2 py-1 text-bright">
            {referenceName(reference)}
          </p>
        </div>
      )}
    </>
  )
}
