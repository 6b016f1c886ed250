import type { LogPlace } from '@dunkelkammer/core'
import { atom } from 'jotai'
import { api, sentence } from '../../api/client'
import { queryClient } from '../../api/queries'
import { deskAtom, pageAtom, routesAtom, versionAtom } from '../state/atoms'
import type { Bench } from '../state/types'
import { sideBySide } from './sideBySide'

/** What could not be done with a version. */
export const versionProblemAtom = atom<string | undefined>(undefined)

const reload = ({ get }: Bench) => queryClient.refetchQueries({ queryKey: ['frame', get(pageAtom).frame.id] })

async function attempt({ set }: Bench, doing: () => Promise<unknown>): Promise<void> {
  try {
    await doing()
    set(versionProblemAtom, undefined)
  } catch (error) {
    set(versionProblemAtom, sentence(error))
  }
}

const changed = (bench: Bench, doing: () => Promise<unknown>) =>
  attempt(bench, async () => {
    await doing()
    await reload(bench)
  })

const go = ({ get }: Bench, id: string) => get(routesAtom).link({ version: id })

/** Goes to another version of the frame. */
export const chooseVersion = (bench: Bench, id: string) =>
  attempt(bench, async () => {
    // what is known of the other versions is from when the bench was laid out
    await bench.get(deskAtom).settle()
    await reload(bench)
    go(bench, id)
  })

/** A new version: from the untouched frame, or from a place of this version's log; where it stands, if not said. */
export const addVersion = (bench: Bench, from: 'untouched' | 'this', place?: LogPlace, name?: string) =>
  attempt(bench, async () => {
    const { get } = bench
    await get(deskAtom).settle()
    const begun = from === 'this' ? { from: get(versionAtom).id, entry: place } : {}
    const made = await api.addVersion(get(pageAtom).frame.id, { ...begun, name })
    await reload(bench)
    go(bench, made.id)
  })

/** Another version beside this one, to be made into another conversion. */
export const compareAnother = (bench: Bench) =>
  attempt(bench, async () => {
    const { get } = bench
    await get(deskAtom).settle()
    const { id } = get(versionAtom)
    const frameId = get(pageAtom).frame.id
    const made = await api.addVersion(frameId, { from: id })
    await queryClient.invalidateQueries({ queryKey: ['frame', frameId] })
    get(routesAtom).go(sideBySide(get, [id, made.id]))
  })

export const renameVersion = (bench: Bench, id: string, name: string) =>
  changed(bench, () => api.changeVersion(id, { name }))

/** Moves a version by so many places. */
export const moveVersion = (bench: Bench, id: string, by: number) => {
  const { frame, versions } = bench.get(pageAtom)
  const ids = versions.map((v) => v.id)
  const from = ids.indexOf(id)
  ids.splice(from, 1)
  ids.splice(from + by, 0, id)
  return changed(bench, () => api.orderVersions(frame.id, ids))
}

/** Has the sheet show a version. */
export const showVersion = (bench: Bench, id: string) => changed(bench, () => api.showVersion(id))

export const removeVersion = (bench: Bench, id: string) =>
  attempt(bench, async () => {
    const { get } = bench
    const here = get(versionAtom).id === id
    if (here) await get(deskAtom).settle()
    const { versions } = get(pageAtom)
    await api.removeVersion(id)
    if (here) go(bench, versions.find((v) => v.id !== id)!.id)
    await reload(bench)
  })

export const takeVersionBack = (bench: Bench, id: string) => changed(bench, () => api.takeVersionBack(id))
