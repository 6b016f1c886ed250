import { atom, useAtomValue } from 'jotai'
import { useEffect } from 'react'
import { developmentAtom, pictureAtom, routesAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Feature } from '../state/types'
import { GridOverlay } from './LineGrid'
import { gridAtom } from './settings'
import { SquareDrawer } from './SquareDrawer'
import { findingAtom, forgetFindings, profilesAtom } from './squaring'
import { HORIZON, SET_FRAME } from './tools'

/** What the finding hangs on. */
const askedAtom = atom((get) => {
  const { choice, profile, straighten } = get(developmentAtom).steps.lens
  return JSON.stringify([choice, profile, straighten, get(profilesAtom)])
})

/** Keeps what is known of the lens up to date. */
function LensFinder() {
  const bench = useBench()
  const picture = useAtomValue(pictureAtom)
  const asked = useAtomValue(askedAtom)
  useEffect(() => forgetFindings(bench), [bench, picture])
  useEffect(() => {
    if (!picture) return
    let here = true
    picture.lens({ ...bench.get(developmentAtom), off: [] }).then(
      (found) => here && bench.set(findingAtom, found),
      () => here && bench.set(findingAtom, undefined),
    )
    return () => {
      here = false
    }
  }, [bench, picture, asked])
  return null
}

/** Lens, level, perspective and frame. */
export const square: Feature = {
  drawer: { stage: 'square-up', Sections: SquareDrawer },
  Overlay: GridOverlay,
  Works: LensFinder,
  commands: ({ get, set, toggleTool }) => [
    {
      id: 'frame',
      label: 'Crop on the picture',
      group: 'Square up',
      keys: 'M',
      run: () => toggleTool(SET_FRAME),
    },
    {
      id: 'horizon',
      label: 'Level along a line',
      group: 'Square up',
      keys: 'W',
      disabled: !get(pictureAtom),
      run: () => toggleTool(HORIZON),
    },
    {
      id: 'grid',
      label: 'Grid over the picture',
      group: 'Square up',
      keys: 'G',
      run: () => {
        get(routesAtom).link({ stage: 'square-up' })
        set(gridAtom, !get(gridAtom))
      },
    },
  ],
}
