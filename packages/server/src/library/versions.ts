import {
  applyChanges,
  bulkNamesIn,
  changesBetween,
  commonParts,
  readDevelopment,
  revertChanges,
  wayBetween,
  type Development,
  type LogPlace,
  type Operation,
  type PresetMark,
  withoutEntries,
} from '@dunkelkammer/core'
import {
  MAX_LABEL,
  NEAR_ENTRIES,
  VersionViewSchema,
  type Append,
  type Appended,
  type LogEntry,
  type LogPage,
  type NewVersion,
  type Version,
  type VersionView,
} from '@dunkelkammer/contract'
import { and, asc, desc, eq, inArray, isNotNull, isNull } from 'drizzle-orm'
import { randomUUID } from 'node:crypto'
import { schema, type Db, type Tx } from '../db/open'
import { HttpProblem, notFound } from '../problem'
import { requireBulk } from './bulk'
import { isEdited, isStart, readStored } from './edited'
import { hotStatements, type Hot } from './hot'
import { putBack } from './keptVersions'
import { LogRows, type NewEntry } from './logRows'
import type { News } from './news'
import { unrollOldState } from './oldState'
import type { KeptVersion } from './sidecars/records'

const { frames, log, versions } = schema
type VersionRow = typeof versions.$inferSelect
/** A version whose settings are in the log. */
type Kept = VersionRow & { begun: Development; development: Development }

const MAX_VERSIONS = 50
/** Entries of a log that are kept outside of the database. */
const MOST_KEPT = 50000

/** What a frame begins with, and how that is called. */
export interface Beginning {
  label: string
  development: Development
}

/** A version as it stands: what thumbnails and deliveries are made of. */
export interface Standing {
  frameId: string
  name: string
  development: Development
}

/** What a change is part of. */
export interface ChangeOf {
  gesture?: string
  preset?: Omit<PresetMark, 'from'> & { from?: LogPlace }
}

/** What may be done to several versions at once. */
export interface VersionsIn {
  change(id: string, label: string, how: (d: Development) => Development, of?: ChangeOf): boolean
  takeGestureBack(id: string, gesture: string): boolean
}

/** Versions of frames, each with the log of what was done to it. */
export class Versions {
  /** Called when thumbnails or sidecars may have become stale. */
  onChange?: () => void

  private readonly hot: Hot

  constructor(
    private readonly db: Db,
    private readonly news: News,
  ) {
    this.hot = hotStatements(db)
  }

  /** The versions of a frame, in the order that the user gave them. */
  of(frameId: string): Version[] {
    return this.rowsOf(frameId).map((row) => this.describe(this.db, this.read(row)))
  }

  get(id: string): Version {
    return this.describe(this.db, this.require(id))
  }

  standing(id: string): Standing {
    const { frameId, name, development } = this.require(id)
    return { frameId, name, development }
  }

  /** Where a version stands in its log. */
  headOf(id: string): LogPlace {
    return this.require(id).head
  }

  /** How often a version's log was added to. */
  revisionOf(id: string): number {
    return this.require(id).revision
  }

  /** The first version of a frame that comes in. @returns its id */
  begin(tx: Tx, frameId: string, { label, development }: Beginning): string {
    const id = randomUUID()
    tx.insert(versions)
      .values({
        ...{ id, frameId, name: 'First version', revision: 0 },
        ...{ begun: development, begunAs: label, changed: new Date().toISOString() },
      })
      .run()
    return id
  }

  /** Whether a frame has any version that was not deleted. */
  has(tx: Tx, frameId: string): boolean {
    return this.rowsOf(frameId, tx).length > 0
  }

