import { sameSettings } from './departs'

/** What lists of settings hold where their items are told one by one. */
export interface Item {
  id: string
}

/** Items of a list, each with its place in it, in the order of places. */
export interface Places {
  changed: readonly (readonly [at: number, item: Item])[]
}

/** How a list was changed: the items that are others, elsewhere, new or gone, as they were and as they are. */
export interface ListChange {
  before: Places
  now: Places
}

const byPlace = (a: readonly [number, Item], b: readonly [number, Item]) => a[0] - b[0]
const idsOf = ({ changed }: Places) => changed.map(([, { id }]) => id)

export const isPlaces = (v: unknown): v is Places =>
  typeof v === 'object' && v !== null && Array.isArray((v as Partial<Places>).changed)

/** Whether a value is a list whose items can be told apart. */
export const isListed = (v: unknown): v is readonly Item[] => {
  if (!Array.isArray(v) || !v.every((item) => typeof (item as Partial<Item> | null)?.id === 'string'))
    return false
  return new Set((v as Item[]).map(({ id }) => id)).size === v.length
}

/** The members of a longest rising subsequence of distinct numbers (Schensted 1961). */
function longestRising(numbers: readonly number[]): Set<number> {
  /** The least end of a rising subsequence of each length so far, and what stands before each number in its own. */
  const ends: number[] = []
  const before = new Map<number, number | undefined>()
  for (const n of numbers) {
    let [low, high] = [0, ends.length]
    while (low < high) {
      const middle = (low + high) >> 1
      if (ends[middle] < n) low = middle + 1
      else high = middle
    }
    before.set(n, ends[low - 1])
    ends[low] = n
  }
  const out = new Set<number>()
  for (let n = ends.at(-1); n !== undefined; n = before.get(n)) out.add(n)
  return out
}

/** What leads from one list to another. Ids are distinct in each. */
export function listChange(from: readonly Item[], to: readonly Item[]): ListChange {
  const places = new Map(to.map((item, at) => [item.id, at]))
  const stay = from.flatMap((item) => {
    const at = places.get(item.id)
    return at !== undefined && sameSettings(item, to[at]) ? [at] : []
  })
  const kept = longestRising(stay)
  const moves = (id: string) => !kept.has(places.get(id) ?? -1)
  const changed = (list: readonly Item[]): Places => ({
    changed: list.flatMap((item, at) => (moves(item.id) ? [[at, item] as const] : [])),
  })
  return { before: changed(from), now: changed(to) }
}

/** A list after a change. What it does not speak of keeps its order. */
export function withChange(list: readonly Item[], { before, now }: ListChange): readonly Item[] {
  const gone = new Set([...idsOf(before), ...idsOf(now)])
  const out = list.filter(({ id }) => !gone.has(id))
  for (const [at, item] of now.changed) out.splice(at, 0, item)
  return out
}

/** Where an item that a change does not speak of comes to stand. */
function placeAfter(at: number, { before, now }: ListChange): number {
  let place = at - before.changed.filter(([gone]) => gone < at).length
  for (const [put] of now.changed) if (put <= place) place++
  return place
}

const reversed = ({ before, now }: ListChange): ListChange => ({ before: now, now: before })

/** Two changes, the second made after the first, as one; what came back to where it was is left out. */
export function joinedLists(first: ListChange, then: ListChange): ListChange {
  const [inFirst, inThen] = [first, then].map((c) => new Set([...idsOf(c.before), ...idsOf(c.now)]))
  const moved = ({ changed }: Places, known: ReadonlySet<string>, by: ListChange) =>
    changed.flatMap(([at, item]) => (known.has(item.id) ? [] : [[placeAfter(at, by), item] as const]))
  const before = [...first.before.changed, ...moved(then.before, inFirst, reversed(first))].sort(byPlace)
  const now = [...then.now.changed, ...moved(first.now, inThen, then)].sort(byPlace)
  const old = new Map(before.map(([at, item], index) => [item.id, { at, item, index }]))
  const back = new Set<string>()
  now.forEach(([at, item], index) => {
    const was = old.get(item.id)
    // as many changed ones stand before it as did: among the others it is where it was
    if (was && was.at === at && was.index === index && sameSettings(was.item, item)) back.add(item.id)
  })
  const left = (places: typeof now): Places => ({ changed: places.filter(([, { id }]) => !back.has(id)) })
  return { before: left(before), now: left(now) }
}
