import type { Rect } from '@dunkelkammer/core'
import type { Kept } from './cache'
import { Superseded } from './pool'

/** Side of the squares by which is known what is there: whole groups of four samples, whole patterns. */
export const CELL = 64

/** Computes rectangles of a picture into its raster. */
export type FillTiles = (rects: readonly Rect[], stop: AbortSignal) => Promise<unknown>

/** A picture that is there in part: as much of it as was wanted so far, by cells. */
export class Tiled {
  /** What is there, or on its way. */
  private readonly cells: (Promise<unknown> | true | undefined)[]
  private readonly across: number
  private readonly down: number
  private stop = new AbortController()

  constructor(
    readonly kept: Kept,
    private readonly size: { width: number; height: number },
  ) {
    this.across = Math.ceil(size.width / CELL)
    this.down = Math.ceil(size.height / CELL)
    this.cells = new Array<undefined>(this.across * this.down).fill(undefined)
  }

  /** Whether all of it is there. */
  get whole(): boolean {
    return this.cells.every((c) => c === true)
  }

  /** Whether a rectangle is there. */
  holds(rect: Rect): boolean {
    let all = true
    this.each(rect, (at) => (all &&= this.cells[at] === true))
    return all
  }

  /** Stops what is on its way: nobody wants it any more, for now. */
  abandon(): void {
    this.stop.abort()
    this.stop = new AbortController()
  }

  /** Says that what was computed within a rectangle holds no more. */
  invalidate(rect: Rect): void {
    this.each(rect, (at) => (this.cells[at] = undefined))
  }

  /**
   * Sees to it that a rectangle is there.
   * @param most cells to a side of what is computed at once
   * @throws Superseded where it was abandoned meanwhile
   */
  async want(rect: Rect, most: number, fill: FillTiles): Promise<void> {
    const { stop } = this
    const waiting = new Set<Promise<unknown>>()
    const missing: [number, number][] = []
    this.each(rect, (at, i, j) => {
      const state = this.cells[at]
      if (state === undefined) missing.push([i, j])
      else if (state !== true) waiting.add(state)
    })
    if (missing.length > 0) {
      const places = missing.map(([i, j]) => j * this.across + i)
      this.kept.hold()
      const work = fill(this.rectsOf(missing, most), stop.signal).finally(() => this.kept.release())
      const settle = (state: true | undefined) =>
        // what was invalidated or begun anew meanwhile is not this one's any more
        places.forEach((at) => this.cells[at] === mine && (this.cells[at] = state))
      const mine: Promise<unknown> = work.then(
        () => settle(true),
        (error: unknown) => {
          settle(undefined)
          throw error
        },
      )
      places.forEach((at) => (this.cells[at] = mine))
      waiting.add(mine)
    }
    await Promise.all(waiting)
    if (stop.signal.aborted) throw new Superseded()
  }

  private rectsOf(cells: readonly (readonly [number, number])[], most: number): Rect[] {
    const { width, height } = this.size
    return together(cells, most).map((b) => {
      const [x, y] = [b.x * CELL, b.y * CELL]
      return {
        ...{ x, y },
        width: Math.min(b.width * CELL, width - x),
        height: Math.min(b.height * CELL, height - y),
      }
    })
  }

  private each({ x, y, width, height }: Rect, run: (at: number, i: number, j: number) => void): void {
    const [left, top] = [Math.max(Math.floor(x / CELL), 0), Math.max(Math.floor(y / CELL), 0)]
    const right = Math.min(Math.ceil((x + width) / CELL), this.across)
    const bottom = Math.min(Math.ceil((y + height) / CELL), this.down)
    for (let j = top; j < bottom; j++) for (let i = left; i < right; i++) run(j * this.across + i, i, j)
  }
}

/** Cells put together to rectangles of at most `most` cells to a side, as even as they can be cut. */
export function together(cells: readonly (readonly [number, number])[], most: number): Rect[] {
  const there = new Set(cells.map(([i, j]) => `${i} ${j}`))
  const out: Rect[] = []
  const even = (n: number) => Math.ceil(n / Math.ceil(n / most))
  const span = (k: 0 | 1) => Math.max(...cells.map((c) => c[k])) - Math.min(...cells.map((c) => c[k])) + 1
  const [mostWide, mostHigh] = [even(span(0)), even(span(1))]
  for (const [x, y] of [...cells].sort((a, b) => a[1] - b[1] || a[0] - b[0])) {
    if (!there.has(`${x} ${y}`)) continue
    let width = 1
    while (width < mostWide && there.has(`${x + width} ${y}`)) width++
    const full = (j: number) =>
      Array.from({ length: width }, (_, i) => i).every((i) => there.has(`${x + i} ${j}`))
    let height = 1
    while (height < mostHigh && full(y + height)) height++
    for (let j = y; j < y + height; j++) for (let i = x; i < x + width; i++) there.delete(`${i} ${j}`)
    out.push({ x, y, width, height })
  }
  return out
}
