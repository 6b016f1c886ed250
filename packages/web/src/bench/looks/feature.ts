import { looksOpenAtom } from '../state/atoms'
import type { Feature } from '../state/types'
import { LooksBrowser } from './LooksBrowser'
import { LookFitter } from './own'

/** Ready sets of colours, tried on the picture. */
export const looks: Feature = {
  Panel: LooksBrowser,
  Works: LookFitter,
  commands: ({ set, chooseStage }) => [
    {
      id: 'looks',
      label: 'Choose a look',
      group: 'Balance',
      keys: 'L',
      run: () => {
        chooseStage('balance')
        set(looksOpenAtom, true)
      },
    },
  ],
}
