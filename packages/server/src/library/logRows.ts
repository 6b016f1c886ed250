import {
  applyChanges,
  readDevelopment,
  type Change,
  type Development,
  type Entries,
  type LogPlace,
} from '@dunkelkammer/core'
import { LogEntrySchema, type LogEntry } from '@dunkelkammer/contract'
import { and, asc, desc, eq, lt } from 'drizzle-orm'
import { schema, type Db, type Tx } from '../db/open'
import { HttpProblem } from '../problem'
import type { Hot } from './hot'

const { log } = schema
type LogRow = typeof log.$inferSelect

/** A change that is to be appended. */
export interface NewEntry {
  label: string
  changes: readonly Change[]
}

/** Entries from one snapshot of the settings to the next. */
const SNAPSHOT_EVERY = 64

/** The log of one version as the database has it. */
export class LogRows implements Entries<LogEntry> {
  constructor(
    private readonly db: Db | Tx,
    private readonly versionId: string,
    private readonly begun: Development,
    private readonly hot: Hot,
  ) {}

  get(id: string): LogEntry | undefined {
    const row = this.row(id)
    return row?.kind === 'change' ? toEntry(row) : undefined
  }

  /** Whether an operation has been taken down. */
  knows(id: string): boolean {
    return this.db.select({ id: log.id }).from(log).where(eq(log.id, id)).get() !== undefined
  }

  /** Entries behind a place, up to another one, the latest first. */
  behind(place: LogPlace, most: number, until: LogPlace = null): LogEntry[] {
    const out: LogEntry[] = []
    for (let at = place; at !== null && at !== until && out.length < most; at = out.at(-1)!.parent) {
      const entry = this.get(at)
      if (!entry) break
      out.push(entry)
    }
    return out
  }

  /** Whether going back from one place leads to another. */
  leadsBack(from: LogPlace, to: LogPlace): boolean {
    for (let at = from; at !== to;) {
      if (at === null) return false
      const row = this.row(at)
      if (row?.kind !== 'change') return false
      at = row.parent
    }
    return true
  }

  /** The settings after an entry, or as begun. */
  developmentAt(place: LogPlace): Development {
    const since: LogEntry[] = []
    let from = this.begun
    for (let at = place; at !== null;) {
      const row = this.row(at)
      if (row?.kind !== 'change') throw new Error(`entry ${at} is missing`)
      if (row.snapshot) {
        from = readDevelopment(row.snapshot)
        break
      }
      since.push(toEntry(row))
      at = row.parent
    }
    return since.reduceRight((d, entry) => applyChanges(d, entry.changes), from)
  }

  /** Entries by number, the newest first. */
  page(before: number, most: number): LogEntry[] {
    return this.db
      .select()
      .from(log)
      .where(and(eq(log.versionId, this.versionId), eq(log.kind, 'change'), lt(log.number, before)))
      .orderBy(desc(log.number))
      .limit(most)
      .all()
      .map(toEntry)
  }

  /** @param development the settings after it */
  append(entry: NewEntry & Omit<LogEntry, 'number' | 'name'>, development: Development): void {
    const depth =
      (entry.parent === null
        ? 0
        : (this.hot.depth.get({ id: entry.parent, versionId: this.versionId })?.depth ?? 0)) + 1
    this.put({
      ...{ id: entry.id, kind: 'change', parent: entry.parent, label: entry.label, changes: entry.changes },
      ...{ time: entry.time, gesture: entry.gesture ?? null, preset: entry.preset ?? null, depth },
      snapshot: depth % SNAPSHOT_EVERY === 0 ? development : null,
    })
  }

  /** The entries of a gesture, in the order in which they came. */
  ofGesture(gesture: string): LogEntry[] {
    return this.db
      .select()
      .from(log)
      .where(and(eq(log.versionId, this.versionId), eq(log.kind, 'change'), eq(log.gesture, gesture)))
      .orderBy(asc(log.number))
      .all()
      .map(toEntry)
  }

  /** Notes that one went to a place, or that an entry was named. */
  note(id: string, kind: 'go' | 'name', place: LogPlace, label = ''): void {
    this.put({ id, kind, parent: place, label, time: new Date().toISOString() })
  }

  nameEntry(id: string, name: string | null): void {
    this.db
      .update(log)
      .set({ name })
      .where(and(eq(log.id, id), eq(log.versionId, this.versionId)))
      .run()
  }

  private put(row: Omit<typeof log.$inferInsert, 'versionId' | 'number'>): void {
    const { versionId } = this
    const last = this.hot.lastNumber.get({ versionId })?.n ?? 0
    const nothing = { parent: null, label: '', changes: null, gesture: null, preset: null, snapshot: null }
    this.hot.putEntry.run({ ...nothing, depth: 0, ...row, versionId, number: last + 1 })
  }

  private row(id: string): LogRow | undefined {
    return this.db
      .select()
      .from(log)
      .where(and(eq(log.id, id), eq(log.versionId, this.versionId)))
      .get()
  }
}

/** @throws HttpProblem where the entry is of steps that this edition does not know */
function toEntry(row: LogRow): LogEntry {
  const entry = LogEntrySchema.safeParse({
    ...{ id: row.id, number: row.number, parent: row.parent, label: row.label, changes: row.changes },
    time: row.time,
    ...(row.gesture && { gesture: row.gesture }),
    ...(row.preset !== null && { preset: row.preset }),
    ...(row.name && { name: row.name }),
  })
  if (entry.success) return entry.data
  throw new HttpProblem(
    409,
    'unreadable',
    `The history holds “${row.label}”, which this Dunkelkammer cannot read: it was made by a newer one.`,
  )
}
