import { useAtomValue } from 'jotai'
import { placingAtom } from '../picture/placingAtom'
import type { Place } from '../state/types'

/** A way on the sensor as a line on the screen. */
export function Way({
  places,
  closed,
  dashed,
}: {
  places: readonly Place[]
  closed?: boolean
  dashed?: boolean
}) {
  const placing = useAtomValue(placingAtom)
  const points = places.flatMap((p) => placing?.toPane(p) ?? []).map(({ x, y }) => `${x},${y}`)
  const dashes = dashed ? '5 4' : undefined
  return closed ? (
    <polygon points={points.join(' ')} strokeDasharray={dashes} />
  ) : (
    <polyline points={points.join(' ')} strokeDasharray={dashes} strokeLinejoin="round" />
  )
}