  /**
   * A new version of a frame: the untouched frame, or begun at a place of another one's log.
   * @throws HttpProblem where there are as many as may be, or no such place
   */
  add(frameId: string, { from, entry, name }: NewVersion): Version {
    const rows = this.rowsOf(frameId)
    const source = rows.find((row) => row.id === (from ?? rows[0]?.id))
    if (!source) throw notFound('version')
    if (rows.length >= MAX_VERSIONS)
      throw new HttpProblem(409, 'too-many', `A frame has at most ${MAX_VERSIONS} versions.`)
    const { begun, begunAs, head, view } = this.read(source)
    const id = randomUUID()
    const fresh = {
      ...{ id, frameId, name: name ?? freeName(this.allOf(frameId)), revision: 0, begun, begunAs, view },
      ...{ position: rows.at(-1)!.position + 1, changed: new Date().toISOString() },
    }
    const place = from === undefined ? null : entry === undefined ? head : entry
    const development = this.at(source.id, place).development
    const changes = changesBetween(begun, development)
    this.db.transaction((tx) => {
      tx.insert(versions).values(fresh).run()
      if (changes.length > 0) this.extend(tx, fresh, begun, [{ label: `From ${source.name}`, changes }])
    })
    return this.get(id)
  }

  /**
   * Takes operations down, all or none. Where another window has gone on since they were made, those on other parts of
   * the settings join what is there; those on the same parts lie aside, on a branch. An operation that has been taken
   * down before is passed over, so what was not answered can be sent again.
   * @throws HttpProblem 409 where they hang on nothing that the log knows
   */
  append(id: string, { base, operations }: Append): Appended {
    const outcome = this.db.transaction((tx) => this.take(tx, id, base, operations))
    this.onChange?.()
    return outcome
  }

  /**
   * Changes the settings of a version as they stand now.
   * @param of the gesture that it is part of, and the preset that it applies
   * @returns whether anything changed
   */
  change(id: string, label: string, how: (d: Development) => Development, of: ChangeOf = {}): boolean {
    const changed = this.db.transaction((tx) => this.changeIn(tx, id, label, how, of))
    if (changed) this.onChange?.()
    return changed
  }

  /**
   * Does something to several versions in one go, which is much faster than one by one.
   * @param one does it to one of them; what it throws is about that one alone
   * @returns what came of each, or what went wrong
   */
  each<T>(ids: readonly string[], one: (at: VersionsIn, id: string) => T): (T | Error)[] {
    const outcomes = this.db.transaction((tx) => {
      const at = this.within(tx)
      return ids.map((id) => {
        try {
          return one(at, id)
        } catch (error) {
          if (error instanceof HttpProblem) return error
          throw error
        }
      })
    })
    this.onChange?.()
    return outcomes
  }

  /** What may be done to versions inside of a transaction that is about more than them. */
  within(tx: Tx): VersionsIn {
    return {
      change: (id, label, how, of = {}) => this.changeIn(tx, id, label, how, of),
      takeGestureBack: (id, gesture) => this.gestureBackIn(tx, id, gesture),
    }
  }

  private changeIn(
    tx: Tx,
    id: string,
    label: string,
    how: (development: Development) => Development,
    { gesture, preset }: ChangeOf,
  ): boolean {
    const version = this.require(id, tx)
    const development = how(version.development)
    const changes = changesBetween(version.development, development)
    if (changes.length === 0) return false
    requireBulk(tx, bulkNamesIn(changes.map((c) => c.now)))
    const entry = {
      ...{ id: randomUUID(), parent: version.head, label: label.slice(0, MAX_LABEL), changes },
      ...(gesture !== undefined && { gesture }),
      ...(preset && { preset: { from: version.head, ...preset } }),
    }
    const rows = new LogRows(tx, id, version.begun, this.hot)
    rows.append({ ...entry, time: new Date().toISOString() }, development)
    this.stand(tx, version, { head: entry.id, tip: entry.id, development })
    return true
  }

