import { useAtomValue } from 'jotai'
import type { Place } from '../state/types'
import { placingAtom } from './placingAtom'

/** Numbers at places of the sensor, seen on anything. */
export function Numbered({ places, round }: { places: readonly Place[]; round?: boolean }) {
  const placing = useAtomValue(placingAtom)
  return places.map((place, i) => {
    const at = placing?.toPane(place)
    return (
      at && (
        <span
          key={i}
          aria-hidden
          className={`absolute flex h-4 min-w-4 -translate-x-1/2 -translate-y-1/2 items-center justify-center border border-white bg-black/75 px-0.5 text-[10px] leading-none text-white outline outline-black ${round ? 'rounded-full' : ''}`}
          style={{ left: at.x, top: at.y }}
        >
          {i + 1}
        </span>
      )
    )
  })
}
