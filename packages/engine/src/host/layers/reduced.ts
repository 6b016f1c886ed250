import type { Plan, Rect } from '@dunkelkammer/core'
import type { Kept } from '../cache'
import type { Progress } from '../progress'
import type { Developed } from './developed'
import { reduce, type Ground } from './ground'
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

/** The picture, not squared up, at the size of a view. */
export class Reduced {
  constructor(
    private readonly ground: Ground,
    private readonly developed: Developed,
    private readonly sketch: Sketch,
  ) {}

  /** Held for the caller. */
  async take(plan: Plan, { width, height, quick, full, ...wish }: BaseWish): Promise<Base> {
    const wanted = full && !quick ? 'fine' : 'draft'
    if (quick && !this.developed.holds(plan, wanted) && this.sketch.reaches({ width, height }))
      return { kept: await this.sketch.take(plan, width, height, 'view'), exact: false, rough: true }
    const { quality, name } = this.developed.keyFor(plan, wanted)
    const { part, beside, onProgress } = wish
    const kept = await this.developed.take(plan, {
      ...{ quality, beside, onProgress },
      part: full ? part : undefined,
    })
    // a draft stands for the fine picture as long as something moves
    if (full) return { kept, exact: !quick || quality === 'fine', rough: false }
    try {
      const small = await this.ground.section.take(`reduced ${name} ${width} ${height}`, () =>
        reduce(this.ground, kept.raster, width, height),
      )
      return { kept: small, exact: true, rough: false }
    } finally {
      kept.release()
    }
  }
}
