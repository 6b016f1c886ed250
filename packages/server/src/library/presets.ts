import {
  bulkNamesIn,
  presetFile,
  PresetError,
  readPreset,
  sameSettings,
  SHIPPED_PRESETS,
  type Preset,
} from '@dunkelkammer/core'
import type { PresetChange, PresetEntry, Presets, ReadPresets } from '@dunkelkammer/contract'
import { asc, eq, inArray } from 'drizzle-orm'
import { randomUUID } from 'node:crypto'
import { z } from 'zod'
import { schema, type Db, type Tx } from '../db/open'
import { HttpProblem, notFound } from '../problem'
import { requireBulk, type Bulk } from './bulk'
import { readPresetFiles } from './presetFiles'

const { presets, settings } = schema
const ORDER = 'order of presets'
const HIDDEN = 'hidden groups of presets'
const MOST = 5000

const shipped = new Map(SHIPPED_PRESETS.map((p) => [p.id, p]))
const NamesSchema = z.array(z.string()).catch([])

/** The presets of a library: those that come with Dunkelkammer, as the user has left them, and the user's own. */
export class PresetShelf {
  constructor(
    private readonly db: Db,
    private readonly bulk: Bulk,
  ) {}

  list(): Presets {
    const rows = this.db.select().from(presets).orderBy(asc(presets.created)).all()
    const known = new Map(rows.map((row) => [row.id, row]))
    const entries = [
      ...SHIPPED_PRESETS.filter(({ id }) => !known.has(id)).map(({ id, ...preset }) => entryOf(id, preset)),
      ...rows.filter((row) => !row.removed).flatMap((row) => readRow(row.id, row.file)),
    ]
    const order = new Map(this.setting(ORDER).map((id, at) => [id, at]))
    const shipping = new Map(SHIPPED_PRESETS.map(({ id }, at) => [id, at]))
    // what has not been put anywhere follows: shipped ones in their order, then the user's own
    const place = ({ id }: PresetEntry) => order.get(id) ?? order.size + (shipping.get(id) ?? MOST)
    return {
      presets: entries.sort((a, b) => place(a) - place(b)),
      hidden: this.setting(HIDDEN),
      restorable: rows.filter((row) => shipped.has(row.id)).length,
    }
  }

  /** @throws HttpProblem 404 */
  get(id: string): PresetEntry {
    const entry = this.list().presets.find((p) => p.id === id)
    if (!entry) throw notFound('preset')
    return entry
  }

  add(preset: Preset): PresetEntry {
    refuseMore(this.list().presets.length)
    return this.put(this.db, randomUUID(), preset)
  }

  change(id: string, change: PresetChange): PresetEntry {
    return this.put(this.db, id, { ...presetOf(this.get(id)), ...change })
  }

  /** Takes a preset off the shelf; it can be taken back. */
  remove(id: string): void {
    const preset = this.get(id)
    this.put(this.db, id, preset)
    this.db.update(presets).set({ removed: true }).where(eq(presets.id, id)).run()
  }

  takeBack(id: string): PresetEntry {
    const { changes } = this.db.update(presets).set({ removed: false }).where(eq(presets.id, id)).run() as {
      changes: number
    }
    if (changes === 0) throw notFound('preset')
    // one that was removed as it came is again as it comes
    const entry = this.get(id)
    if (entry.ships && !entry.changed) this.db.delete(presets).where(eq(presets.id, id)).run()
    return this.get(id)
  }

  /** Puts presets into an order; those not named follow. */
  order(ids: readonly string[]): Presets {
    const known = this.list().presets.map((p) => p.id)
    const named = [...new Set(ids)].filter((id) => known.includes(id))
    this.set(ORDER, [...named, ...known.filter((id) => !named.includes(id))])
    return this.list()
  }

  hide(groups: readonly string[]): Presets {
    this.set(HIDDEN, [...new Set(groups)])
    return this.list()
  }

  /** Brings shipped presets back as they came. What the user has made of one stays as a preset of its own. */
  restore(): Presets {
    this.db.transaction((tx) => {
      const ids = [...shipped.keys()]
      const rows = tx.select().from(presets).where(inArray(presets.id, ids)).all()
      const names = this.list().presets.map((p) => p.name)
      for (const row of rows) {
        const [entry] = readRow(row.id, row.file)
        if (entry?.changed && !row.removed)
          this.put(tx, randomUUID(), { ...presetOf(entry), name: freeName(`${entry.name}, changed`, names) })
      }
      tx.delete(presets).where(inArray(presets.id, ids)).run()
    })
    return this.list()
  }

