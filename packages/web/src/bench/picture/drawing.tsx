import { atom, useAtomValue, useSetAtom } from 'jotai'
import { useEffect } from 'react'
import type { Bench, Hold, Place } from '../state/types'
import { placingAtom } from './placingAtom'
import { underAtom } from './Ring'
import { onSensor } from './touch'
import { TwoTone } from './TwoTone'

/** Places of what is being drawn, sensor coordinates. */
export const drawingAtom = atom<readonly Place[]>([])
/** Pixels of the screen from which on a press is a way, and within which a corner is met. */
const NEAR = 8

/** Whether two places are shown as one. */
function meet({ get }: Bench, a: Place, b: Place): boolean {
  const placing = get(placingAtom)
  const [p, q] = [placing?.toPane(a), placing?.toPane(b)]
  return !!p && !!q && Math.hypot(p.x - q.x, p.y - q.y) <= NEAR
}

/**
 * A click sets a corner, a pull draws on freely; the first corner, or the last one again, closes it.
 * @param done with the corners of what was closed, sensor coordinates
 */
export function outline(bench: Bench, at: Place, done: (corners: readonly Place[]) => void): Hold {
  const finish = (corners: readonly Place[]) => {
    bench.set(drawingAtom, [])
    if (corners.length > 2) done(corners)
  }
  const before = bench.get(drawingAtom)
  const start = onSensor(bench, at)
  const first = before.at(0)
  let free: Place[] | undefined
  return {
    move(to, by) {
      if (!free && Math.hypot(by.right, by.up) < NEAR) return
      free ??= [...before, start]
      free.push(onSensor(bench, to))
      bench.set(drawingAtom, [...free])
    },
    end() {
      // what is drawn freely from the first corner on closes where it is let go
      if (free && before.length === 0) finish(free)
      else if (free) bench.set(drawingAtom, free)
      else if (first && (meet(bench, start, first) || meet(bench, start, before.at(-1)!))) finish(before)
      else bench.set(drawingAtom, [...before, start])
    },
    cancel: () => bench.set(drawingAtom, before),
  }
}

/** What is being drawn, and what would be by a click. */
export function Drawing({ closes }: { closes?: boolean }) {
  const placing = useAtomValue(placingAtom)
  const places = useAtomValue(drawingAtom)
  const under = useAtomValue(underAtom)
  const draw = useSetAtom(drawingAtom)
  // what is begun is put away with the tool
  useEffect(() => () => draw([]), [draw])
  if (places.length === 0) return null
  const all = closes && under ? [...places, under] : places
  const points = all.flatMap((p) => placing?.toPane(p) ?? [])
  const way = points.map(({ x, y }) => `${x},${y}`).join(' ')
  return (
    <TwoTone>
      <polyline points={way} strokeLinejoin="round" />
      {closes && points[0] && <circle cx={points[0].x} cy={points[0].y} r={NEAR / 2} />}
    </TwoTone>
  )
}
