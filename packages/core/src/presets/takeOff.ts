import { fieldsOf, valueOf, withValue, type StepId } from '../steps'
import {
  applyChanges,
  partOf,
  sameSettings,
  withPart,
  type Change,
  type Development,
  type PartState,
} from '../settings'
import { isListed, isPlaces, type Item } from '../settings/listed'
import { goAlong, type Entry, type LogPlace, type PresetMark } from '../log'

/** The applications along a way back as they are now, those that were last changed first; of strength 0 where taken off. */
export function appliedIn(back: readonly Entry[]): PresetMark[] {
  const out = new Map<string, PresetMark>()
  for (const { preset } of back)
    if (preset && !out.has(preset.application)) out.set(preset.application, preset)
  return [...out.values()]
}

const itemsIn = (value: unknown): readonly Item[] =>
  isPlaces(value) ? value.changed.map(([, item]) => item) : isListed(value) ? value : []
const byId = (items: readonly Item[]) => new Map(items.map((item) => [item.id, item]))

/** A list with what an entry did to its items, those left alone that are not there. */
function withItems(list: readonly Item[], before: unknown, now: unknown): readonly Item[] {
  const [old, fresh] = [byId(itemsIn(before)), byId(itemsIn(now))]
  const here = new Set(list.map(({ id }) => id))
  const kept = list.flatMap((item) => {
    if (!old.has(item.id)) return [item]
    const next = fresh.get(item.id)
    return next ? [next] : []
  })
  const come = [...fresh.values()].filter(({ id }) => !old.has(id) && !here.has(id))
  return [...kept, ...come]
}

const isList = (a: unknown, b: unknown) =>
  (isPlaces(a) && isPlaces(b)) || (isListed(a) && isListed(b) && a.length + b.length > 0)

/** A step with what an entry did to it, field by field. */
function againState(id: StepId, here: PartState, { before, now }: Change): PartState {
  const settings = fieldsOf(id).reduce<unknown>((s, field) => {
    const [old, fresh] = [valueOf(before.settings, field), valueOf(now.settings, field)]
    if (sameSettings(old, fresh)) return s
    const value = isList(old, fresh)
      ? withItems((valueOf(s, field) ?? []) as readonly Item[], old, fresh)
      : fresh
    return withValue(s, field.path, value)
  }, here.settings)
  const strength = before.strength === now.strength ? here.strength : now.strength
  const off = before.off === now.off ? here.off : now.off
  return { settings, ...(strength !== undefined && { strength }), ...(off && { off }) }
}

/** A development with what an entry did, wherever it stands: each field that the entry set is set so. */
export const doneAgain = (development: Development, changes: readonly Change[]): Development =>
  changes.reduce(
    (d, change) =>
      change.part === 'interest'
        ? applyChanges(d, [change])
        : withPart(d, change.part, againState(change.part, partOf(d, change.part), change)),
    development,
  )

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

/**
 * The settings as if a preset had been applied otherwise, at its place, or not at all: what was done since is done
 * again on that, so that it comes out the same in whatever order presets are taken off.
 * @param apply what the preset does at its place instead; nothing takes it off
 * @returns nothing where the entries in between are not known
 */
export function withApplication(
  { get, head, development }: Standpoint,
  application: string,
  apply?: (before: Development) => Development,
): Development | undefined {
  const path: Entry[] = []
  let at = head
  for (let entry = at === null ? undefined : get(at); entry; entry = at === null ? undefined : get(at)) {
    path.push(entry)
    at = entry.parent
  }
  const depth = depthOf(path, at === null, application)
  if (depth === undefined) return undefined
  const back = path.slice(0, depth + 1)
  const off = new Set(
    appliedIn(path)
      .filter(({ strength }) => strength === 0)
      .map((a) => a.application),
  )
  const start = goAlong(development, { back, forward: [] })
  const first = path.findLast(({ preset }) => preset?.application === application)
  return back.reduceRight((d, entry) => {
    if (entry === first) return apply ? apply(d) : d
    const name = entry.preset?.application
    return name !== undefined && (name === application || off.has(name)) ? d : doneAgain(d, entry.changes)
  }, start)
}
