import { atom, useAtomValue } from 'jotai'
import type { Bench, Place } from '../state/types'
import { placingAtom } from './placingAtom'
import { onSensor } from './touch'
import { TwoTone } from './TwoTone'

/** The place under the pointer in sensor coordinates, while a tool that asks for it is over the picture. */
export const underAtom = atom<Place | undefined>(undefined)

export const hoverOver = (bench: Bench) => (at: Place | undefined) =>
  bench.set(underAtom, at && onSensor(bench, at))

/** A circle of the sensor on the screen. */
export function Ring({ x, y, radius, dashed }: Place & { radius: number; dashed?: boolean }) {
  const placing = useAtomValue(placingAtom)
  const at = placing?.toPane({ x, y })
  const edge = placing?.toPane({ x: x + radius, y })
  if (!at || !edge) return null
  const r = Math.max(Math.hypot(edge.x - at.x, edge.y - at.y), 2)
  return <circle cx={at.x} cy={at.y} r={r} strokeDasharray={dashed ? '4 3' : undefined} />
}

/** What a press at the pointer would cover. @param core radius of what it covers in full, if that is to be seen */
export function RingUnderPointer({ radius, core }: { radius: number; core?: number }) {
  const under = useAtomValue(underAtom)
  return under ? (
    <TwoTone>
      <Ring {...under} radius={radius} />
      {core !== undefined && core > 0 && core < radius && <Ring {...under} radius={core} dashed />}
    </TwoTone>
  ) : null
}
