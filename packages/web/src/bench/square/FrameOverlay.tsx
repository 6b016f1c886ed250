import { useAtomValue } from 'jotai'
import { surroundColour } from '../picture/surround'
import { developmentAtom, framedAtom, geometryAtom, squareAtom, surroundAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { CropFrame } from './CropFrame'
import { guidesAtom, outsideAtom } from './settings'

/** The frame on the picture, while it is set. */
export function FrameOverlay() {
  const { adjust, endGesture, take } = useBench()
  const geometry = useAtomValue(geometryAtom)
  const whole = useAtomValue(squareAtom)
  const frame = useAtomValue(framedAtom)
  const development = useAtomValue(developmentAtom)
  const guides = useAtomValue(guidesAtom)
  const outside = useAtomValue(outsideAtom)
  const surround = surroundColour(useAtomValue(surroundAtom))
  if (!geometry) return null
  return (
    <CropFrame
      {...{ geometry, whole, frame, development, guides, outside, surround, adjust, endGesture }}
      onDone={() => take(undefined)}
    />
  )
}
