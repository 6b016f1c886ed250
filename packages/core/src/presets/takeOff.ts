import { goAlong, type Entry, type LogPlace, type PresetMark } from '../log'
import type { Development } from '../settings'
import { doneAgain } from './again'

/** The applications along a way back as they are now, those that were last changed first; of strength 0 where taken off. */
export function appliedIn(back: readonly Entry[]): PresetMark[] {
  const out = new Map<string, PresetMark>()
  for (const { preset } of back)
    if (preset && !out.has(preset.application)) out.set(preset.application, preset)
  return [...out.values()]
}

/** Entries by their ids, and where a version stands. */
export interface Standpoint {
  get(id: string): Entry | undefined
  head: LogPlace
  development: Development
}

/** How many entries of the way back have to be undone to stand before an application, and all that it hangs on. */
function depthOf(path: readonly Entry[], whole: boolean, application: string): number | undefined {
  const deepest = (name: string) => path.findLastIndex(({ preset }) => preset?.application === name)
  const isOff = (name: string) =>
    path.find(({ preset }) => preset?.application === name)!.preset!.strength === 0
  const begins = (at: number) => path[at].preset!.from === path[at].parent
  let depth = deepest(application)
  if (depth < 0) return undefined
  for (let i = 0; i <= depth; i++) {
    const { preset } = path[i]
    // what was taken off meanwhile is left out too, with all its entries
    if (preset && isOff(preset.application)) depth = Math.max(depth, deepest(preset.application))
    if (preset && !whole && (i > depth || (i === depth && !begins(i)))) return undefined
  }
  return begins(deepest(application)) ? depth : undefined
}

/** The way back from where a version stands as far as it is known, and whether that is all of it. */
function pathOf({ get, head }: Standpoint): { path: Entry[]; whole: boolean } {
  const path: Entry[] = []
  let at = head
  for (let entry = at === null ? undefined : get(at); entry; entry = at === null ? undefined : get(at)) {
    path.push(entry)
    at = entry.parent
  }
  return { path, whole: at === null }
}

/** The entries of a way back done again from its beginning. @param again nothing where an entry is left out */
function redone(
  { development }: Standpoint,
  back: Entry[],
  again: (entry: Entry, d: Development) => Development | undefined,
): Development {
  return back.reduceRight((d, entry) => again(entry, d) ?? d, goAlong(development, { back, forward: [] }))
}

/**
 * The settings as if a preset had been applied otherwise, at its place, or not at all: what was done since is done
 * again on that, so that it comes out the same in whatever order presets are taken off.
 * @param apply what the preset does at its place instead; nothing takes it off
 * @returns nothing where the entries in between are not known
 */
export function withApplication(
  standpoint: Standpoint,
  application: string,
  apply?: (before: Development) => Development,
): Development | undefined {
  const { path, whole } = pathOf(standpoint)
  const depth = depthOf(path, whole, application)
  if (depth === undefined) return undefined
  const off = new Set(appliedIn(path).flatMap((a) => (a.strength === 0 ? [a.application] : [])))
  const first = path.findLast(({ preset }) => preset?.application === application)
  return redone(standpoint, path.slice(0, depth + 1), (entry, d) => {
    if (entry === first) return apply?.(d)
    const name = entry.preset?.application
    return name !== undefined && (name === application || off.has(name))
      ? undefined
      : doneAgain(d, entry.changes)
  })
}

/**
 * The settings as if some entries had never been, what was done since done again.
 * @returns nothing where they are not all on the way back
 */
export function withoutEntries(standpoint: Standpoint, ids: ReadonlySet<string>): Development | undefined {
  const { path } = pathOf(standpoint)
  const depth = path.findLastIndex(({ id }) => ids.has(id))
  if (path.filter(({ id }) => ids.has(id)).length < ids.size) return undefined
  return redone(standpoint, path.slice(0, depth + 1), ({ id, changes }, d) =>
    ids.has(id) ? undefined : doneAgain(d, changes),
  )
}
