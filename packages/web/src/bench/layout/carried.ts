import type { Frame } from '@dunkelkammer/contract'
import { atom } from 'jotai'
import { sheetSearch } from '../../sheet/useSheet'
import { addressAtom, stageAtom } from '../state/atoms'

/** What of the sheet's filters is carried along. */
export const carriedAtom = atom((get) => sheetSearch(get(addressAtom)))
/** Query of the links to other frames. */
export const stripSearchAtom = atom((get) => {
  const out = new URLSearchParams(get(carriedAtom))
  out.set('stage', get(stageAtom))
  return out.toString()
})

/** The frames of the sheet, narrowed down and in the same order. */
export const stripAtom = atom<readonly Frame[]>([])
