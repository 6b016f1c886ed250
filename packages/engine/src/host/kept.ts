import type { Arena, Block, Raster } from '@dunkelkammer/core'
import { Superseded } from './pool'

/** A raster in the arena that several requests may be reading; freed when let go and no longer read. */
export class Kept {
  private readers = 0
  private dropped = false

  constructor(
    private readonly arena: Arena,
    private readonly block: Block,
    readonly raster: Raster,
  ) {}

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
    this.arena.free({ ...this.block })
    this.block.size = 0
  }
}

/** Holds the newest result of one kind under its key, and stops computing what another key has superseded. */
export class Cell {
  private current?: { key: string; stop: AbortController; result: Promise<Kept>; done: boolean }

  /**
   * The kept raster of `key`, computed once; held for the caller, who must release it.
   * @throws Superseded where another key came in between
   */
  async take(key: string, make: (signal: AbortSignal) => Promise<Kept>): Promise<Kept> {
    if (this.current?.key !== key) {
      this.clear()
      const stop = new AbortController()
      const mine = { key, stop, result: make(stop.signal), done: false }
      this.current = mine
      mine.result.then(
        () => (mine.done = true),
        () => {
          if (this.current === mine) this.current = undefined
        },
      )
    }
    const { result, stop } = this.current!
    const kept = await result
    if (stop.signal.aborted) throw new Superseded()
    kept.hold()
    return kept
  }

  /** Whether the result of `key` is there already. */
  holds(key: string): boolean {
    return this.current?.key === key && this.current.done
  }

  clear(): void {
    const old = this.current
    this.current = undefined
    if (!old) return
    old.stop.abort()
    old.result.then(
      (kept) => kept.drop(),
      () => undefined,
    )
  }
}

/** Holds the last few results of one kind, each under its key. Small ones: none is stopped for the sake of another. */
export class Shelf {
  private readonly entries = new Map<string, Promise<Kept>>()

  constructor(private readonly most: number) {}

  /** The kept raster of `key`, computed once; held for the caller, who must release it. */
  async take(key: string, make: () => Promise<Kept>): Promise<Kept> {
    const known = this.entries.get(key)
    // the newest last
    this.entries.delete(key)
    const result = known ?? make()
    this.entries.set(key, result)
    result.catch(() => {
      if (this.entries.get(key) === result) this.entries.delete(key)
    })
    for (const old of this.entries.keys()) {
      if (this.entries.size <= this.most) break
      this.drop(old)
    }
    const kept = await result
    kept.hold()
    return kept
  }

  /** Whether the result of `key` is there or on its way. */
  has(key: string): boolean {
    return this.entries.has(key)
  }

  clear(): void {
    for (const key of [...this.entries.keys()]) this.drop(key)
  }

  private drop(key: string): void {
    const result = this.entries.get(key)
    this.entries.delete(key)
    // after those who wait for it already
    result?.then(
      (kept) => kept.drop(),
      () => undefined,
    )
  }
}
