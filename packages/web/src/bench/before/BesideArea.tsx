import { useAtomValue } from 'jotai'
import { cameraGeometryAtom } from '../picture/cameraGeometry'
import { geometryAtom, previewUrlAtom, squareAtom, surroundAtom, zoomAtom } from '../state/atoms'
import { viewsAtom } from '../state/looking'
import { BesidePane } from './BesidePane'
import { CameraPane } from './CameraPane'
import { besideAtom, referenceAtom } from './choice'
import { referenceName } from './reference'

/** What the development is compared with, beside it. */
export function BesideArea() {
  return useAtomValue(besideAtom) && <Beside />
}

function Beside() {
  const reference = useAtomValue(referenceAtom)
  const surround = useAtomValue(surroundAtom)
  const geometry = useAtomValue(geometryAtom)
  const cameraGeometry = useAtomValue(cameraGeometryAtom)
  const { before } = useAtomValue(viewsAtom)
  const url = useAtomValue(previewUrlAtom)
  const fitted = useAtomValue(zoomAtom) === 'fit'
  const { plain } = useAtomValue(squareAtom)
  if (reference.kind !== 'camera')
    return <BesidePane name={referenceName(reference)} shown={before} {...{ geometry, surround }} />
  return url && <CameraPane {...{ url, surround }} geometry={cameraGeometry} smooth={fitted || !plain} />
}
