import { atom, type Getter } from 'jotai'
import { addressAtom, frameAtom, pageAtom, versionAtom } from '../state/atoms'
import { sheetSearch } from '../../sheet/useSheet'

const MOST_SHOWN = 4

/** Address of the page that shows versions of this frame side by side. */
export function sideBySide(get: Getter, versions: readonly string[]): string {
  const frame = get(frameAtom)
  const to = new URLSearchParams(sheetSearch(get(addressAtom)))
  to.set('frames', versions.map((id) => `${frame.id}:${id}`).join(','))
  return `/shoots/${frame.shootId}/compare?${to.toString()}`
}

/** The same for the version on the bench and those after it. */
export const compareLinkAtom = atom((get) => {
  const { id } = get(versionAtom)
  const others = get(pageAtom).versions.flatMap((v) => (v.id === id ? [] : [v.id]))
  return sideBySide(get, [id, ...others].slice(0, MOST_SHOWN))
})
