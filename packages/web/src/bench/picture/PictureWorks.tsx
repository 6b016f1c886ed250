import { useAtomValue } from 'jotai'
import { useEffect, useMemo } from 'react'
import {
  attemptAtom,
  centreAtom,
  fitAtom,
  frameAtom,
  geometryAtom,
  openingAtom,
  pictureAtom,
  plainSquareAtom,
  routesAtom,
  seenAtom,
  squaredAtom,
  zoomAtom,
} from '../state/atoms'
import { useBench, usePublished } from '../state/bench'
import {
  clippingAtom,
  comparedAtom,
  displayAtom,
  maskAtom,
  proofAtom,
  standOutAtom,
  selectionAtom,
  viewsAtom,
  waveformAtom,
} from '../state/looking'
import { zoomText } from './geometry'
import { usePicture } from './usePicture'
import { useSquared } from './useSquared'
import { useViews } from './useViews'

/** How long the place must have been at rest before it goes into the address. */
const REST_MS = 300

/** Opens the picture of the frame, and keeps what is seen of it up to date. */
export function PictureWorks() {
  return (
    <>
      <Opener />
      <Squarer />
      <ViewKeeper />
      <PlaceKeeper />
    </>
  )
}

function Opener() {
  const { id } = useAtomValue(frameAtom)
  usePublished(openingAtom, usePicture(id, useAtomValue(attemptAtom)))
  return null
}

function Squarer() {
  const picture = useAtomValue(pictureAtom)
  const plain = useAtomValue(plainSquareAtom)
  const { development, square, problem } = useSquared(picture, useAtomValue(seenAtom), plain)
  usePublished(
    squaredAtom,
    useMemo(() => ({ development, square, problem }), [development, square, problem]),
  )
  return null
}

function ViewKeeper() {
  const picture = useAtomValue(pictureAtom)
  const geometry = useAtomValue(geometryAtom)
  const fit = useAtomValue(fitAtom)
  const { development } = useAtomValue(squaredAtom)
  const before = useAtomValue(comparedAtom)
  const mask = useAtomValue(maskAtom)
  const standOut = useAtomValue(standOutAtom)
  const selection = useAtomValue(selectionAtom)
  const waveform = useAtomValue(waveformAtom)
  const clipping = useAtomValue(clippingAtom)
  const views = useViews({
    picture,
    geometry,
    fit,
    development,
    before,
    mask,
    standOut,
    selection,
    waveform,
    ...clipping,
    display: useAtomValue(displayAtom),
    ...useAtomValue(proofAtom),
  })
  usePublished(viewsAtom, views)
  return null
}

/** Keeps zoom and place in the address. */
function PlaceKeeper() {
  const { get } = useBench()
  const zoom = useAtomValue(zoomAtom)
  const { x, y } = useAtomValue(centreAtom)
  useEffect(() => {
    const at = zoom === 'fit' ? undefined : `${x.toFixed(4)},${y.toFixed(4)}`
    const timer = setTimeout(() => get(routesAtom).link({ zoom: zoomText(zoom), at }), REST_MS)
    return () => clearTimeout(timer)
  }, [get, zoom, x, y])
  return null
}
