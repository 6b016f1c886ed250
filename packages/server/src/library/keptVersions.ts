import {
  applyChanges,
  bulkNamesIn,
  changesBetween,
  startDevelopment,
  type Development,
} from '@dunkelkammer/core'
import type { LogEntry } from '@dunkelkammer/contract'
import { inArray } from 'drizzle-orm'
import { randomUUID } from 'node:crypto'
import { schema, type Tx } from '../db/open'
import { requireBulk } from './bulk'
import { isEdited } from './edited'
import type { Hot } from './hot'
import { LogRows } from './logRows'
import { inPieces } from './pieces'
import type { KeptVersion } from './sidecars/records'

const { log, versions } = schema

/** Names of what a version speaks of. */
const spokenIn = ({ begun, settings, entries }: KeptVersion): Set<string> =>
  bulkNamesIn([begun, settings, entries])

/**
 * Writes a version that was kept outside of the database, with its log. Ids that are taken are given anew.
 * @param position its place among the versions of its frame
 * @returns its id
 * @throws HttpProblem where it speaks of bulk data that is not there
 */
export function putBack(tx: Tx, hot: Hot, frameId: string, position: number, kept: KeptVersion): string {
  requireBulk(tx, spokenIn(kept))
  const begun = kept.begun ?? startDevelopment()
  const settings = kept.settings ?? begun
  const entries = renamed(tx, kept.entries)
  const id = hot.version.get({ id: kept.id }) ? randomUUID() : kept.id
  const { name, begunAs, view, revision, changed, deleted = null } = kept
  tx.insert(versions)
    .values({ id, frameId, position, name, begun, begunAs, view, revision, changed, deleted })
    .run()

  const rows = new LogRows(tx, id, begun, hot)
  const after = new Map<string | null, Development>([[null, begun]])
  for (const entry of entries.list) {
    const before = after.get(entry.parent)
    // an entry that hangs on nothing cannot be gone to
    if (!before || after.has(entry.id)) continue
    const development = applyChanges(before, entry.changes)
    rows.append(entry, development)
    if (entry.name) rows.nameEntry(entry.id, entry.name)
    after.set(entry.id, development)
  }
  const [wanted, end] = [entries.idOf(kept.head), entries.idOf(kept.tip)]
  let head = wanted !== undefined && after.has(wanted) ? wanted : null
  let tip = end !== undefined && after.has(end) && rows.leadsBack(end, head) ? end : head
  // a log that was cut short, or does not lead to the settings
  const changes = changesBetween(after.get(head)!, settings)
  if (changes.length > 0) {
    const entry = { id: randomUUID(), parent: head, label: 'From the sidecar', changes, time: changed }
    rows.append(entry, settings)
    head = tip = entry.id
  }
  hot.standAgain.run({ id, head, tip, edited: isEdited(begun, settings), development: settings })
  return id
}

/** Entries under ids that are free: an original may be a frame of several shoots. */
function renamed(tx: Tx, entries: readonly LogEntry[]) {
  const taken = inPieces(entries.map((e) => e.id)).some(
    (ids) => tx.select({ id: log.id }).from(log).where(inArray(log.id, ids)).get() !== undefined,
  )
  const fresh = new Map(entries.map(({ id }) => [id, taken ? randomUUID() : id]))
  const idOf = (place: string | null) => (place === null ? null : fresh.get(place))
  const list = entries.flatMap((entry) => {
    const parent = idOf(entry.parent)
    if (parent === undefined) return []
    const { preset } = entry
    const from = preset && (idOf(preset.from) ?? null)
    return [
      { ...entry, id: fresh.get(entry.id)!, parent, ...(preset && { preset: { ...preset, from: from! } }) },
    ]
  })
  return { list, idOf }
}