  /**
   * Takes a gesture of a version back, whatever was done since: one step back where nothing was, otherwise all else is
   * done again without it.
   * @returns whether it was there to be taken back
   */
  private gestureBackIn(tx: Tx, id: string, gesture: string): boolean {
    const version = this.require(id, tx)
    const { head, tip, begun, development } = version
    const rows = new LogRows(tx, id, begun, this.hot)
    const entries = rows.ofGesture(gesture)
    const [first] = entries
    if (!first) return false
    if (entries.at(-1)!.id === head) {
      rows.note(randomUUID(), 'go', first.parent)
      const before = entries.reduceRight((d, { changes }) => revertChanges(d, changes), development)
      this.stand(tx, version, { head: first.parent, tip, development: before })
      return true
    }
    const standpoint = { get: (entry: string) => rows.get(entry), head, development }
    const without = withoutEntries(standpoint, new Set(entries.map((e) => e.id)))
    if (!without) return false
    const { preset } = first
    const of = preset && { preset: { ...preset, strength: 0 } }
    return this.changeIn(tx, id, `${first.label}, taken back`, () => without, of ?? {})
  }

  /** Has a version stand elsewhere. */
  private stand(
    tx: Tx,
    version: Kept,
    to: { head: LogPlace; tip: LogPlace; development: Development },
  ): void {
    const edited = isEdited(version.begun, to.development)
    this.hot.stand.run({ ...to, edited, id: version.id, changed: new Date().toISOString() })
    this.tell(tx, version.frameId)
  }

  /** The versions that stand for frames, by the frames' ids. */
  shownOf(wanted: readonly { id: string; shown: string | null }[]): Map<string, string> {
    const ids = wanted.map(({ id }) => id)
    const rows = this.db
      .select({ id: versions.id, frameId: versions.frameId })
      .from(versions)
      .where(and(inArray(versions.frameId, ids), isNull(versions.deleted)))
      .orderBy(desc(versions.position))
      .all()
    const there = new Set(rows.map(({ id }) => id))
    const first = new Map(rows.map(({ id, frameId }) => [frameId, id]))
    for (const { id, shown } of wanted) if (shown !== null && there.has(shown)) first.set(id, shown)
    return first
  }

  private take(tx: Tx, id: string, base: LogPlace, operations: readonly Operation[]): Appended {
    const version = this.require(id, tx)
    const rows = new LogRows(tx, id, version.begun, this.hot)
    let [known, from] = [0, base]
    for (; known < operations.length && rows.knows(operations[known].id); known++)
      from = placeAfter(operations[known], from)
    const fresh = operations.slice(known)
    requireBulk(tx, bulkNamesIn(fresh.map((o) => (o.kind === 'change' ? o.changes.map((c) => c.now) : []))))
    if (fresh.some((o) => rows.knows(o.id))) throw apart()
    const last = operations.findLast((o) => o.kind === 'change')?.id ?? null
    for (const o of fresh) if (o.kind === 'name' && rows.get(o.entry)) rows.nameEntry(o.entry, o.name)

    const moves = fresh.filter((o) => o.kind !== 'name')
    let way: 'on' | 'joined' | 'aside' = 'on'
    if (moves.length > 0 && from !== version.head)
      way = joins(rows, version.head, from, moves) ? 'joined' : 'aside'
    let place = way === 'joined' ? version.head : from
    let development = way === 'on' || way === 'joined' ? version.development : this.settingsAt(rows, place)
    let tip = way === 'aside' ? place : version.tip
    for (const o of fresh) {
      if (o.kind === 'change') {
        if (way !== 'joined' && o.parent !== place) throw apart()
        const before = development
        development = applyChanges(before, o.changes)
        // told from what is there, so that it can be taken back to just that
        rows.append({ ...o, parent: place, changes: changesBetween(before, development) }, development)
        place = tip = o.id
      } else if (o.kind === 'go') {
        if (o.tip !== null && !rows.get(o.tip)) throw apart()
        development = this.settingsAt(rows, o.to)
        tip = rows.leadsBack(o.tip, o.to) ? o.tip : o.to
        place = o.to
        rows.note(o.id, 'go', o.to)
      } else rows.note(o.id, 'name', o.entry, o.name ?? '')
    }
    if (fresh.length > 0) {
      const stands =
        way === 'aside' ? {} : { head: place, tip, development, edited: isEdited(version.begun, development) }
      tx.update(versions)
        .set({ ...stands, revision: version.revision + 1, changed: new Date().toISOString() })
        .where(eq(versions.id, id))
        .run()
      if (way !== 'aside') this.tell(tx, version.frameId)
    }
    const now = this.require(id, tx)
    if (way === 'on' && (fresh.length > 0 || now.head === from))
      return { outcome: 'appended', revision: now.revision }
    const counts = way !== 'aside' && (last === null || rows.leadsBack(now.head, last))
    const described = this.describe(tx, now)
    return counts ? { outcome: 'joined', version: described } : { outcome: 'aside', version: described, last }
  }

