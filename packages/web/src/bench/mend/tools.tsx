import type { Development, Patch } from '@dunkelkammer/core'
import { useAtomValue } from 'jotai'
import { onSensor, sayProblem } from '../picture/touch'
import { hoverOver, RingUnderPointer } from '../picture/Ring'
import { developmentAtom } from '../state/atoms'
import type { Bench, Hold, Place, ToolKind } from '../state/types'
import { fillPatch } from './fill'
import { addPatch, besides, changePatch, holdRadius, mannerAtom, newPatch, suggestionsFor } from './patches'

/** The spot or the tip of a stroke that a press would make. */
export function TipUnderPointer() {
  const { radius } = useAtomValue(mannerAtom)
  return <RingUnderPointer radius={radius} />
}

/** Makes the next patch larger or smaller. */
export const sizeTip = ({ set }: Bench, factor: number) =>
  set(mannerAtom, (m) => ({ ...m, radius: holdRadius(m.radius * factor) }))

/** Pixels of the screen from which on a pull says where the source is. */
const PULL = 8

/** A press mends; a pull from there on says by hand where the source is. Either way it is one step. */
function mend(bench: Bench, at: Place): Hold {
  const since = bench.get(developmentAtom)
  const patch = newPatch(bench, onSensor(bench, at))
  let there = false
  let pulled = false
  let gone = false
  if (patch.kind === 'fill') return fillSpot(bench, patch, since)
  const put = (source: readonly [number, number]) => {
    const part = { source: [...source] as [number, number] }
    if (there) changePatch(bench, patch.id, part, 'Patch added', patch.id)
    else addPatch(bench, { ...patch, ...part }, 'Patch added', patch.id)
    there = true
  }
  suggestionsFor(bench, patch).then(
    (all) => {
      if (pulled || gone) return
      put(all[0] ?? besides(patch))
      if (all.length === 0) bench.say('Nothing around fits this patch. Drag its source to a place by hand.')
    },
    (error: unknown) => {
      if (!gone) sayProblem(bench)(error)
    },
  )
  return {
    move(to, by) {
      if (!pulled && Math.hypot(by.right, by.up) < PULL) return
      pulled = true
      const { x, y } = onSensor(bench, to)
      put([x - patch.x, y - patch.y])
    },
    end() {
      if (pulled) bench.endGesture()
    },
    cancel() {
      gone = true
      if (there) bench.dropGesture(since)
    },
  }
}

/** A fill needs no source. */
function fillSpot(bench: Bench, patch: Patch, since: Development): Hold {
  addPatch(bench, patch, 'Patch added', patch.id)
  return {
    move: () => undefined,
    end: () => void fillPatch(bench, patch.id, 'Patch added', patch.id),
    cancel: () => bench.dropGesture(since),
  }
}

export const MEND_SPOT: ToolKind = {
  id: 'spot',
  label: 'Picture: click a spot to mend it; pull from it to choose its source',
  stage: 'mend',
  Overlay: TipUnderPointer,
  size: sizeTip,
  begin: (bench) => ({
    grasp: (at) => mend(bench, at),
    hover: hoverOver(bench),
  }),
}
