import { readDevelopment, startDevelopment, changesBetween, type Development } from '@dunkelkammer/core'
import { MAX_LABEL, MAX_PINS, VersionViewSchema, type VersionView } from '@dunkelkammer/contract'
import { z } from 'zod'
import type { NewEntry } from './logRows'

/** A version as it was saved before there was a log: all of its states, and which of them counts. */
const OldStateSchema = z.object({
  history: z.array(z.object({ label: z.string(), development: z.unknown() })).min(1),
  cursor: z.number().int().min(0),
})

/** An old version as a log. */
export interface Unrolled {
  begun: Development
  begunAs: string
  /** Each made on the one before. */
  entries: NewEntry[]
  /** How many of them lead to where the version stands. */
  head: number
  view: VersionView
}

/**
 * @param stored what the database holds of it
 * @throws z.ZodError, RangeError where it is not a state
 */
export function unrollOldState(stored: unknown): Unrolled {
  const { history, cursor } = OldStateSchema.parse(stored)
  const states = history.map(({ label, development }) => ({
    label,
    development: readDevelopment(development),
  }))
  // one that began elsewhere, or has lost its beginning, comes from the untouched frame by its first entry
  const untouched = states[0].label.startsWith('As taken')
  const begun = untouched ? states[0].development : startDevelopment()
  const entries: NewEntry[] = []
  let [last, head] = [begun, 0]
  for (const [i, { label, development }] of states.entries()) {
    const changes = changesBetween(last, development)
    if (changes.length > 0) entries.push({ label: label.slice(0, MAX_LABEL), changes })
    last = development
    if (i === Math.min(cursor, states.length - 1)) head = entries.length
  }
  const at = history[Math.min(cursor, history.length - 1)].development
  const pins = (at as { pins?: unknown[] } | undefined)?.pins?.slice(0, MAX_PINS)
  const view = VersionViewSchema.safeParse({ pins })
  return {
    begun,
    begunAs: untouched ? states[0].label : 'As taken',
    entries,
    head,
    view: view.data ?? { pins: [] },
  }
}
