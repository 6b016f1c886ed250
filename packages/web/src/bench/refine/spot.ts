import { atom } from 'jotai'
import { storedSwitch } from '../state/stored'
import type { Place } from '../state/types'

/** The place that is seen at full size over the fitted picture. */
export const spotAtom = atom<Place>({ x: 0.5, y: 0.5 })
export const spotOpenAtom = storedSwitch('spot', ['open', 'closed'], true)
