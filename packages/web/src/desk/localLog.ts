import {
  applyChanges,
  changesBetween,
  changesOf,
  goAlong,
  gestureBack,
  joinedChanges,
  pathBack,
  wayBetween,
  type Change,
  type Development,
  type Entry,
  type LogPlace,
  type Operation,
  type PresetMark,
} from '@dunkelkammer/core'
import { MAX_OPERATIONS, type LogEntry, type Version } from '@dunkelkammer/contract'

/** An entry as this page knows it; one that is not saved yet has no number. */
export type KnownEntry = Entry & { number?: number; name?: string }

/** Operations that were made one after another, and where the version stood before them. */
export interface Batch {
  base: LogPlace
  operations: Operation[]
}

/** Where the log stands after an operation. */
const placeAfter = (o: Operation, place: LogPlace): LogPlace =>
  o.kind === 'change' ? o.id : o.kind === 'go' ? o.to : place

/** Where the log stands after all of a batch. */
export const endOf = ({ base, operations }: Batch): LogPlace =>
  operations.reduce<LogPlace>((place, o) => placeAfter(o, place), base)

/**
 * The log of a version as far as this page knows it, with what is not saved yet. It computes nothing but settings;
 * saving is somebody else's business.
 */
export class LocalLog {
  private readonly entries = new Map<string, KnownEntry>()
  head: LogPlace
  tip: LogPlace
  development: Development
  /** What is still to be saved, the oldest first. The first may be on its way: it is not added to then. */
  readonly outbox: Batch[] = []
  sending = false

  constructor(version: Pick<Version, 'head' | 'tip' | 'development' | 'entries'>) {
    this.head = version.head
    this.tip = version.tip
    this.development = version.development
    this.learn(version.entries)
  }

  /** Takes in entries that the server has told of. */
  learn(entries: readonly LogEntry[]): void {
    for (const entry of entries) this.entries.set(entry.id, entry)
  }

  get(id: string): KnownEntry | undefined {
    return this.entries.get(id)
  }

  all(): KnownEntry[] {
    return [...this.entries.values()]
  }

  /**
   * Changes the settings. Changes of one gesture are one operation until it is on its way, and one step back.
   * @returns the operation, or nothing where nothing changed
   */
  change(
    to: Development,
    label: string,
    gesture: string | undefined,
    id: string,
    time: string,
    preset?: Omit<PresetMark, 'from'> & { from?: LogPlace },
  ): Operation | undefined {
    const changes = changesBetween(this.development, to)
    if (changes.length === 0) return undefined
    this.development = applyChanges(this.development, changes)
    const last = this.open()?.operations.at(-1)
    if (last?.kind === 'change' && gesture !== undefined && last.gesture === gesture) {
      Object.assign(last, { label, changes: joinedChanges(last.changes, changes) })
      if (preset && last.preset) last.preset = { ...last.preset, strength: preset.strength }
      this.put(last)
      return last
    }
    const made: Operation = {
      kind: 'change',
      id,
      parent: this.head,
      label,
      changes,
      time,
      ...(gesture && { gesture }),
      ...(preset && { preset: { from: this.head, ...preset } }),
    }
    this.put(made)
    this.add(made, this.head)
    this.head = this.tip = id
    return made
  }

  /** The entries that going back would take back, the latest first; nothing where there are none or they are not known. */
  back(): KnownEntry[] {
    const last = this.head === null ? undefined : this.entries.get(this.head)
    return last ? gestureBack(this, last) : []
  }

  /** The entries that going forward would bring, the earliest first. */
  forward(): KnownEntry[] {
    const ahead = pathBack(this, this.tip, this.head)?.reverse() ?? []
    const first = ahead.at(0)
    if (!first) return []
    const end = ahead.findIndex((e) => e.gesture === undefined || e.gesture !== first.gesture)
    return first.gesture === undefined ? [first] : end < 0 ? ahead : ahead.slice(0, end)
  }

  /** Whether more of the log has to be fetched for going back or forward from here. */
  get needs(): LogPlace | undefined {
    const missing = (from: LogPlace, to: LogPlace, most: number) => {
      for (let at = from, n = 0; at !== null && at !== to && n < most; n++) {
        const entry = this.entries.get(at)
        if (!entry) return at
        at = entry.parent
      }
      return undefined
    }
    return missing(this.head, null, ENOUGH) ?? missing(this.tip, this.head, Infinity)
  }

