import { changesOf, gestureBack, sentenceOf, type Change, type LogPlace } from '@dunkelkammer/core'
import type { KnownEntry } from '../../desk/localLog'

/** One line of the history: a gesture, or the beginning. */
export interface HistoryRow {
  /** Where going there leads. */
  place: LogPlace
  sentence: string
  /** What the user calls it. */
  name?: string
  /** ISO 8601; the beginning has none. */
  time?: string
  changes: readonly Change[]
  /** Whether the version stands there, it lies behind or ahead on the same branch, or on another one. */
  lies: 'here' | 'behind' | 'ahead' | 'aside'
  /** The end of its branch. */
  end: LogPlace
}

/** What was said of gestures; a long history is looked at again with every change. */
const said = new WeakMap<KnownEntry, { length: number; sentence: string; changes: readonly Change[] }>()

/** @param gesture the earliest first, at least one */
function telling(gesture: readonly KnownEntry[]) {
  const last = gesture.at(-1)!
  const known = said.get(last)
  if (known?.length === gesture.length) return known
  const told = { length: gesture.length, sentence: sentenceOf(gesture)!, changes: changesOf(gesture) }
  said.set(last, told)
  return told
}

/** Entries that an entry is reached over, itself among them. */
function pathOf(entries: ReadonlyMap<string, KnownEntry>, from: LogPlace): Set<LogPlace> {
  const out = new Set<LogPlace>([null])
  for (let at = from; at !== null && entries.has(at); at = entries.get(at)!.parent) out.add(at)
  return out
}

/**
 * The lines of a history, the newest first, the beginning last.
 * @param begun how the untouched frame is called; missing while not all entries are known
 */
export function historyRows(
  known: readonly KnownEntry[],
  stand: { head: LogPlace; tip: LogPlace },
  begun?: string,
): HistoryRow[] {
  const entries = new Map(known.map((e) => [e.id, e]))
  // what is not saved yet is the newest
  const age = new Map(known.map((e, i) => [e.id, e.number ?? Number.MAX_SAFE_INTEGER / 2 + i]))
  const sorted = [...known].sort((a, b) => age.get(b.id)! - age.get(a.id)!)
  const folded = new Set<string>()
  const ends = new Map<LogPlace, LogPlace>()
  for (const entry of sorted) {
    const parent = entries.get(entry.parent ?? '')
    if (entry.gesture !== undefined && parent?.gesture === entry.gesture) folded.add(parent.id)
    // the newest that is reached over an entry is the end of its branch
    for (let at: LogPlace | undefined = entry.id; at !== undefined && !ends.has(at);) {
      ends.set(at, entry.id)
      at = at === null ? undefined : entries.get(at)?.parent
    }
  }
  const behind = pathOf(entries, stand.head)
  const ahead = pathOf(entries, stand.tip)
  const rows = sorted
    .filter((e) => !folded.has(e.id))
    .map((entry): HistoryRow => {
      const gesture = gestureBack(entries, entry).reverse()
      const here = gesture.some((e) => e.id === stand.head)
      const lies = here ? 'here' : behind.has(entry.id) ? 'behind' : ahead.has(entry.id) ? 'ahead' : 'aside'
      const { sentence, changes } = telling(gesture)
      return {
        ...{ place: entry.id, sentence, name: entry.name, time: gesture[0].time },
        ...{ changes, lies, end: ends.get(entry.id) ?? entry.id },
      }
    })
  if (begun !== undefined)
    rows.push({
      ...{ place: null, sentence: begun, changes: [], end: ends.get(null) ?? null },
      lies: stand.head === null ? 'here' : 'behind',
    })
  return rows
}

/** The rows whose sentence, name or time holds all of the words. */
export function foundRows(rows: readonly HistoryRow[], words: string, said: (time: string) => string) {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean)
  if (wanted.length === 0) return rows
  return rows.filter(({ sentence, name = '', time }) => {
    const text = `${name} ${sentence} ${time ? said(time) : ''}`.toLowerCase()
    return wanted.every((w) => text.includes(w))
  })
}
