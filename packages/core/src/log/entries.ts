import {
  applyChanges,
  changeSentence,
  joinedChanges,
  revertChanges,
  type Change,
  type Development,
} from '../settings'

/** Where in a log something is: an entry, or nothing for the frame as it was before any. */
export type LogPlace = string | null

/** One change of a version, told once and kept for good. */
export interface Entry {
  id: string
  /** What it was made on. */
  parent: LogPlace
  /** What was done, in words. */
  label: string
  changes: readonly Change[]
  /** ISO 8601. */
  time: string
  /** Entries of one gesture follow each other and count as one. */
  gesture?: string
  /** It applied a preset, changed how far, or took it off. */
  preset?: PresetMark
}

/** An entry of an application of a preset; the last one of an application says how far it is applied. */
export interface PresetMark {
  /** Names the application. */
  application: string
  /** The preset in the library, where it is one of that. */
  preset?: string
  name: string
  /** 0 to 1.5; 0 took it off. */
  strength: number
  /** Where the version stood before the first entry of the application. */
  from: LogPlace
}

/** Entries by their ids. */
export interface Entries<E extends Entry = Entry> {
  get(id: string): E | undefined
}

/**
 * The entries from one place back to another, the latest first.
 * @returns nothing where `to` is not behind `from`, or where entries in between are not known
 */
export function pathBack<E extends Entry>(
  entries: Entries<E>,
  from: LogPlace,
  to: LogPlace,
): E[] | undefined {
  const out: E[] = []
  for (let at = from; at !== to; at = out.at(-1)!.parent) {
    const entry = at === null ? undefined : entries.get(at)
    if (!entry) return undefined
    out.push(entry)
  }
  return out
}

/** The entries of the gesture that ends in an entry, the latest first. */
export function gestureBack<E extends Entry>(entries: Entries<E>, last: E): E[] {
  const out = [last]
  while (last.gesture !== undefined) {
    const before = entries.get(out.at(-1)!.parent ?? '')
    if (!before || before.gesture !== last.gesture) break
    out.push(before)
  }
  return out
}

/** How one comes from one place of a log to another: back over some entries, then forward over others. */
export interface Way<E extends Entry = Entry> {
  /** The latest first. */
  back: E[]
  /** The earliest first. */
  forward: E[]
}

/** @returns nothing where the entries in between are not known */
export function wayBetween<E extends Entry>(
  entries: Entries<E>,
  from: LogPlace,
  to: LogPlace,
): Way<E> | undefined {
  const passed = new Map<LogPlace, number>([[from, 0]])
  const back: E[] = []
  for (let at = from; at !== null; at = back.at(-1)!.parent) {
    const entry = entries.get(at)
    if (!entry) break
    back.push(entry)
    passed.set(entry.parent, back.length)
  }
  const forward: E[] = []
  for (let at = to; !passed.has(at); at = forward.at(-1)!.parent) {
    const entry = at === null ? undefined : entries.get(at)
    if (!entry) return undefined
    forward.push(entry)
  }
  const meeting = forward.length > 0 ? forward.at(-1)!.parent : to
  return { back: back.slice(0, passed.get(meeting)), forward: forward.reverse() }
}

/** A development led along a way. */
export function goAlong(development: Development, { back, forward }: Way): Development {
  const undone = back.reduce((d, entry) => revertChanges(d, entry.changes), development)
  return forward.reduce((d, entry) => applyChanges(d, entry.changes), undone)
}

/** What entries changed one after another, as if at once. */
export const changesOf = (entries: readonly Entry[]): Change[] =>
  entries.reduce<Change[]>((sum, { changes }) => joinedChanges(sum, changes), [])

/**
 * What a gesture did, in one sentence.
 * @param entries of it, the earliest first; none is nothing to say
 */
export function sentenceOf(entries: readonly Entry[]): string | undefined {
  const last = entries.at(-1)
  return last && changeSentence(last.label, changesOf(entries))
}
