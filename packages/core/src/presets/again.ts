import { fieldsOf, stepById, valueOf, withValue, type Field, type StepId } from '../steps'
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

/** The items of lists in a step's settings, or those of a change of it that it tells of. */
export const itemsOf = (settings: unknown): Item[] =>
  Object.values(settings as object).flatMap((v) => [...itemsIn(v)])

const withEach = (value: unknown, by: (item: Item) => Item): unknown =>
  isPlaces(value)
    ? { changed: value.changed.map(([at, item]) => [at, by(item)]) }
    : isListed(value)
      ? value.map(by)
      : value

/** A change whose lists have other items in place of theirs. */
export function eachItem(change: Change, by: (item: Item) => Item): Change {
  const of = (state: PartState): PartState => ({
    ...state,
    settings: Object.fromEntries(
      Object.entries(state.settings as object).map(([name, value]) => [name, withEach(value, by)]),
    ),
  })
  return { ...change, before: of(change.before), now: of(change.now) }
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

/** The same for lists whose items are told apart by something else of theirs, in its order. */
function keyed(by: string, ...lists: [list: unknown, before: unknown, now: unknown]): unknown {
  const [list, before, now] = lists.map((items) =>
    (items as readonly Record<string, unknown>[]).map((value) => ({ id: String(value[by]), value })),
  )
  const place = ({ value }: { value: Record<string, unknown> }) => Number(value[by])
  return (withItems(list, changedIn(before, now), changedIn(now, before)) as typeof list)
    .sort((a, b) => place(a) - place(b))
    .map(({ value }) => value)
}

/** Items of a list that are not the same in another one. */
const changedIn = (list: readonly Item[], other: readonly Item[]): readonly Item[] => {
  const there = byId(other)
  return list.filter((item) => !sameSettings(item, there.get(item.id)))
}

/** How a change goes to other settings: its fields as they came to be, or numbers by as much as they changed. */
export type ChangeShared = 'value' | 'difference'

const BY_DIFFERENCE = {
  evenly: (here: number, old: number, now: number) => here + now - old,
  around: (here: number, old: number, now: number) => (((here + now - old) % 360) + 360) % 360,
  reciprocally: (here: number, old: number, now: number) => 1 / (1 / here + 1 / now - 1 / old),
}
const hold = (v: number, least = -Infinity, most = Infinity) => Math.min(Math.max(v, least), most)

function moved({ passes, min, max }: Field, here: number, old: number, now: number): number {
  const value = hold(BY_DIFFERENCE[passes ?? 'evenly'](here, old, now), min, max)
  // sums of tenths are none
  return Number(value.toPrecision(12))
}

/** A step with what a change did to it, field by field. */
function againState(id: StepId, here: PartState, { before, now }: Change, how: ChangeShared): PartState {
  const settings = fieldsOf(id).reduce<unknown>((s, field) => {
    const [old, fresh] = [valueOf(before.settings, field), valueOf(now.settings, field)]
    if (sameSettings(old, fresh)) return s
    const present = valueOf(s, field)
    if (field.itemsBy !== undefined)
      return withValue(s, field.path, keyed(field.itemsBy, present, old, fresh))
    if (isList(old, fresh))
      return withValue(s, field.path, withItems((present ?? []) as readonly Item[], old, fresh))
    const adds =
      how === 'difference' && field.kind === 'number' && [present, old, fresh].every(Number.isFinite)
    const value = adds ? moved(field, Number(present), Number(old), Number(fresh)) : fresh
    return withValue(s, field.path, value)
  }, here.settings)
  const change = (now.strength ?? 1) - (before.strength ?? 1)
  const added = hold(Number(((here.strength ?? 1) + change).toPrecision(12)), 0, 1.5)
  const strength = change === 0 ? here.strength : how === 'difference' ? added : now.strength
  const off = before.off === now.off ? here.off : now.off
  const fits = stepById.get(id)!.schema.safeParse(settings).success
  return {
    settings: fits ? settings : here.settings,
    ...(strength !== undefined && strength !== 1 && { strength }),
    ...(off && { off }),
  }
}

/**
 * A development with what was changed in another one or earlier, wherever it stands: each field that was changed, and
 * no other.
 */
export const doneAgain = (
  development: Development,
  changes: readonly Change[],
  how: ChangeShared = 'value',
): Development =>
  changes.reduce((d, change) => {
    if (change.part === 'interest') return applyChanges(d, [change])
    const here = partOf(d, change.part)
    const state = againState(change.part, here, change, how)
    return sameSettings(here, state) ? d : withPart(d, change.part, state)
  }, development)
