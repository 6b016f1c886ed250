import {
  uprightSize,
  turned,
  turnsBack,
  type DevelopTask,
  type OpenPicture,
  type Rect,
} from '@dunkelkammer/core'
import type { Kept } from './kept'
import { Superseded, type Pool } from './pool'
import type { Progress } from './progress'

/** Side of the squares by which is known what has been developed: whole groups of four, whole patterns. */
const CELL = 64
/** Cells to a side of a task: few for what needs few surroundings, many where surroundings are costly. */
const SMALL = 6
const LARGE = 12
/** Surroundings from which on they are costly, pixels. */
const COSTLY = 48

type TaskParts = Pick<DevelopTask, 'steps' | 'draft'>

/** A picture being developed: at full size, in as many places as were wanted so far. */
class Growing {
  readonly stop = new AbortController()
  /** What is there, or on its way, by cell. */
  private readonly cells: (Promise<unknown> | true | undefined)[]

  constructor(
    readonly key: string,
    readonly kept: Kept,
    private readonly across: number,
    down: number,
  ) {
    this.cells = new Array<undefined>(across * down).fill(undefined)
  }

  get whole(): boolean {
    return this.cells.every((c) => c === true)
  }

  state(i: number, j: number) {
    return this.cells[j * this.across + i]
  }

  set(i: number, j: number, state: Promise<unknown> | true | undefined): void {
    this.cells[j * this.across + i] = state
  }
}

/** Develops parts of a picture when they are wanted, and keeps them while the settings stay. */
export class Developed {
  private current?: Growing

  constructor(
    private readonly pool: Pool,
    private readonly open: OpenPicture,
    private readonly room: () => Kept,
  ) {}

  /** Whether `key` is what is kept. */
  has(key: string): boolean {
    return this.current?.key === key
  }

  /** Whether all of `key` is there. */
  holds(key: string): boolean {
    return this.current?.key === key && this.current.whole
  }

  /**
   * The kept picture of `key`, with at least `region` of it computed; held for the caller, who must release it.
   * @param region in pixels of the upright picture; all of it where missing
   * @param reach surroundings that a task needs, pixels
   * @throws Superseded where another key came in between
   */
  async take(
    key: string,
    parts: TaskParts,
    reach: number,
    region?: Rect,
    onProgress?: Progress,
  ): Promise<Kept> {
    if (this.current?.key !== key) {
      this.clear()
      const { width, height } = this.open.context.sensorSize
      this.current = new Growing(key, this.room(), Math.ceil(width / CELL), Math.ceil(height / CELL))
    }
    const growing = this.current!
    const { kept, stop } = growing
    kept.hold()
    try {
      await this.fill(growing, parts, reach, region, onProgress)
      if (stop.signal.aborted) throw new Superseded()
      return kept
    } catch (error) {
      kept.release()
      throw error
    }
  }

  clear(): void {
    const old = this.current
    this.current = undefined
    old?.stop.abort()
    old?.kept.drop()
  }

  private async fill(
    growing: Growing,
    parts: TaskParts,
    reach: number,
    region: Rect | undefined,
    onProgress?: Progress,
  ): Promise<void> {
    const { sensorSize } = this.open.context
    const wanted = region ? this.onSensor(region) : { x: 0, y: 0, ...sensorSize }
    const left = Math.floor(wanted.x / CELL)
    const top = Math.floor(wanted.y / CELL)
    const right = Math.ceil((wanted.x + wanted.width) / CELL)
    const bottom = Math.ceil((wanted.y + wanted.height) / CELL)
    const waiting = new Set<Promise<unknown>>()
    const missing: [number, number][] = []
    for (let j = top; j < bottom; j++)
      for (let i = left; i < right; i++) {
        const state = growing.state(i, j)
        if (state === undefined) missing.push([i, j])
        else if (state !== true) waiting.add(state)
      }
    if (missing.length > 0) {
      const blocks = together(missing, reach > COSTLY ? LARGE : SMALL)
      const tasks = blocks.map((b): DevelopTask => {
        const x = b.x * CELL
        const y = b.y * CELL
        return {
          ...{ kind: 'develop', picture: this.open, ...parts, target: growing.kept.raster },
          region: {
            ...{ x, y },
            width: Math.min(b.width * CELL, sensorSize.width - x),
            height: Math.min(b.height * CELL, sensorSize.height - y),
          },
        }
      })
      growing.kept.hold()
      const work = this.pool
        .runAll(tasks, growing.stop.signal, onProgress)
        .then(
          () => missing.forEach(([i, j]) => growing.set(i, j, true)),
          (error: unknown) => {
            missing.forEach(([i, j]) => growing.set(i, j, undefined))
            throw error
          },
        )
        .finally(() => growing.kept.release())
      missing.forEach(([i, j]) => growing.set(i, j, work))
      waiting.add(work)
    }
    await Promise.all(waiting)
  }

  /** A part of the upright picture as it lies on the sensor. */
  private onSensor({ x, y, width, height }: Rect): Rect {
    const { orientation, context } = this.open
    const back = turnsBack(orientation)
    const upright = uprightSize(context.sensorSize, orientation)
    const right = Math.min(x + width, upright.width)
    const bottom = Math.min(y + height, upright.height)
    const a = turned(Math.max(x, 0), Math.max(y, 0), upright, back)
    const b = turned(right - 1, bottom - 1, upright, back)
    const [left, top] = [Math.min(a[0], b[0]), Math.min(a[1], b[1])]
    return { x: left, y: top, width: Math.abs(a[0] - b[0]) + 1, height: Math.abs(a[1] - b[1]) + 1 }
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