  /**
   * Goes to another place.
   * @param known the settings there, where not all entries in between are known
   * @returns the operation, or nothing where the settings there are not known
   */
  go(to: LogPlace, tip: LogPlace, id: string, known?: Development): Operation | undefined {
    const way = wayBetween(this, this.head, to)
    if (!way && !known) return undefined
    this.development = way ? goAlong(this.development, way) : known!
    const from = this.head
    this.head = to
    this.tip = tip
    const last = this.open()?.operations.at(-1)
    // back and forth: only where it ends counts
    if (last?.kind === 'go') {
      Object.assign(last, { to, tip })
      return last
    }
    const made: Operation = { kind: 'go', id, to, tip }
    this.add(made, from)
    return made
  }

  name(entry: string, name: string | null, id: string): Operation {
    const known = this.entries.get(entry)
    if (known) this.entries.set(entry, { ...known, name: name ?? undefined })
    const made: Operation = { kind: 'name', id, entry, name }
    this.add(made, this.head)
    return made
  }

  /** The batch that is to be sent next. */
  next(): Batch | undefined {
    while (this.outbox.length > 0) {
      const [batch] = this.outbox
      for (const o of [...batch.operations])
        if (o.kind === 'change' && o.changes.length === 0) this.leaveOut(batch, o)
      if (batch.operations.length > 0) return batch
      this.outbox.shift()
    }
    return undefined
  }

  /** A drag that came back to where it began has nothing to say. */
  private leaveOut(batch: Batch, { id, parent }: Operation & { kind: 'change' }): void {
    batch.operations = batch.operations.filter((o) => o.id !== id)
    for (const { operations } of this.outbox)
      for (const o of operations) {
        if (o.kind === 'change' && o.parent === id) this.put(Object.assign(o, { parent }))
        if (o.kind === 'go' && o.to === id) o.to = parent
        if (o.kind === 'go' && o.tip === id) o.tip = parent
      }
    for (const other of this.outbox) if (other.base === id) other.base = parent
    if (this.head === id) this.head = parent
    if (this.tip === id) this.tip = parent
    this.entries.delete(id)
  }

  /** What was sent has been taken down. */
  saved(): Batch | undefined {
    this.sending = false
    return this.outbox.shift()
  }

  /** Takes over how the version stands on the server; what is not saved yet and was made on top of it stays. */
  adopt(version: Version): void {
    this.learn(version.entries)
    this.head = version.head
    this.tip = version.tip
    this.development = version.development
    for (const batch of this.outbox) if (batch.base === this.head) batch.operations.forEach(this.again)
  }

  private again = (o: Operation): void => {
    if (o.kind === 'name') return
    const way = o.kind === 'go' ? wayBetween(this, this.head, o.to) : { back: [], forward: [o] }
    if (!way) return
    this.development = goAlong(this.development, way)
    this.head = placeAfter(o, this.head)
    this.tip = o.kind === 'go' ? o.tip : o.id
  }

  /** The settings at a place, where all entries in between are known. */
  developmentAt(place: LogPlace): Development | undefined {
    const way = wayBetween(this, this.head, place)
    return way && goAlong(this.development, way)
  }

  /** Whether a place lies on the branch that the version stands on. */
  leadsTo(place: LogPlace): boolean {
    return pathBack(this, this.tip, place) !== undefined
  }

  /** What was changed on the way to a place off the branch that the version stands on, as if at once. */
  changesAside(place: LogPlace): Change[] {
    const forward = wayBetween(this, this.head, place)?.forward ?? []
    return changesOf(forward)
  }

  private put({ kind: _, ...entry }: Operation & { kind: 'change' }): void {
    this.entries.set(entry.id, entry)
  }

  /** The batch that may be added to. */
  private open(): Batch | undefined {
    const last = this.outbox.at(-1)
    if (!last || (this.sending && this.outbox.length === 1)) return undefined
    return last.operations.length < MAX_OPERATIONS ? last : undefined
  }

  private add(operation: Operation, from: LogPlace): void {
    const open = this.open()
    if (open && endOf(open) === from) open.operations.push(operation)
    else this.outbox.push({ base: from, operations: [operation] })
  }
}

/** Entries behind the head that are kept at hand. */
const ENOUGH = 20
