import { atom } from 'jotai'
import { UNTOUCHED, type Reference } from './reference'

/** What the development is compared with. */
export const referenceAtom = atom<Reference>(UNTOUCHED)
/** Shown in its place while held. */
export const holdingAtom = atom(false)
/** Where a line divides both, a share of the pane; missing for all of either. */
export const dividerAtom = atom<number | undefined>(undefined)
export const besideAtom = atom(false)

export const toggleDividerAtom = atom(null, (get, set) =>
  set(dividerAtom, get(dividerAtom) === undefined ? 0.5 : undefined),
)
