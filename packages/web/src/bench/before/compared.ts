import { untouchedOf, withFrameOf, type Development } from '@dunkelkammer/core'
import { atom, useAtomValue } from 'jotai'
import { selectAtom } from 'jotai/utils'
import { useEffect } from 'react'
import { deskAtom, pageAtom, previewUrlAtom, squaredAtom, standAtom, versionAtom } from '../state/atoms'
import { useBench, usePublished } from '../state/bench'
import { comparedAtom } from '../state/looking'
import { besideAtom, dividerAtom, holdingAtom, referenceAtom } from './choice'
import { referenceKey, UNTOUCHED, type Reference } from './reference'

/** Whether the settings of what it is compared with are wanted. */
const wantedAtom = atom(
  (get) =>
    get(holdingAtom) ||
    get(dividerAtom) !== undefined ||
    (get(besideAtom) && get(referenceAtom).kind !== 'camera'),
)

/** All that the development can be compared with. */
export const referencesAtom = atom((get): readonly Reference[] => {
  // names and entries come with every state of the desk
  get(standAtom)
  const now = get(referenceAtom)
  const all: Reference[] = [
    UNTOUCHED,
    ...(get(previewUrlAtom) ? [{ kind: 'camera' } as const] : []),
    ...get(pageAtom)
      .versions.filter((v) => v.id !== get(versionAtom).id)
      .map((v) => ({ kind: 'version', id: v.id, called: v.name }) as const),
    ...get(deskAtom)
      .entries()
      .filter((e) => e.name !== undefined)
      .map((e) => ({ kind: 'entry', place: e.id, called: e.name! }) as const),
  ]
  return all.some((r) => referenceKey(r) === referenceKey(now)) ? all : [...all, now]
})

/** Settings of the entry that is compared with, once they are known. */
const entryAtom = atom<{ of: Reference; development: Development } | undefined>(undefined)

/** The settings that are compared with; missing while they are not known, or where the camera's picture is meant. */
const otherAtom = atom((get) => {
  const reference = get(referenceAtom)
  if (reference.kind === 'version')
    return get(pageAtom).versions.find((v) => v.id === reference.id)?.development
  const entry = get(entryAtom)
  return entry?.of === reference ? entry.development : undefined
})

const foundAtom = atom((get) => {
  if (!get(wantedAtom)) return undefined
  const { development } = get(squaredAtom)
  if (get(referenceAtom).kind === 'untouched') return untouchedOf(development)
  const other = get(otherAtom)
  return other && withFrameOf(other, development)
})

/** The same, another one only where it differs: a control that moves does not make the other picture anew. */
const settledAtom = selectAtom(
  foundAtom,
  (d) => d,
  (a, b) => JSON.stringify(a) === JSON.stringify(b),
)

/** Finds the settings that the development is compared with, while anybody looks. */
export function Comparer() {
  const { set } = useBench()
  const wanted = useAtomValue(wantedAtom)
  const reference = useAtomValue(referenceAtom)
  const desk = useAtomValue(deskAtom)
  useEffect(() => {
    if (!wanted || reference.kind !== 'entry') return
    let here = true
    desk.developmentAt(reference.place).then(
      (development) => here && set(entryAtom, { of: reference, development }),
      // the picture stays as it is
      () => undefined,
    )
    return () => {
      here = false
    }
  }, [set, wanted, reference, desk])
  usePublished(comparedAtom, useAtomValue(settledAtom))
  return null
}