  /** What a file holds: a preset, or an archive of them. @throws HttpProblem with a sentence where it is neither */
  read(name: string, bytes: Uint8Array): ReadPresets {
    const { found, problems } = readPresetFiles(name, bytes)
    const all = this.list().presets
    return {
      found: found.map(({ preset, leftOut, bulk }) => ({
        file: presetFile(preset, bulk) as ReadPresets['found'][number]['file'],
        leftOut,
        same: all.find((p) => p.name === preset.name && p.group === preset.group)?.id,
      })),
      problems,
    }
  }

  /** Takes presets in that were read, all or none. @returns how many */
  import(wanted: readonly { file?: unknown; how: 'beside' | 'replace' }[]): number {
    const read = wanted.map(({ file, how }) => {
      try {
        return { ...readPreset(file), how }
      } catch (error) {
        if (error instanceof PresetError) throw new HttpProblem(422, 'unreadable', error.message)
        throw error
      }
    })
    const all = this.list().presets
    this.db.transaction((tx) => {
      for (const { preset, bulk, how } of read) {
        for (const [name, bytes] of bulk) this.bulk.put(name, bytes)
        const at = all.findIndex((p) => p.name === preset.name && p.group === preset.group)
        if (at >= 0 && how === 'replace') all[at] = this.put(tx, all[at].id, preset)
        else {
          refuseMore(all.length)
          const names = at < 0 ? [] : all.map((p) => p.name)
          all.push(this.put(tx, randomUUID(), { ...preset, name: freeName(preset.name, names) }))
        }
      }
    })
    return read.length
  }

  /** A preset as its file holds it, with what it speaks of. */
  file(id: string): ReturnType<typeof presetFile> {
    const preset = presetOf(this.get(id))
    const names = [...bulkNamesIn(preset.portion)]
    return presetFile(preset, new Map(names.map((name) => [name, this.bulk.get(name)])))
  }

  private put(tx: Db | Tx, id: string, preset: Preset): PresetEntry {
    requireBulk(tx, bulkNamesIn(preset.portion))
    const file = presetFile(presetOf(preset))
    const row = { id, file, removed: false, created: new Date().toISOString() }
    tx.insert(presets)
      .values(row)
      .onConflictDoUpdate({ target: presets.id, set: { file, removed: false } })
      .run()
    return entryOf(id, presetOf(preset))
  }

  private setting(key: string): string[] {
    return NamesSchema.parse(this.db.select().from(settings).where(eq(settings.key, key)).get()?.value)
  }

  private set(key: string, value: readonly string[]): void {
    this.db
      .insert(settings)
      .values({ key, value })
      .onConflictDoUpdate({ target: settings.key, set: { value } })
      .run()
  }
}

/** @throws HttpProblem 409 where there are as many presets as may be */
function refuseMore(count: number): void {
  if (count >= MOST)
    throw new HttpProblem(409, 'full', `There are ${MOST} presets already; remove some first.`)
}

const presetOf = ({ name, group, notes, scalable, portion }: Preset): Preset => ({
  ...{ name, group, notes, scalable, portion },
})

function entryOf(id: string, preset: Preset): PresetEntry {
  const came = shipped.get(id)
  return {
    ...{ id, ...preset, ships: came !== undefined },
    changed: came !== undefined && !sameSettings(presetOf(came), presetOf(preset)),
  }
}

/** A preset of the library; one of a newer Dunkelkammer that holds nothing that is known is not offered. */
function readRow(id: string, file: unknown): PresetEntry[] {
  try {
    // what it speaks of lies in the library, not in the row
    return [entryOf(id, readPreset(file, { whole: false }).preset)]
  } catch (error) {
    if (error instanceof PresetError) return []
    throw error
  }
}

/** A name that is not taken: "Calm", "Calm 2". */
function freeName(name: string, taken: readonly string[]): string {
  if (!taken.includes(name)) return name
  for (let n = 2; ; n++) {
    const next = `${name.slice(0, 74)} ${n}`
    if (!taken.includes(next)) return next
  }
}
