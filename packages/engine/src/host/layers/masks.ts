import {
  masksOf,
  reachOf,
  simplified,
  type DrawnShape,
  type MaskTask,
  type Plan,
  type PlannedMask,
  type PlannedStep,
  type Rect,
  type Shape,
} from '@dunkelkammer/core'
import type { Kept } from '../cache'
import type { Framed as Frame } from '../framing'
import type { Releasable } from '../resources'
import type { FrameWish, Source } from './framed'
import { fill, grown, shares, type Ground } from './ground'

/** Masks whose ways are remembered. */
const MOST_KNOWN = 400
/** Most masks of a view that are kept, each a plane of its size; where there are more they are drawn on its way. */
const MOST_KEPT = 24
/** How far a way may lie from the one that was painted, long edges: a fraction of a pixel of any picture. */
const TOLERANCE = 1e-5

const hasPath = (shape: Shape): shape is Extract<Shape, { path?: string }> & { path: string } =>
  'path' in shape && shape.path !== undefined

/** Masks of areas: what was painted for them, and what was drawn of them for a view. */
export class Masks {
  /** Masks with their ways, by key. */
  private readonly known = new Map<string, Promise<PlannedMask>>()
  private readonly boxes = new WeakMap<Kept, Promise<Rect | undefined>>()

  constructor(private readonly ground: Ground) {}

  /** A plan with what was painted for its masks. @throws RawError where that cannot be had */
  async resolved(plan: Plan): Promise<Plan> {
    if (![...plan.develop, ...plan.refine, ...plan.render].some(({ mask }) => mask?.shapes.some(hasPath)))
      return plan
    const all = (steps: readonly PlannedStep[]) =>
      Promise.all(
        steps.map(async (step) => (step.mask ? { ...step, mask: await this.withPaths(step.mask) } : step)),
      )
    const [develop, refine, render] = [
      await all(plan.develop),
      await all(plan.refine),
      await all(plan.render),
    ]
    return { ...plan, develop, refine, render }
  }

  /** A mask with what was painted for it. @throws RawError where that cannot be had */
  withPaths(mask: PlannedMask): Promise<PlannedMask> {
    if (!mask.shapes.some(hasPath)) return Promise.resolve(mask)
    let found = this.known.get(mask.key)
    if (!found) {
      for (const key of this.known.keys()) if (this.known.size >= MOST_KNOWN) this.known.delete(key)
      found = Promise.all(mask.shapes.map((shape) => this.withPlaces(shape))).then((shapes) => ({
        ...mask,
        shapes,
      }))
      this.known.set(mask.key, found)
      // another time it may be there
      found.catch(() => this.known.delete(mask.key))
    }
    return found
  }

  private async withPlaces(shape: DrawnShape): Promise<DrawnShape> {
    if (!hasPath(shape)) return shape
    const resource = await this.ground.resources.get('path', shape.path)
    resource.release()
    const places = resource.value.map((p) => ({ ...p, x: shape.x + p.x, y: shape.y + p.y }))
    return { ...shape, places: places.length > 2 ? simplified(places, TOLERANCE) : places }
  }

  /** Steps with the masks of a view drawn: they stay while settings change. @param made what the view was made from */
  async drawn(
    steps: readonly PlannedStep[],
    { origin, scale }: Source,
    frame: Frame,
    { width, height, region }: FrameWish,
    made: string,
    held: Releasable[],
  ): Promise<PlannedStep[]> {
    const masks = masksOf(steps)
    if (masks.size === 0 || masks.size > MOST_KEPT) return [...steps]
    const rect = grown(region, reachOf(steps, scale, frame.open.context), { width, height })
    const place = `${frame.key} ${width} ${height} ${JSON.stringify(rect)}`
    const drawn = new Map<string, PlannedMask['drawn']>()
    for (const mask of masks.values()) {
      const key = `mask ${mask.key} ${place} ${mask.reads ? made : ''}`
      const kept = await this.ground.section.take(key, () => this.draw(mask, origin, frame, rect))
      held.push(kept)
      drawn.set(mask.key, { raster: kept.raster, x: rect.x, y: rect.y, box: await this.boxOf(kept) })
    }
    return steps.map((step) =>
      step.mask ? { ...step, mask: { ...step.mask, drawn: drawn.get(step.mask.key) } } : step,
    )
  }

  /** The part of a drawn mask outside of which it holds nothing. */
  private boxOf(kept: Kept): Promise<Rect | undefined> {
    let found = this.boxes.get(kept)
    if (!found) {
      found = this.ground.pool.run({ kind: 'maskBox', mask: kept.raster }).then((box) => box ?? undefined)
      this.boxes.set(kept, found)
      found.catch(() => this.boxes.delete(kept))
    }
    return found
  }

  /** Draws a mask in a part of the frame. Held by nobody. */
  draw(
    mask: PlannedMask,
    origin: Source['origin'],
    frame: Pick<Frame, 'open'>,
    rect: MaskTask['rect'],
  ): ReturnType<typeof fill> {
    const target = this.ground.section.cache.room(rect.width, rect.height, 'f32', 1)
    return this.drawInto(target, mask, origin, frame, rect)
  }

  /** The same into the first plane of something. */
  drawInto(
    target: Kept,
    mask: PlannedMask,
    { source, warp }: Source['origin'],
    frame: Pick<Frame, 'open'>,
    rect: MaskTask['rect'],
  ): ReturnType<typeof fill> {
    const tasks = shares(this.ground, rect.height, 16).map(([from, to]): MaskTask => ({
      ...{ kind: 'mask', picture: frame.open, source, warp, mask, rect, from, to, target: target.raster },
    }))
    return fill(this.ground, target, tasks)
  }
}
