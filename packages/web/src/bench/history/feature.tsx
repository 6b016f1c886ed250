import { useAtomValue, useSetAtom } from 'jotai'
import { dividerAtom, referenceAtom } from '../before/choice'
import { deskAtom, pictureAtom, standAtom, versionAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Feature } from '../state/types'
import { addVersion } from '../versions/actions'
import { HistoryPanel } from './HistoryPanel'
import { historyOpenAtom } from './open'

/** The history of the version, beside the picture. */
export function HistorySide() {
  const bench = useBench()
  const { set } = bench
  const { id } = useAtomValue(versionAtom)
  const desk = useAtomValue(deskAtom)
  const state = useAtomValue(standAtom)
  const picture = useAtomValue(pictureAtom)
  const open = useSetAtom(historyOpenAtom)
  return (
    <HistoryPanel
      key={id}
      {...{ desk, state, picture }}
      onClose={() => open(false)}
      onVersion={(place) => void addVersion(bench, 'this', place)}
      onBefore={(place, called) => {
        set(referenceAtom, { kind: 'entry', place, called })
        set(dividerAtom, (at) => at ?? 0.5)
      }}
    />
  )
}

/** What was done, taken back and done again. */
export const history: Feature = {
  commands: ({ get, set }) => [
    {
      id: 'undo',
      label: 'Undo',
      group: 'Work',
      keys: 'Ctrl+Z',
      disabled: !get(standAtom).undoes,
      run: () => get(deskAtom).undo(),
    },
    {
      id: 'redo',
      label: 'Redo',
      group: 'Work',
      keys: 'Ctrl+Shift+Z',
      also: 'Ctrl+Y',
      disabled: !get(standAtom).redoes,
      run: () => get(deskAtom).redo(),
    },
    {
      id: 'history',
      label: 'Show the history',
      group: 'View',
      keys: 'E',
      run: () => set(historyOpenAtom, !get(historyOpenAtom)),
    },
  ],
}
