import type { Plan, Raster, Rect } from '@dunkelkammer/core'
import type { Kept } from '../cache'
import type { Progress } from '../progress'
import { reduce, reduceTasks, type Ground } from './ground'
import type { Mended } from './mended'
import type { Sketch } from './sketch'

/** A picture before it is squared up, and how good it is. */
export interface Base {
  kept: Kept
  /** Made from nothing but the best. */
  exact: boolean
  /** Made from the quick picture. */
  rough: boolean
}

export interface BaseWish {
  width: number
  height: number
  /** Where the exact picture is not at hand, make do with a quick one. */
  quick?: boolean
  beside?: boolean
  /** Whether that is full size; perhaps only as much of it as `part` says, in pixels of the upright picture. */
  full: boolean
  part?: Rect
  onProgress?: Progress
}

/** How far a pixel of the small picture looks around itself, its own pixels. */
const KERNEL = 4

/** The picture, not squared up, at the size of a view. */
export class Reduced {
  /** Of each quality and size the one that was made last. */
  private readonly last = new Map<string, { key: string; plan: Plan }>()
  /** Pictures of which some lines are being made anew. */
  private readonly updates = new Map<string, Promise<void>>()

  constructor(
    private readonly ground: Ground,
    private readonly mended: Mended,
    private readonly sketch: Sketch,
  ) {}

  /** Held for the caller. */
  async take(plan: Plan, { width, height, quick, full, ...wish }: BaseWish): Promise<Base> {
    const wanted = full && !quick ? 'fine' : 'draft'
    if (quick && !this.mended.holds(plan, wanted) && this.sketch.reaches({ width, height }))
      return { kept: await this.sketch.take(plan, width, height, 'view'), exact: false, rough: true }
    const { quality, name } = this.mended.keyFor(plan, wanted)
    const { part, beside, onProgress } = wish
    const kept = await this.mended.take(plan, {
      ...{ quality, beside, onProgress },
      part: full ? part : undefined,
    })
    // a draft stands for the fine picture as long as something moves
    if (full) return { kept, exact: !quick || quality === 'fine', rough: false }
    try {
      const key = `reduced ${name} ${width} ${height}`
      const size = `${quality} ${width} ${height}`
      const last = this.last.get(size)
      if (!beside) this.last.set(size, { key, plan })
      if (!beside && last && last.key !== key) this.update(last, key, plan, kept.raster)
      await this.updates.get(key)
      const small = await this.ground.section.take(key, () => reduce(this.ground, kept.raster, width, height))
      return { kept: small, exact: true, rough: false }
    } finally {
      kept.release()
    }
  }

  /** The small picture of before becomes this one where only patches differ: no more than their lines are made anew. */
  private update(last: { key: string; plan: Plan }, key: string, plan: Plan, source: Raster): void {
    const { section, pool } = this.ground
    const rects = this.mended.changed(last.plan, plan)
    if (!rects || !section.rename(last.key, key)) return
    const kept = section.peek(key)!
    kept.hold()
    const { raster } = kept
    const scale = raster.height / source.height
    const room = KERNEL * Math.max(scale, 1) + 1
    const tasks = rects.flatMap(({ y, height }) => {
      const from = Math.max(Math.floor(y * scale - room), 0)
      const to = Math.min(Math.ceil((y + height) * scale + room), raster.height)
      return from < to ? reduceTasks(source, raster, from, to) : []
    })
    const done = pool
      .runAll(tasks)
      .then(
        () => undefined,
        // in part it is of no use
        () => section.clear((k) => k === key),
      )
      .finally(() => {
        kept.release()
        this.updates.delete(key)
      })
    this.updates.set(key, done)
  }
}
