/** A piece of the arena; free it exactly once. */
export interface Block {
  offset: number
  size: number
}

/** The picture does not fit the memory that the engine may use. */
export class ArenaFull extends Error {
  constructor(readonly wanted: number) {
    super(`This picture needs ${Math.ceil(wanted / 2 ** 20)} MB more memory than the engine may use.`)
    this.name = 'ArenaFull'
  }
}

const ALIGN = 64

/**
 * Book-keeping of one memory that only grows: first fit over a sorted list of gaps, neighbours merged on free.
 * It touches no bytes itself, so it can serve a memory that lives in another thread.
 */
export class Arena {
  private gaps: Block[] = []
  private end: number
  private inUse = 0
  private highest = 0

  /**
   * @param start first byte that may be given out
   * @param limit end of what may ever be given out
   * @param ensure called with the end address that must exist before a block is returned
   */
  constructor(
    start: number,
    private readonly limit: number,
    private readonly ensure: (end: number) => void,
  ) {
    this.end = Math.ceil(start / ALIGN) * ALIGN
  }

  /** Bytes given out now, and at most so far. */
  get usage(): { used: number; peak: number } {
    return { used: this.inUse, peak: this.highest }
  }

  /** @throws ArenaFull where the limit is reached */
  alloc(bytes: number): Block {
    const size = Math.max(ALIGN, Math.ceil(bytes / ALIGN) * ALIGN)
    const i = this.gaps.findIndex((g) => g.size >= size)
    let block: Block
    if (i >= 0) {
      const gap = this.gaps[i]
      block = { offset: gap.offset, size }
      if (gap.size === size) this.gaps.splice(i, 1)
      else this.gaps[i] = { offset: gap.offset + size, size: gap.size - size }
    } else {
      // a gap at the very end is used before the end moves
      const last = this.gaps.at(-1)
      const from = last && last.offset + last.size === this.end ? last.offset : this.end
      if (from + size > this.limit) throw new ArenaFull(from + size - this.limit)
      this.ensure(from + size)
      if (from !== this.end) this.gaps.pop()
      block = { offset: from, size }
      this.end = from + size
    }
    this.inUse += size
    this.highest = Math.max(this.highest, this.inUse)
    return block
  }

  free(block: Block): void {
    this.inUse -= block.size
    const at = this.gaps.findIndex((g) => g.offset > block.offset)
    const i = at < 0 ? this.gaps.length : at
    this.gaps.splice(i, 0, { ...block })
    this.merge(i)
    if (i > 0) this.merge(i - 1)
  }

  private merge(i: number): void {
    const a = this.gaps[i]
    const b = this.gaps[i + 1]
    if (b && a.offset + a.size === b.offset) {
      a.size += b.size
      this.gaps.splice(i + 1, 1)
    }
  }
}
