import { atom } from 'jotai'
import { storedAtom } from '../state/stored'
import type { Bench } from '../state/types'

const STATES = ['open', 'closed'] as const

const known = new Map<string, ReturnType<typeof storedAtom<(typeof STATES)[number]>>>()

/** Whether a section is open; the browser remembers it. @param folded whether it is closed until the user opens it */
export function sectionAtom(title: string, folded = false) {
  const key = `section ${title}`
  let state = known.get(key)
  if (!state) known.set(key, (state = storedAtom(key, folded ? 'closed' : 'open', STATES)))
  return state
}

/** The sections that the drawer shows, and the one that was used last. */
export const shownSectionsAtom = atom<ReadonlySet<string>>(new Set<string>())
export const usedSectionAtom = atom<string | undefined>(undefined)

/** Folds all sections of the drawer but the one in use. */
export function foldOthers({ get, set }: Bench): void {
  const shown = [...get(shownSectionsAtom)]
  const used = get(usedSectionAtom)
  const kept = used !== undefined && shown.includes(used) ? used : shown[0]
  for (const title of shown) set(sectionAtom(title), title === kept ? 'open' : 'closed')
}
