import { DUST_ROOM, type DustSpot } from '@dunkelkammer/core'
import { atom, useAtomValue } from 'jotai'
import { placingAtom } from '../picture/placingAtom'
import { TwoTone } from '../picture/TwoTone'
import { stageAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { mendDust, proposedAtom, putAside } from './dust'

const shownAtom = atom((get) => (get(stageAtom) === 'mend' ? (get(proposedAtom) ?? []) : []))

/** Least half side of a mark, pixels of the screen. */
const LEAST = 9

/** Where dust was found. */
export function DustOverlay() {
  const shown = useAtomValue(shownAtom)
  return shown.map((spot, i) => <Mark key={`${spot.x} ${spot.y}`} spot={spot} index={i} />)
}

function Mark({ spot, index }: { spot: DustSpot; index: number }) {
  const bench = useBench()
  const placing = useAtomValue(placingAtom)
  const at = placing?.toPane(spot)
  const edge = placing?.toPane({ x: spot.x + spot.radius, y: spot.y })
  if (!at || !edge) return null
  const r = Math.max(Math.hypot(edge.x - at.x, edge.y - at.y) * DUST_ROOM, LEAST)
  return (
    <>
      <TwoTone>
        <path
          d={[-1, 1]
            .flatMap((u) =>
              [-1, 1].map(
                (v) => `M${at.x + u * r},${at.y + v * r * 0.4}V${at.y + v * r}H${at.x + u * r * 0.4}`,
              ),
            )
            .join('')}
        />
      </TwoTone>
      <button
        aria-label={`Dust ${index + 1}: mend it; Delete puts it aside`}
        className="pointer-events-auto absolute -translate-x-1/2 -translate-y-1/2"
        style={{ left: at.x, top: at.y, width: 2 * r, height: 2 * r }}
        onPointerDown={(e) => e.stopPropagation()}
        onClick={() => void mendDust(bench, [spot])}
        onKeyDown={(event) => {
          if (event.key !== 'Delete' && event.key !== 'Backspace') return
          event.preventDefault()
          event.stopPropagation()
          putAside(bench, spot)
        }}
      />
    </>
  )
}
