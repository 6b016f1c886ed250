import { atom } from 'jotai'
import { storedSwitch } from '../state/stored'

const onAtom = atom(false)
/** Marks what is clipped while a key is held. */
export const heldAtom = atom(false)
/** Whether a control has moved just now. */
export const movingAtom = atom(false)
/** Whether it is marked also while a control moves. */
export const whileMovingAtom = storedSwitch('clipping while moving', ['yes', 'no'], false)
/** Levels of 255 in sRGB from which on light, and down to which dark, counts as clipped. */
export const highFromAtom = atom(255)
export const lowToAtom = atom(0)

/** Whether clipped places are marked on the picture. */
export const markedAtom = atom(
  (get) => get(onAtom) || get(heldAtom) || (get(movingAtom) && get(whileMovingAtom)),
)
export const toggleAtom = atom(null, (get, set) => set(onAtom, !get(onAtom)))
