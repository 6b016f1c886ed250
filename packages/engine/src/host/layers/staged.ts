import {
  reachOf,
  stepById,
  type PlannedStep,
  type Raster,
  type Staged as Part,
  type StageTask,
} from '@dunkelkammer/core'
import type { Framed as Frame } from '../framing'
import type { Releasable } from '../resources'
import type { FrameWish, Source } from './framed'
import { fill, shares, type Ground } from './ground'
import { keyOf } from './keys'

/** Views whose steps are remembered. */
const MOST_VIEWS = 4

/**
 * Where the last view differs from this one in some later step alone, what the steps before it make is kept, so that
 * moving a control computes no more than what it changes.
 */
export class Staged {
  /** Of each geometry the last view's steps, and where they were cut in two. */
  private readonly lastViews = new Map<string, { steps: string[]; cut?: number }>()

  constructor(private readonly ground: Ground) {}

  /** @param made what the source was made from; same words, same source */
  async take(
    render: readonly PlannedStep[],
    { kept, scale, staged, origin }: Source,
    frame: Frame,
    { width, height, region }: FrameWish,
    made: string,
    held: Releasable[],
  ): Promise<{ source: Raster; staged?: Part; steps: readonly PlannedStep[] }> {
    const source = kept.raster
    const unstaged = { source, staged, steps: render }
    const key = `staged ${made} ${width} ${height} ${JSON.stringify(region)}`
    const steps = render.map((p) => keyOf([p]))
    const last = this.lastViews.get(key)
    this.lastViews.delete(key)
    const now: { steps: string[]; cut?: number } = { steps }
    this.lastViews.set(key, now)
    for (const old of this.lastViews.keys()) {
      if (this.lastViews.size < MOST_VIEWS) break
      this.lastViews.delete(old)
    }
    if (!last) return unstaged
    let same = 0
    while (same < steps.length && steps[same] === last.steps[same]) same++
    // nothing changed but how it is shown: where it was cut before will do
    if (same === steps.length) same = last.cut ?? 0
    const { context } = frame.open
    // a matrix alone is not worth keeping; what is kept has no surroundings
    if (same < 2 || reachOf(render.slice(same), scale, context) > 0) return unstaged
    now.cut = same
    const first = render.slice(0, same)
    const next = render[same]
    const ends = (next && stepById.get(next.id)!.colours) ?? 'rgb'
    const whole = staged?.whole ?? { width: source.width, height: source.height }
    const { section } = this.ground
    const found = await section.take(`${key} ${ends} ${steps.slice(0, same).join()}`, () => {
      const target = section.cache.room(region.width, region.height, 'f32')
      const tasks = shares(this.ground, region.height).map(([from, to]): StageTask => ({
        ...{ kind: 'stage', picture: frame.open, steps: first, source, staged, origin, scale },
        ...{ region, from, to, ends, target: target.raster },
      }))
      return fill(this.ground, target, tasks)
    })
    held.push(found)
    return {
      source: found.raster,
      staged: { x: region.x, y: region.y, whole, colours: ends },
      steps: render.slice(same),
    }
  }
}
