import type { Frame } from '@dunkelkammer/contract'
import { atom } from 'jotai'
import { sheetSearch } from '../../sheet/useSheet'
import { zoomText } from '../picture/geometry'
import { addressAtom, centreAtom, ownDrawerAtom, stageAtom, zoomAtom } from '../state/atoms'

/** What of the sheet's filters is carried along. */
export const carriedAtom = atom((get) => sheetSearch(get(addressAtom)))
/** Query of the links to other frames. */
export const stripSearchAtom = atom((get) => {
  const out = new URLSearchParams(get(carriedAtom))
  out.set('stage', get(stageAtom))
  if (get(ownDrawerAtom)) out.set('drawer', 'own')
  // the same place is compared from frame to frame
  const zoom = zoomText(get(zoomAtom))
  const { x, y } = get(centreAtom)
  if (zoom) {
    out.set('zoom', zoom)
    out.set('at', `${x.toFixed(4)},${y.toFixed(4)}`)
  }
  return out.toString()
})

/** The frames of the sheet, narrowed down and in the same order. */
export const stripAtom = atom<readonly Frame[]>([])
