import { atom } from 'jotai'
import { storedAtom } from '../state/stored'

export const SIDES = ['strip', 'history', 'presets'] as const
export type Side = (typeof SIDES)[number]

/** What lies beside the picture at the right. */
export const sideAtom = storedAtom<Side>('side', 'strip', SIDES)

/** Whether something lies there in place of the strip. */
export const sideOpenAtom = (side: Side) =>
  atom(
    (get) => get(sideAtom) === side,
    (_, set, open: boolean) => set(sideAtom, open ? side : 'strip'),
  )
