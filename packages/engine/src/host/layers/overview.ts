import { OVERVIEW, stepById, type Plan } from '@dunkelkammer/core'
import type { Kept } from '../cache'
import type { Framed } from '../framing'
import type { Releasable } from '../resources'
import { fitLongEdge } from '../sizes'
import type { Developed } from './developed'
import { frameTasks } from './framed'
import { fill, reduce, type Ground } from './ground'
import { sketchKey, type Sketch } from './sketch'

/** Long edge of the quick picture that overviews are made from. */
const OVERVIEW_SOURCE = 1024

/** The whole picture made small, for what looks at it as a whole: without its noise, and before it is sharp. */
export class Overview {
  constructor(
    private readonly ground: Ground,
    private readonly developed: Developed,
    private readonly sketch: Sketch,
  ) {}

  /** Held for the caller. */
  take(plan: Plan, framed: Framed): Promise<Kept> {
    const { section, framing, open } = this.ground
    const { square } = framed
    const size = fitLongEdge(square.width, square.height, OVERVIEW)
    return section.take(`overview ${sketchKey(plan)} ${framed.key}`, async () => {
      const held: Releasable[] = []
      try {
        const small = await this.source(plan)
        held.push(small)
        const { raster } = small
        if (square.plain) {
          const [width, height] = [Math.min(size.width, raster.width), Math.min(size.height, raster.height)]
          return await reduce(this.ground, raster, width, height)
        }
        const wanted = {
          width: raster.width,
          height: raster.height,
          scale: raster.width / open.context.width,
        }
        const target = section.cache.room(size.width, size.height, 'f32')
        const warp = framing.warp(framed, size, wanted, false, held)
        const region = { x: 0, y: 0, ...size }
        const from = { source: raster, warp, steps: [], scale: size.width / square.width }
        return await fill(this.ground, target, frameTasks(this.ground, framed, from, region, target.raster))
      } finally {
        held.forEach((k) => k.release())
      }
    })
  }

  /** What an overview is made from. */
  private source(plan: Plan): Promise<Kept> {
    return this.plain(plan, OVERVIEW_SOURCE, 'overview')
  }

  /** Same words, same plain picture of a size. */
  plainKey = (plan: Plan): string => JSON.stringify(withoutSpare(plan).develop)

  /**
   * The whole picture as it was taken, small: the quick picture, which costs no demosaic and knows nothing of noise, or
   * the picture itself where that is small. Held for the caller.
   */
  async plain(plan: Plan, longEdge: number, use: 'overview' | 'mask' = 'mask'): Promise<Kept> {
    const { width, height } = this.ground.open.context
    const size = fitLongEdge(width, height, longEdge)
    if (this.sketch.reaches(size)) return this.sketch.take(plan, size.width, size.height, use)
    const quiet = withoutSpare(plan)
    const developKey = this.plainKey(plan)
    const kept = await this.developed.take({ ...quiet, developKey }, { quality: 'draft', beside: true })
    if (kept.raster.width <= size.width) return kept
    try {
      return await reduce(this.ground, kept.raster, size.width, size.height).then(
        (r) => (r.hold(), r.drop(), r),
      )
    } finally {
      kept.release()
    }
  }
}

/** A plan without what can be spared where a picture is only looked at. */
const withoutSpare = (plan: Plan): Plan => ({
  ...plan,
  develop: plan.develop.filter((p) => !stepById.get(p.id)!.spare),
})
