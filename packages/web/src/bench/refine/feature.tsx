import { atom, useAtomValue } from 'jotai'
import { useEffect } from 'react'
import { dialogAtom, pictureAtom, stageAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { maskAtom } from '../state/looking'
import { keep } from '../state/keep'
import type { Feature } from '../state/types'
import { spotAtom } from './spot'
import { softnessAtom } from './findings'
import { RefineDrawer } from './RefineDrawer'
import { SpotButton, SpotOverlay } from './SpotOverlay'
import { VariantsPanel } from './VariantsPanel'

const refiningAtom = atom((get) => get(stageAtom) === 'refine')

/** Forgets what is said of one picture, and what is looked at in one stage, when another comes. */
function Forgetter() {
  const { set } = useBench()
  const picture = useAtomValue(pictureAtom)
  const refining = useAtomValue(refiningAtom)
  useEffect(() => set(softnessAtom, undefined), [set, picture])
  useEffect(() => {
    if (!refining) set(maskAtom, undefined)
  }, [set, refining])
  return null
}

/** Noise, sharpness, relief, haze and enlargement. */
export const refine: Feature = {
  drawer: { stage: 'refine', Sections: RefineDrawer },
  Overlay: SpotOverlay,
  Foot: SpotButton,
  Panel: VariantsPanel,
  Works: Forgetter,
  keeps: [keep(spotAtom)],
  commands: ({ get, set }) => [
    {
      id: 'variants',
      label: 'Compare variants of noise, sharpness or enlargement',
      group: 'Refine',
      keys: 'V',
      disabled: !get(pictureAtom),
      run: () => set(dialogAtom, 'variants'),
    },
  ],
}
