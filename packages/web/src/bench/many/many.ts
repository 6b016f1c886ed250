import { atom } from 'jotai'
import { manyOf, workOnMany, type Many } from '../../sheet/many'
import { frameAtom } from '../state/atoms'

const changedAtom = atom(0)

/** The frames that are worked on together, this one among them; nothing where it is worked on alone. */
export const manyAtom = atom(
  (get): Many | undefined => {
    get(changedAtom)
    const { id, shootId } = get(frameAtom)
    const many = manyOf(shootId)
    return many?.ids.includes(id) ? many : undefined
  },
  (get, set, many: Many | undefined) => {
    workOnMany(get(frameAtom).shootId, many)
    set(changedAtom, (n) => n + 1)
  },
)

/** The others, to which changes go. */
export const othersAtom = atom((get) => {
  const { id } = get(frameAtom)
  return get(manyAtom)?.ids.filter((other) => other !== id) ?? []
})

/** What was given to the others last, or why it could not be. */
export const givenAtom = atom<{ said: string; problem?: boolean } | undefined>(undefined)
