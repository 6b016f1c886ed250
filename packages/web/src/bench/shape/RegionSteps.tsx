import { READY_STEPS, readySteps, type ReadySteps } from '@dunkelkammer/core'
import { atom, useAtomValue } from 'jotai'
import { paneAtom } from '../state/atoms'
import { placingAtom } from '../picture/placingAtom'
import { useBench } from '../state/bench'
import type { Place } from '../state/types'
import { areaAtom, changeArea } from './areas'

/** Where the last region was taken, sensor coordinates, and for which area. */
export const takenAtom = atom<{ area: string; at: Place } | undefined>(undefined)

/** Size of the list, and how far from the pointer it begins, pixels. */
const LIST = { width: 204, height: 132, beside: 18 } as const

/** What can be done in a region that was just taken: a short list at the pointer, until something is done there. */
export function RegionSteps() {
  const bench = useBench()
  const taken = useAtomValue(takenAtom)
  const area = useAtomValue(areaAtom)
  const placing = useAtomValue(placingAtom)
  const pane = useAtomValue(paneAtom)
  const at = taken && placing?.toPane(taken.at)
  if (!at || !pane || area?.id !== taken.area || Object.keys(area.steps).length > 0) return null
  const choose = (ready: ReadySteps) => {
    const name = area.name || ready.name
    changeArea(bench, area.id, { name, steps: readySteps(ready) }, `${ready.name}, in a region`)
    bench.endGesture()
    bench.set(takenAtom, undefined)
  }
  return (
    <ul
      aria-label="What to do in this region"
      className="pointer-events-auto absolute grid grid-cols-2 gap-1 border border-edge bg-panel p-1.5"
      style={{ ...beside(at, pane), width: LIST.width }}
      // what is done on the list is not done on the picture
      onPointerDown={(e) => e.stopPropagation()}
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return
        e.stopPropagation()
        bench.set(takenAtom, undefined)
      }}
    >
      {READY_STEPS.map((ready) => (
        <li key={ready.id}>
          <button className="button w-full !px-1 text-[12px]" onClick={() => choose(ready)}>
            {ready.name}
          </button>
        </li>
      ))}
    </ul>
  )
}

/** Beside the pointer, on the side where there is room. */
function beside(at: Place, pane: { width: number; height: number }): { left: number; top: number } {
  const { width, height, beside: off } = LIST
  const left = at.x + off + width < pane.width ? at.x + off : at.x - off - width
  const top = at.y + off + height < pane.height ? at.y + off : at.y - off - height
  return { left: Math.max(left, 0), top: Math.max(top, 0) }
}
