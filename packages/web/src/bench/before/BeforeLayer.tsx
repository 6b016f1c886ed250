import { useAtomValue } from 'jotai'
import { cameraGeometryAtom } from '../picture/cameraGeometry'
import { placedView, placeOfWhole } from '../picture/geometry'
import { Pixels } from '../picture/Pixels'
import { geometryAtom, previewUrlAtom } from '../state/atoms'
import { viewsAtom } from '../state/looking'
import { dividerAtom, holdingAtom, referenceAtom } from './choice'
import { referenceName } from './reference'

/** What the development is compared with, over all of the picture or left of the line that divides both. */
export function BeforeLayer() {
  const showBefore = useAtomValue(holdingAtom)
  const divider = useAtomValue(dividerAtom)
  const looked = showBefore || divider !== undefined
  return looked && <Before {...{ showBefore, divider }} />
}

function Before({ showBefore, divider }: { showBefore: boolean; divider?: number }) {
  const { before } = useAtomValue(viewsAtom)
  const geometry = useAtomValue(geometryAtom)
  const cameraGeometry = useAtomValue(cameraGeometryAtom)
  const previewUrl = useAtomValue(previewUrlAtom)
  const reference = useAtomValue(referenceAtom)
  if (!geometry || !(before || reference.kind === 'camera')) return null
  return (
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
              label={reference.kind === 'untouched' ? 'The untouched picture' : 'What it is compared with'}
            />
          )}
      <p className="pointer-events-none absolute top-3 left-3 max-w-[80%] truncate bg-night/85 px-2 py-1 text-bright">
        {referenceName(reference)}
      </p>
    </div>
  )
}
