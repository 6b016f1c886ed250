import type { Development, OutputTable, SpaceId } from '@dunkelkammer/core'
import type { View } from '@dunkelkammer/engine/browser'
import { atom } from 'jotai'
import type { Views } from '../picture/useViews'
import { developmentAtom, stageAtom, toolAtom } from './atoms'
import type { Place } from './types'

/** In place of the picture: where this step acts. */
export const maskAtom = atom<'sharpen' | 'unsharp' | undefined>(undefined)
/** Whether small differences stand out, and how much: while mending alone. */
export const standsOutAtom = atom(false)
export const standOutGainAtom = atom(12)
export const standOutAtom = atom((get) =>
  get(standsOutAtom) && get(stageAtom) === 'mend' ? get(standOutGainAtom) : undefined,
)
/** Everything without colour that this hue node does not select. */
export const selectionAtom = atom<number | undefined>(undefined)
/** Whether a waveform is counted with every view. */
export const waveformAtom = atom(false)
/** Whether layers of what is clipped are made, and from which levels on. */
export const clippingAtom = atom<{ layers: boolean; highFrom: number; lowTo: number }>({
  layers: false,
  highFrom: 255,
  lowTo: 0,
})
/** What the development is compared with, while that is looked at. */
export const comparedAtom = atom<Development | undefined>(undefined)
/** Whether places under the pointer are read. */
export const readingWantedAtom = atom(false)
/** Whether areas under the pointer are looked for: where no tool works on it. */
export const areaWantedAtom = atom(
  (get) =>
    get(stageAtom) === 'shape' &&
    get(toolAtom) === undefined &&
    get(developmentAtom).steps.areas.areas.length > 0,
)
/** Whether the place under the pointer is asked for. */
export const hoverWantedAtom = atom((get) => get(readingWantedAtom) || get(areaWantedAtom))
/** The place under the pointer, while it is asked for. */
export const pointerAtom = atom<Place | undefined>(undefined)

/** The computed views. */
export const viewsAtom = atom<Views>({})
/** The whole picture, as it was computed last. */
export const wholeViewAtom = atom((get) => {
  const { main, whole } = get(viewsAtom)
  return (whole ?? main)?.view
})
/** What histogram and waveform are drawn from: not every picture of a moving hand. */
export const countedViewAtom = atom<View | undefined>(undefined)

/** The space that the picture is shown in: the display's wide one where it has it. */
export const displayAtom = atom<SpaceId>('srgb')
displayAtom.onMount = (set) => {
  const wide = globalThis.matchMedia?.('(color-gamut: p3)')
  if (!wide) return
  const tell = () => set(wide.matches ? 'display-p3' : 'srgb')
  tell()
  wide.addEventListener('change', tell)
  return () => wide.removeEventListener('change', tell)
}
/** How another device is shown in it, while that is wanted. */
export const proofAtom = atom<{ proof: OutputTable; stripes: boolean } | undefined>(undefined)
