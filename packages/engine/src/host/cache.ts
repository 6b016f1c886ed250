import { rasterBytes, strideFor, type Arena, type Block, type Raster } from '@dunkelkammer/core'
import { Superseded } from './pool'

/** A raster in the arena that several requests may be reading; freed when dropped and no longer read. */
export class Kept {
  private readers = 0
  private dropped = false

  constructor(
    private readonly arena: Arena,
    private readonly block: Block,
    readonly raster: Raster,
    private readonly freed?: (bytes: number) => void,
  ) {}

  get bytes(): number {
    return this.block.size
  }

  get read(): boolean {
    return this.readers > 0
  }

  hold(): void {
    this.readers++
  }

  release(): void {
    this.readers--
    this.sweep()
  }

  drop(): void {
    this.dropped = true
    this.sweep()
  }

  private sweep(): void {
    if (!this.dropped || this.readers > 0 || this.block.size === 0) return
    const bytes = this.block.size
    this.arena.free({ ...this.block })
    this.block.size = 0
    this.freed?.(bytes)
  }
}

interface Entry {
  section: Section
  key: string
  slot?: string
  stop: AbortController
  result: Promise<Kept>
  /** Once it is there. */
  kept?: Kept
  /** Who waits for it, and has not taken hold yet. */
  waiting: number
}

/** How a result is kept. */
export interface Keeping {
  /** Of what has the same slot the newest is wanted: older ones that are not there yet are stopped. */
  slot?: string
  /** And older ones that are there are not worth keeping. */
  newest?: boolean
}

/**
 * What the layers of all pictures keep, within one budget: where it is passed, what was used longest ago and is not
 * being read goes first.
 */
export class Cache {
  /** The least recently used first. */
  private readonly entries = new Set<Entry>()
  private inUse = 0

  /** @param budget bytes */
  constructor(
    private readonly arena: Arena,
    private readonly budget: number,
  ) {}

  /** Bytes of all rasters that are kept or being read. */
  get used(): number {
    return this.inUse
  }

  /** A part of the cache with names of its own. @param least bytes that the budget must reach for it */
  section(least = 0): Section {
    return new Section(this, least)
  }

  /** Room for a picture, making room for it where the budget says so; whoever has it must drop it. */
  room(width: number, height: number, format: 'f16' | 'f32', planes = 3): Kept {
    const shape = { width, height, stride: strideFor(width), planes, format }
    return this.bytes(rasterBytes(shape) + 64, shape)
  }

  /** Room for bytes. @param shape what the raster says of them */
  bytes(bytes: number, shape: Omit<Raster, 'offset'> = NOTHING): Kept {
    this.trim(this.limit - bytes)
    const block = this.arena.alloc(bytes)
    this.inUse += block.size
    return new Kept(this.arena, block, { ...shape, offset: block.offset }, (freed) => (this.inUse -= freed))
  }

  /** Drops what is not being read until no more than so many bytes are left, if that can be had. */
  trim(bytes: number): void {
    for (const entry of this.entries) {
      if (this.inUse <= bytes) return
      if (entry.kept && !entry.kept.read && entry.waiting === 0) this.drop(entry)
    }
  }

  /** @internal */
  add(entry: Entry): void {
    this.entries.add(entry)
  }

  /** @internal */
  touch(entry: Entry): void {
    if (this.entries.delete(entry)) this.entries.add(entry)
  }

  /** @internal */
  drop(entry: Entry): void {
    if (!this.entries.delete(entry)) return
    entry.section.forget(entry)
    entry.stop.abort()
    if (entry.kept) entry.kept.drop()
    else
      entry.result.then(
        (kept) => kept.drop(),
        () => undefined,
      )
  }

  private get limit(): number {
    let least = 0
    for (const { section } of this.entries) least = Math.max(least, section.least)
    return Math.max(this.budget, least)
  }
}

/** A raster without samples. */
export const NOTHING: Omit<Raster, 'offset'> = { width: 0, height: 0, stride: 0, planes: 3, format: 'f32' }

/** What one picture, or one owner of another kind, keeps. */
export class Section {
  private readonly entries = new Map<string, Entry>()
  private readonly slots = new Map<string, Entry>()

  constructor(
    readonly cache: Cache,
    readonly least: number,
  ) {}

  /**
   * The raster of `key`, computed once; held for the caller, who must release it.
   * @throws Superseded where it was stopped or dropped before it was there
   */
  async take<K extends Kept>(
    key: string,
    make: (stop: AbortSignal) => Promise<K>,
    { slot, newest }: Keeping = {},
  ): Promise<K> {
    let entry = this.entries.get(key)
    if (slot) this.supersede(slot, entry, newest)
    if (!entry) {
      const stop = new AbortController()
      const made: Entry = { section: this, key, slot, stop, result: make(stop.signal), waiting: 0 }
      entry = made
      this.entries.set(key, made)
      this.cache.add(made)
      made.result.then(
        (kept) => (made.kept = kept),
        () => this.cache.drop(made),
      )
    } else this.cache.touch(entry)
    if (slot) this.slots.set(slot, entry)
    entry.waiting++
    try {
      const kept = (await entry.result) as K
      if (entry.stop.signal.aborted) throw new Superseded()
      kept.hold()
      return kept
    } finally {
      entry.waiting--
    }
  }

  /** What is there at once, made now where it is not; held for the caller, who must release it. */
  takeNow(key: string, make: () => Kept): Kept {
    let entry = this.entries.get(key)
    if (entry?.kept) this.cache.touch(entry)
    else {
      const kept = make()
      entry = {
        section: this,
        key,
        stop: new AbortController(),
        result: Promise.resolve(kept),
        kept,
        waiting: 0,
      }
      this.entries.set(key, entry)
      this.cache.add(entry)
    }
    entry.kept!.hold()
    return entry.kept!
  }

  /** What is there under a key; not held. */
  peek(key: string): Kept | undefined {
    return this.entries.get(key)?.kept
  }

  /** Has what is there known by another key from now on; false where it is being read or waited for. */
  rename(key: string, other: string): boolean {
    const entry = this.entries.get(key)
    if (!entry?.kept || entry.kept.read || entry.waiting > 0 || this.entries.has(other)) return false
    this.entries.delete(key)
    entry.key = other
    this.entries.set(other, entry)
    this.cache.touch(entry)
    return true
  }

  /** Whether the result of a key is there or on its way. */
  has(key: string): boolean {
    return this.entries.has(key)
  }

  /** Drops everything, or what a key is known by. */
  clear(which: (key: string) => boolean = () => true): void {
    for (const entry of [...this.entries.values()]) if (which(entry.key)) this.cache.drop(entry)
  }

  /** @internal */
  forget(entry: Entry): void {
    if (this.entries.get(entry.key) === entry) this.entries.delete(entry.key)
    if (entry.slot && this.slots.get(entry.slot) === entry) this.slots.delete(entry.slot)
  }

  private supersede(slot: string, by: Entry | undefined, newest?: boolean): void {
    const old = this.slots.get(slot)
    if (old && old !== by && (newest || !old.kept)) this.cache.drop(old)
  }
}
