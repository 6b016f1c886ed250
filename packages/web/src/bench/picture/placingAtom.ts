import { atom } from 'jotai'
import { geometryAtom, squareAtom } from '../state/atoms'
import { placing } from './placing'

/** Between the picture, what is shown of it, and the screen. */
export const placingAtom = atom((get) => {
  const geometry = get(geometryAtom)
  return geometry && placing(get(squareAtom), geometry)
})