  /** Entries of a version's log, the newest first. */
  log(id: string, before: number, most: number): LogPage {
    const { begun } = this.require(id)
    const entries = new LogRows(this.db, id, begun, this.hot).page(before, most + 1)
    return { entries: entries.slice(0, most), more: entries.length > most }
  }

  /** The settings at a place of a version's log. @throws HttpProblem 404 where there is no such place */
  at(id: string, place: LogPlace): { development: Development; entries: LogEntry[] } {
    const rows = new LogRows(this.db, id, this.require(id).begun, this.hot)
    if (place !== null && !rows.get(place)) throw notFound('entry')
    return { development: rows.developmentAt(place), entries: rows.behind(place, NEAR_ENTRIES) }
  }

  setView(id: string, view: VersionView): void {
    this.require(id)
    this.db.update(versions).set({ view }).where(eq(versions.id, id)).run()
  }

  rename(id: string, name: string): Version {
    const { frameId } = this.require(id)
    this.db.transaction((tx) => {
      tx.update(versions).set({ name }).where(eq(versions.id, id)).run()
      this.tell(tx, frameId)
    })
    this.onChange?.()
    return this.get(id)
  }

  /** Puts a frame's versions into an order; those not named follow. */
  order(frameId: string, ids: readonly string[]): void {
    const known = this.rowsOf(frameId).map((row) => row.id)
    const wanted = [...ids.filter((id) => known.includes(id)), ...known.filter((id) => !ids.includes(id))]
    this.rearrange(frameId, (tx) => {
      for (const [position, id] of wanted.entries())
        tx.update(versions).set({ position }).where(eq(versions.id, id)).run()
    })
  }

  /** Has the sheet show a version. */
  show(id: string): void {
    const { frameId } = this.require(id)
    this.rearrange(frameId, (tx) => {
      tx.update(frames).set({ shown: id }).where(eq(frames.id, frameId)).run()
    })
  }

  /** Takes a version away; it can be taken back. @throws HttpProblem 409 where it is the only one */
  remove(id: string): void {
    const { frameId } = this.require(id)
    if (this.rowsOf(frameId).length < 2)
      throw new HttpProblem(409, 'last', 'A frame keeps at least one version.')
    this.rearrange(frameId, (tx) => {
      tx.update(versions).set({ deleted: new Date().toISOString() }).where(eq(versions.id, id)).run()
      tx.update(frames)
        .set({ shown: null })
        .where(and(eq(frames.id, frameId), eq(frames.shown, id)))
        .run()
    })
  }

  takeBack(id: string): Version {
    const row = this.hot.version.get({ id })
    if (!row) throw notFound('version')
    this.rearrange(row.frameId, (tx) => {
      tx.update(versions).set({ deleted: null }).where(eq(versions.id, id)).run()
    })
    return this.get(id)
  }

  /** Versions of a frame that were deleted. */
  removed(frameId: string): { id: string; name: string }[] {
    return this.db
      .select({ id: versions.id, name: versions.name })
      .from(versions)
      .where(and(eq(versions.frameId, frameId), isNotNull(versions.deleted)))
      .orderBy(asc(versions.position))
      .all()
  }

  /** All versions of a frame with their whole logs, those that were deleted too, to be kept outside of the database. */
  kept(frameId: string): KeptVersion[] {
    return this.allOf(frameId).map((row) => {
      const version = this.read(row)
      const { id, name, begun, begunAs, head, tip, development, revision, changed, deleted } = version
      const rows = new LogRows(this.db, id, begun, this.hot)
      return {
        ...{ id, name, begunAs, head, tip, revision, changed, view: viewOf(version) },
        ...(!isStart(begun) && { begun }),
        ...(changesBetween(begun, development).length > 0 && { settings: development }),
        entries: rows.page(Number.MAX_SAFE_INTEGER, MOST_KEPT).reverse(),
        ...(deleted !== null && { deleted }),
      }
    })
  }

