import {
  decodeFill,
  decodePath,
  RawError,
  type FillMap,
  type ColourTable,
  type Place,
  type Surveyed,
} from '@dunkelkammer/core'
import type { LensAnswer, LensWish } from './lenses'
import type { Store } from './store'

/** Where tables of colours come from: by the name that settings speak of. */
export type TableSource = (name: string) => Promise<ColourTable>
/** Where bulk data of settings comes from: by its name. */
export type BulkSource = (name: string) => Promise<Uint8Array>

/** Each kind of resource: what it is asked for by, what comes from its source, and what the engine makes of it. */
interface Kinds {
  table: { id: string; given: ColourTable; value: Surveyed }
  path: { id: string; given: Uint8Array; value: readonly Place[] }
  fill: { id: string; given: Uint8Array; value: FillMap }
  lens: { id: LensWish; given: LensAnswer | undefined; value: LensAnswer | undefined }
}
export type Kind = keyof Kinds
export type ResourceValue<K extends Kind> = Kinds[K]['value']
export type Source<K extends Kind> = (id: Kinds[K]['id']) => Promise<Kinds[K]['given']>

/** Something that is in use until it is released. */
export interface Releasable {
  release(): void
}

export interface Resource<T> extends Releasable {
  value: T
}

interface Loaded<T> {
  value: T
  bytes: number
  free?(): void
}

interface KindOf<K extends Kind> {
  /** Without a source. @throws RawError */
  none(): Loaded<Kinds[K]['value']>
  /** Why it cannot be had, where its source fails. */
  fails(error: Error): Error
  load(given: Kinds[K]['given'], store: Store): Loaded<Kinds[K]['value']>
}

const KINDS: { readonly [K in Kind]: KindOf<K> } = {
  table: {
    none() {
      throw new RawError('unsupported', 'The table of colours of this look is not at hand.')
    },
    fails: ({ message }) =>
      new RawError('unsupported', `The table of colours of this look cannot be had: ${message}`),
    load({ size, colours }, store) {
      // four numbers an entry
      const padded = new Float32Array(size ** 3 * 4)
      for (let i = 0; i < size ** 3; i++) padded.set(colours.subarray(3 * i, 3 * i + 3), 4 * i)
      const block = store.put(new Uint8Array(padded.buffer))
      const value = { at: block.offset, width: size, height: size }
      return { value, bytes: block.size, free: () => store.arena.free(block) }
    },
  },
  path: {
    none() {
      throw new RawError('unsupported', 'What was painted for a patch is not at hand.')
    },
    fails: ({ message }) =>
      new RawError('unsupported', `What was painted for a patch cannot be had: ${message}`),
    load(bytes) {
      try {
        const value = decodePath(bytes)
        return { value, bytes: value.length * 32 }
      } catch {
        throw new RawError('damaged', 'What was painted for a patch is damaged.')
      }
    },
  },
  fill: {
    none() {
      throw new RawError('unsupported', 'What was found to fill a patch is not at hand.')
    },
    fails: ({ message }) =>
      new RawError('unsupported', `What was found to fill a patch cannot be had: ${message}`),
    load(bytes) {
      try {
        const value = decodeFill(bytes)
        return { value, bytes: value.boxes.reduce((sum, { right }) => sum + right.byteLength * 2, 64) }
      } catch {
        throw new RawError('damaged', 'What was found to fill a patch is damaged.')
      }
    },
  },
  lens: {
    none: () => ({ value: undefined, bytes: 0 }),
    fails: (error) => error,
    load: (value) => ({ value, bytes: 4096 }),
  },
}

interface Entry {
  kind: Kind
  loaded: Promise<Loaded<unknown>>
  /** Once it is there. */
  bytes: number
  users: number
  free?(): void
  forgotten?: boolean
}

/** Bytes of resources that nobody uses just now, and are kept all the same. */
const SPARE = 32e6

/** What settings name and do not hold: one way to have it, one budget, and freed when it is no longer used. */
export class Resources {
  private readonly sources: { [K in Kind]?: Source<K> } = {}
  private readonly generations: Record<Kind, number> = { table: 0, path: 0, fill: 0, lens: 0 }
  /** The least recently used first. */
  private readonly entries = new Map<string, Entry>()

  constructor(
    private readonly store: Store,
    private readonly spare = SPARE,
  ) {}

  /** Says where a kind is to be had; what was had before is asked for anew. */
  provide<K extends Kind>(kind: K, source: Source<K>): void {
    Object.assign(this.sources, { [kind]: source })
    this.forget(kind)
  }

  /** What has another number here may be something else under the same name. */
  generation(kind: Kind): number {
    return this.generations[kind]
  }

  /** Has a kind asked for anew: others may be there now. */
  forget(kind: Kind): void {
    this.generations[kind]++
    for (const [key, entry] of this.entries)
      if (entry.kind === kind) {
        this.entries.delete(key)
        entry.forgotten = true
        if (entry.users === 0) entry.free?.()
      }
  }

  /** @throws RawError with a sentence where it cannot be had */
  async get<K extends Kind>(kind: K, id: Kinds[K]['id']): Promise<Resource<Kinds[K]['value']>> {
    const key = `${kind} ${JSON.stringify(id)}`
    const entry = this.entries.get(key) ?? this.ask(kind, id, key)
    this.entries.delete(key)
    if (!entry.forgotten) this.entries.set(key, entry)
    entry.users++
    let held = true
    const release = () => {
      if (!held) return
      held = false
      entry.users--
      if (entry.forgotten && entry.users === 0) entry.free?.()
      this.trim()
    }
    try {
      const { value } = (await entry.loaded) as Loaded<Kinds[K]['value']>
      return { value, release }
    } catch (error) {
      release()
      throw error
    }
  }

  private ask<K extends Kind>(kind: K, id: Kinds[K]['id'], key: string): Entry {
    const entry: Entry = { kind, loaded: this.load(kind, id), bytes: 0, users: 0 }
    entry.loaded.then(
      ({ bytes, free }) => {
        Object.assign(entry, { bytes, free })
        if (entry.forgotten && entry.users === 0) free?.()
      },
      // another time it may be there
      () => {
        entry.forgotten = true
        if (this.entries.get(key) === entry) this.entries.delete(key)
      },
    )
    return entry
  }

  private async load<K extends Kind>(kind: K, id: Kinds[K]['id']): Promise<Loaded<Kinds[K]['value']>> {
    const { none, fails, load } = KINDS[kind]
    const source = this.sources[kind]
    if (!source) return none()
    let given: Kinds[K]['given']
    try {
      given = await source(id)
    } catch (error) {
      throw fails(error as Error)
    }
    return load(given, this.store)
  }

  private trim(): void {
    let spare = 0
    for (const { users, bytes } of this.entries.values()) if (users === 0) spare += bytes
    for (const [key, entry] of this.entries) {
      if (spare <= this.spare) return
      if (entry.users > 0 || !entry.bytes) continue
      spare -= entry.bytes
      this.entries.delete(key)
      entry.free?.()
    }
  }
}
