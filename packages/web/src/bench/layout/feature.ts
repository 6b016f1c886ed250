import { useAtomValue } from 'jotai'
import { useMemo } from 'react'
import { stripFrames } from '../../sheet/stripFrames'
import { useSheet } from '../../sheet/useSheet'
import { zoomBySteps } from '../picture/pan'
import { SURROUNDS } from '../picture/surround'
import { bareAtom, dialogAtom, frameAtom, routesAtom, surroundAtom } from '../state/atoms'
import { usePublished } from '../state/bench'
import type { Bench, Feature } from '../state/types'
import { stripAtom, stripSearchAtom } from './carried'
import { CommandPanel } from './CommandPanel'
import { anyChangedAtom, setAllBack, setStageBack, stageChangedAtom } from './setBack'
import { OPEN_STAGES } from '../state/stages'
import { foldOthers } from '../steps/sections'
import { compactAtom, drawerShownAtom, stripShownAtom } from './room'

function StripKeeper() {
  const { id, shootId } = useAtomValue(frameAtom)
  const { stacks } = useSheet(shootId)
  usePublished(
    stripAtom,
    useMemo(() => stripFrames(stacks, id), [stacks, id]),
  )
  return null
}

/** Goes so many frames on in the strip. */
function step({ get }: Bench, by: number): void {
  const { id, shootId } = get(frameAtom)
  const strip = get(stripAtom)
  const next = strip[strip.findIndex((f) => f.id === id) + by]
  if (next) get(routesAtom).go(`/shoots/${shootId}/frames/${next.id}?${get(stripSearchAtom)}`)
}

/** Stages, zoom, surround, strip, and the lists of keys and commands. */
export const layout: Feature = {
  Works: StripKeeper,
  Panel: CommandPanel,
  commands: (bench) => {
    const { get, set, zoom, chooseStage } = bench
    return [
      ...OPEN_STAGES.map((s, i) => ({
        id: `stage-${s.id}`,
        label: `Go to ${s.name}`,
        group: 'Stages' as const,
        keys: `Alt+${i + 1}`,
        run: () => chooseStage(s.id),
      })),
      {
        id: 'own-drawer',
        label: 'Go to the own drawer',
        group: 'Stages' as const,
        keys: 'Alt+0',
        run: () => get(routesAtom).link({ drawer: 'own' }),
      },
      { id: 'fit', label: 'Show the whole picture', group: 'View', keys: '0', run: () => zoom('fit') },
      {
        id: 'fill',
        label: 'Fill the room with the picture',
        group: 'View',
        keys: '9',
        run: () => zoom('fill'),
      },
      {
        id: 'larger',
        label: 'Show larger',
        group: 'View',
        keys: '+',
        also: '=',
        run: () => zoomBySteps(bench, true),
      },
      {
        id: 'smaller',
        label: 'Show smaller',
        group: 'View',
        keys: '-',
        run: () => zoomBySteps(bench, false),
      },
      { id: 'zoom1', label: 'Show at 100 %', group: 'View', keys: '1', run: () => zoom(1) },
      { id: 'zoom2', label: 'Show at 200 %', group: 'View', keys: '2', run: () => zoom(2) },
      {
        id: 'bare',
        label: 'Hide everything but the picture',
        group: 'View',
        keys: 'Q',
        run: () => set(bareAtom, !get(bareAtom)),
      },
      {
        id: 'bare-over',
        label: 'Show everything again',
        group: 'View',
        also: 'Escape',
        disabled: !get(bareAtom),
        run: () => set(bareAtom, false),
      },
      {
        id: 'drawer',
        label: 'Show or hide the drawer',
        group: 'View',
        keys: 'T',
        run: () => set(drawerShownAtom, !get(drawerShownAtom)),
      },
      {
        id: 'strip',
        label: 'Show or hide the strip',
        group: 'View',
        keys: 'S',
        run: () => set(stripShownAtom, !get(stripShownAtom)),
      },
      {
        id: 'compact',
        label: 'Compact rows in the drawer',
        group: 'View',
        keys: 'P',
        run: () => set(compactAtom, !get(compactAtom)),
      },
      {
        id: 'fold-others',
        label: 'Fold all sections but the one in use',
        group: 'View',
        keys: 'X',
        run: () => foldOthers(bench),
      },
      {
        id: 'surround',
        label: 'Next brightness of the surround',
        group: 'View',
        keys: 'U',
        run: () => {
          const at = SURROUNDS.findIndex((s) => s.id === get(surroundAtom))
          set(surroundAtom, SURROUNDS[(at + 1) % SURROUNDS.length].id)
        },
      },
      {
        id: 'stage-back',
        label: 'Reset this stage',
        group: 'Work',
        disabled: !get(stageChangedAtom),
        run: () => setStageBack(bench),
      },
      {
        id: 'all-back',
        label: 'Reset everything',
        group: 'Work',
        disabled: !get(anyChangedAtom),
        run: () => setAllBack(bench),
      },
      { id: 'next', label: 'Next frame', group: 'Work', keys: 'PageDown', run: () => step(bench, 1) },
      { id: 'previous', label: 'Previous frame', group: 'Work', keys: 'PageUp', run: () => step(bench, -1) },
      {
        id: 'palette',
        label: 'Find a command',
        group: 'Work',
        keys: 'Ctrl+K',
        run: () => set(dialogAtom, 'palette'),
      },
      { id: 'keys', label: 'List the keys', group: 'Work', keys: '?', run: () => set(dialogAtom, 'keys') },
    ]
  },
}