  /**
   * Gives a frame versions that were kept outside of the database, after those that it has.
   * @returns the ids that they have now, in their order
   * @throws HttpProblem where one speaks of bulk data that is not there
   */
  restore(tx: Tx, frameId: string, kept: readonly KeptVersion[]): string[] {
    const next = (this.allOf(frameId, tx).at(-1)?.position ?? -1) + 1
    const ids = kept.map((version, i) => putBack(tx, this.hot, frameId, next + i, version))
    this.tell(tx, frameId)
    return ids
  }

  /** All versions of a frame, those that were deleted too. */
  idsOf(tx: Tx, frameId: string): string[] {
    return this.allOf(frameId, tx).map((row) => row.id)
  }

  /** The only version of a frame, if nothing was ever done to it. */
  untouched(tx: Tx, frameId: string): string | undefined {
    const [row, another] = this.allOf(frameId, tx)
    return row && !another && row.revision === 0 && row.state === null && row.head === null
      ? row.id
      : undefined
  }

  /** Forgets a version that nothing was done to, in favour of others. */
  giveWay(tx: Tx, id: string): void {
    tx.delete(versions).where(eq(versions.id, id)).run()
  }

  /** Forgets all versions of frames that are no more. */
  forget(tx: Tx, frameIds: readonly string[]): void {
    const theirs = tx
      .select({ id: versions.id })
      .from(versions)
      .where(inArray(versions.frameId, [...frameIds]))
    tx.delete(log).where(inArray(log.versionId, theirs)).run()
    tx.delete(versions)
      .where(inArray(versions.frameId, [...frameIds]))
      .run()
  }

  private settingsAt(rows: LogRows, place: LogPlace): Development {
    if (place !== null && !rows.get(place)) throw apart()
    return rows.developmentAt(place)
  }

  /** Changes which versions a frame has, and which of them the sheet shows. */
  private rearrange(frameId: string, change: (tx: Tx) => void): void {
    this.db.transaction((tx) => {
      const before = this.shownIn(tx, frameId)
      change(tx)
      this.tell(tx, frameId)
      // a thumbnail is named by the revision alone: another version may be at the same one
      const thumb = `past-${this.news.next(tx)}`
      if (this.shownIn(tx, frameId) !== before)
        tx.update(frames).set({ thumb }).where(eq(frames.id, frameId)).run()
    })
    this.onChange?.()
  }

  /** The version that the sheet shows. */
  private shownIn(tx: Tx, frameId: string): string | undefined {
    const row = tx.select({ shown: frames.shown }).from(frames).where(eq(frames.id, frameId)).get()
    return row?.shown ?? this.rowsOf(frameId, tx)[0]?.id
  }

  /** Has pages and thumbnails know that a frame's versions changed. */
  private tell(tx: Tx, frameId: string): void {
    const edited = this.hot.anyEdited.get({ frameId }) !== undefined
    this.hot.tellFrame.run({ id: frameId, edited, changed: this.news.next(tx) })
  }

  private allOf(frameId: string, db: Db | Tx = this.db): VersionRow[] {
    return db
      .select()
      .from(versions)
      .where(eq(versions.frameId, frameId))
      .orderBy(asc(versions.position))
      .all()
  }

  private rowsOf(frameId: string, db: Db | Tx = this.db): VersionRow[] {
    return this.allOf(frameId, db).filter((row) => row.deleted === null)
  }

  /** @throws HttpProblem 404 where there is no such version */
  private require(id: string, tx?: Tx): Kept {
    const row = this.hot.version.get({ id })
    if (!row || row.deleted !== null) throw notFound('version')
    return this.read(row, tx)
  }

