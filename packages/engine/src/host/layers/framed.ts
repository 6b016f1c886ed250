import {
  reachOf,
  type Plan,
  type PlannedStep,
  type Raster,
  type Rect,
  type Square,
  type Staged,
  type StageTask,
  type Warp,
} from '@dunkelkammer/core'
import type { Kept } from '../cache'
import { sourceSize, type Framed as Frame } from '../framing'
import type { Progress } from '../progress'
import type { Releasable } from '../resources'
import { keyOf } from './keys'
import { fill, grown, shares, type Ground } from './ground'
import type { Reduced } from './reduced'

/** The part of the upright picture that a part of the frame is sampled from; undefined where that is not known. */
export function sourceOf(square: Square, { x, y, width, height }: Rect, scale: number): Rect | undefined {
  const [xs, ys]: number[][] = [[], []]
  const steps = 8
  for (let j = 0; j <= steps; j++)
    for (let i = 0; i <= steps; i++)
      for (const channel of [0, 1, 2] as const) {
        const at = square.toSource(
          (x + (width * i) / steps) / scale,
          (y + (height * j) / steps) / scale,
          channel,
        )
        if (!at) return undefined
        xs.push(at[0])
        ys.push(at[1])
      }
  // between the places that were asked it may bulge a little
  const room = 16 + 0.05 * Math.max(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys))
  const [left, top] = [Math.floor(Math.min(...xs) - room), Math.floor(Math.min(...ys) - room)]
  return {
    x: left,
    y: top,
    width: Math.ceil(Math.max(...xs) + room) - left,
    height: Math.ceil(Math.max(...ys) + room) - top,
  }
}

/** Lines of a part of the frame: sampled, where a warp is given, and taken through steps. */
export function frameTasks(
  ground: Ground,
  { open }: Frame,
  from: { source: Raster; warp?: Warp; steps: readonly PlannedStep[]; scale: number },
  region: Rect,
  target: Raster,
): StageTask[] {
  return shares(ground, region.height, 16).map(([begin, end]) => ({
    ...{ kind: 'stage', picture: open, ...from, region, from: begin, to: end, ends: 'rgb', target },
  }))
}

/** What is asked of the frame: all of it has a size, of which a part is wanted. */
export interface FrameWish {
  width: number
  height: number
  region: Rect
  quick?: boolean
  beside?: boolean
}

/** What a view is made from, before the steps that follow squaring up. */
export interface Source {
  kept: Kept
  /** Pixels of the view per pixel of the frame. */
  scale: number
  /** Made from nothing but the best. */
  exact: boolean
  /** Made from the quick picture. */
  rough: boolean
  /** Where it is a part of the frame. */
  staged?: Staged
  /** Where the frame is still to be sampled from it. */
  warp?: Warp
  /** The picture before anything was done to the frame, and how the frame is sampled from it. */
  origin: { source: Raster; warp?: Warp }
}

/** Parts of the squared-up frame, before its colours. */
export class Framed {
  constructor(
    private readonly ground: Ground,
    private readonly reduced: Reduced,
  ) {}

  /** How every pixel of the frame is sampled from the full picture; undefined where that is the frame. */
  fullWarp(frame: Frame, held: Releasable[]): Warp | undefined {
    const { square } = frame
    const { finished } = square
    if (square.plain && finished.width === square.width) return undefined
    const { width, height } = this.ground.open.context
    return this.ground.framing.warp(frame, finished, { width, height, scale: 1 }, false, held)
  }

  /** Held for the caller, as what is put into `held`. */
  async take(
    plan: Plan,
    frame: Frame,
    request: FrameWish,
    held: Releasable[],
    onProgress?: Progress,
  ): Promise<Source> {
    const { section, framing, open } = this.ground
    const { square } = frame
    const { finished } = square
    const { width, height, quick: hurried, beside } = request
    const scale = width / square.width
    const full = width === finished.width && height === finished.height
    const { refine } = plan
    const { context } = frame.open
    const region = grown(request.region, reachOf(plan.render, scale, context), { width, height })
    const still = square.plain && finished.width === square.width
    const asked = { quick: hurried, beside, onProgress }
    if (still && refine.length === 0) {
      const base = await this.reduced.take(plan, { ...asked, width, height, full, part: region })
      held.push(base.kept)
      return { ...base, scale, origin: { source: base.kept.raster } }
    }
    const whole = { width: open.context.width, height: open.context.height }
    const size =
      full || scale >= 1
        ? { ...whole, scale: 1 }
        : still
          ? { width, height, scale }
          : sourceSize(whole, scale)
    const surrounded = grown(region, reachOf(refine, scale, context), { width, height })
    const part = size.scale === 1 ? sourceOf(square, surrounded, scale) : undefined
    const base = await this.reduced.take(plan, {
      ...asked,
      width: size.width,
      height: size.height,
      full: size.scale === 1,
      part,
    })
    held.push(base.kept)
    const parts = [plan.mendedKey, frame.key, keyOf(refine), width, height, JSON.stringify(region)]
    const key = `framed ${parts.join(' ')}`
    const quick = !still && hurried === true && !section.has(`${key} ${base.exact}`)
    const warp = still ? undefined : framing.warp(frame, { width, height }, size, quick, held)
    const origin = { source: base.kept.raster, warp }
    if (quick && refine.length === 0)
      // while something is dragged nothing of it is worth keeping: sampled on the way through the steps
      return { kept: base.kept, scale, exact: false, rough: base.rough, warp, origin }
    const kept = await section.take(`${key} ${base.exact}`, () => {
      const target = section.cache.room(region.width, region.height, 'f32')
      const from = { source: base.kept.raster, warp, steps: refine, scale }
      return fill(this.ground, target, frameTasks(this.ground, frame, from, region, target.raster))
    })
    held.push(kept)
    const staged: Staged = { x: region.x, y: region.y, whole: { width, height }, colours: 'rgb' }
    return { kept, scale, exact: base.exact, rough: base.rough, staged, origin }
  }
}
