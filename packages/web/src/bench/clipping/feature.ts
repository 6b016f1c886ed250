import { atom, useAtomValue } from 'jotai'
import { useEffect } from 'react'
import { movementsAtom } from '../state/atoms'
import { useBench, usePublished } from '../state/bench'
import { clippingAtom } from '../state/looking'
import type { Feature } from '../state/types'
import { ClippingMenu } from './ClippingMenu'
import {
  heldAtom,
  highFromAtom,
  lowToAtom,
  markedAtom,
  movingAtom,
  toggleAtom,
  whileMovingAtom,
} from './marks'

/** How long after its last movement a control counts as moving. */
const MOVING_MS = 700

const wantedAtom = atom((get) => ({
  layers: get(markedAtom),
  highFrom: get(highFromAtom),
  lowTo: get(lowToAtom),
}))
/** Counts movements, where they matter. */
const movedAtom = atom((get) => (get(whileMovingAtom) ? get(movementsAtom) : 0))

function ClippingWish() {
  const { set } = useBench()
  usePublished(clippingAtom, useAtomValue(wantedAtom))
  const moved = useAtomValue(movedAtom)
  useEffect(() => {
    if (moved === 0) return
    set(movingAtom, true)
    const timer = setTimeout(() => set(movingAtom, false), MOVING_MS)
    return () => clearTimeout(timer)
  }, [set, moved])
  return null
}

/** Marks on the picture where it is clipped. */
export const clipping: Feature = {
  Works: ClippingWish,
  Foot: ClippingMenu,
  commands: ({ set }) => [
    {
      id: 'clip-hold',
      label: 'Show what is clipped while held',
      group: 'View',
      keys: 'I',
      run: () => set(heldAtom, true),
      release: () => set(heldAtom, false),
    },
    { id: 'clip', label: 'Show what is clipped', group: 'View', keys: 'K', run: () => set(toggleAtom) },
  ],
}
