import { useAtomValue } from 'jotai'
import { placingAtom } from '../picture/placingAtom'
import { TwoTone } from '../picture/TwoTone'
import { developmentAtom, pictureAtom, squareAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { GuideLines } from './GuideLines'
import { markedAtom } from './squaring'

/** The lines drawn on the picture that say how it stands. */
export function GuideOverlay() {
  const { adjust, endGesture } = useBench()
  const place = useAtomValue(placingAtom)
  const square = useAtomValue(squareAtom)
  const picture = useAtomValue(pictureAtom)
  const development = useAtomValue(developmentAtom)
  return place && <GuideLines {...{ square, picture, development, place, adjust, endGesture }} />
}

/** Edges that were marked as straight. */
export function MarkedOverlay() {
  const place = useAtomValue(placingAtom)
  const marked = useAtomValue(markedAtom)
  const { size } = useAtomValue(squareAtom)
  const long = Math.max(size.width, size.height)
  if (!place) return null
  return (
    <TwoTone>
      {marked.map((line, i) => {
        const points = line.map(([x, y]) => place.toPane({ x: x / long, y: y / long }))
        return <polyline key={i} points={points.flatMap((p) => (p ? [`${p.x},${p.y}`] : [])).join(' ')} />
      })}
    </TwoTone>
  )
}