  /** A row with its settings read; one from before there was a log is given its log first. */
  private read(row: VersionRow, tx?: Tx): Kept {
    if (row.begun === null) {
      const convert = (inside: Tx) => this.unroll(inside, row)
      if (tx) convert(tx)
      else this.db.transaction(convert)
      return this.read(this.hot.version.get({ id: row.id })!, tx)
    }
    return readable(row, () => {
      const begun = readStored(row.begun)
      return {
        ...row,
        begun,
        development: row.development === null ? begun : readDevelopment(row.development),
      }
    })
  }

  private unroll(tx: Tx, row: VersionRow): void {
    const { begun, begunAs, entries, head, view } = readable(row, () => unrollOldState(row.state))
    const set = { begun, begunAs, view, state: null }
    tx.update(versions).set(set).where(eq(versions.id, row.id)).run()
    if (entries.length > 0) this.extend(tx, row, begun, entries, head)
  }

  /** Appends entries one after another to a log that is empty, and has the version stand at one of them. */
  private extend(
    tx: Tx,
    row: { id: string; changed: string },
    begun: Development,
    entries: readonly NewEntry[],
    head = entries.length,
  ): void {
    const rows = new LogRows(tx, row.id, begun, this.hot)
    const ids = entries.map(() => randomUUID())
    const states = [begun]
    for (const [i, { label, changes }] of entries.entries()) {
      states.push(applyChanges(states[i], changes))
      const parent = i > 0 ? ids[i - 1] : null
      rows.append({ id: ids[i], parent, label, changes: [...changes], time: row.changed }, states[i + 1])
    }
    const development = states[head]
    tx.update(versions)
      .set({
        ...{ head: ids[head - 1] ?? null, tip: ids.at(-1), development },
        edited: isEdited(begun, development),
      })
      .where(eq(versions.id, row.id))
      .run()
  }

  private describe(db: Db | Tx, row: Kept): Version {
    const rows = new LogRows(db, row.id, row.begun, this.hot)
    const ahead = rows.behind(row.tip, NEAR_ENTRIES, row.head)
    return {
      ...{ id: row.id, frameId: row.frameId, name: row.name, revision: row.revision, begun: row.begun },
      ...{ begunAs: row.begunAs, head: row.head, tip: row.tip, development: row.development },
      entries: [...rows.behind(row.head, NEAR_ENTRIES), ...ahead],
      view: viewOf(row),
    }
  }
}

const viewOf = ({ view }: VersionRow): VersionView => VersionViewSchema.catch({ pins: [] }).parse(view ?? {})

const apart = () =>
  new HttpProblem(
    409,
    'apart',
    'This change belongs to a history that the library does not know. Reload the page.',
  )

/** @throws HttpProblem where what is stored cannot be read; it is left as it is */
function readable<T>({ name }: VersionRow, read: () => T): T {
  try {
    return read()
  } catch (error) {
    const why = error instanceof RangeError ? error.message : 'They are left as they are.'
    throw new HttpProblem(409, 'unreadable', `The settings of “${name}” cannot be read. ${why}`)
  }
}

/** Where a log stands after an operation. */
const placeAfter = (o: Operation, place: LogPlace): LogPlace =>
  o.kind === 'change' ? o.id : o.kind === 'go' ? o.to : place

/** Whether changes made elsewhere in a log can be made where it stands as well: nothing of theirs was touched. */
function joins(rows: LogRows, head: LogPlace, from: LogPlace, moves: readonly Operation[]): boolean {
  const own = moves.flatMap((o) => (o.kind === 'change' ? o.changes : []))
  if (moves.some((o) => o.kind !== 'change')) return false
  if (!rows.leadsBack(head, from) && !rows.leadsBack(from, head)) return false
  const way = wayBetween(rows, from, head)
  if (!way) return false
  const others = [...way.back, ...way.forward].flatMap((entry) => entry.changes)
  return commonParts(own, others).length === 0
}

/** "Version 3", or the first such name that is free. */
function freeName(known: readonly VersionRow[]): string {
  const names = new Set(known.map((v) => v.name))
  let n = known.length + 1
  while (names.has(`Version ${n}`)) n++
  return `Version ${n}`
}
