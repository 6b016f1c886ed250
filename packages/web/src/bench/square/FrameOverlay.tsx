import { useAtomValue } from 'jotai'
import { surroundColour } from '../picture/surround'
import { developmentAtom, framedAtom, geometryAtom, squareAtom, surroundAtom } from '../state/atoms'
import { useState } from 'react'
import { useBench } from '../state/bench'
import { withStep } from '../steps/withStep'
import { CropFrame } from './CropFrame'
import { guidesAtom, outsideAtom } from './settings'

/** The frame on the picture, while it is set. */
export function FrameOverlay() {
  const { get, adjust, endGesture, take } = useBench()
  // as it was when the frame was taken in hand
  const [before] = useState(() => get(developmentAtom))
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
      onEscape={() => {
        const { crop, level } = before.steps
        const now = get(developmentAtom).steps
        if (now.crop !== crop || now.level !== level)
          adjust((d) => withStep(withStep(d, 'crop', crop), 'level', level), 'Crop unchanged')
        take(undefined)
      }}
    />
  )
}
