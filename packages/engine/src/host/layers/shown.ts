import {
  reachOf,
  SCREEN_CELL,
  SCREEN_COUNTS,
  type PlannedStep,
  type Rect,
  type ScreenTask,
  type ShownAt,
} from '@dunkelkammer/core'
import type { Kept } from '../cache'
import type { Releasable } from '../resources'
import { grown, type Ground } from './ground'
import { keyOf } from './keys'
import { boundsOf } from './placed'

/** Views of which the last picture is kept. */
const MOST_VIEWS = 2

interface Last {
  key: string
  steps: readonly PlannedStep[]
}

/** Where a view is shown, and what of it must be computed. */
export interface Showing {
  kept: Kept
  /** For the lines from..to, the first of them in the given band. */
  task(band: number, from: number, to: number): Pick<ScreenTask, 'shown' | 'earlier'>
  /** What was shown is worth showing again. */
  keep(): void
}

/**
 * What was shown last of each geometry. Where a view differs from it in areas alone, what lies outside of their masks
 * is shown again, so that moving a control of an area computes that area.
 */
export class Shown {
  private readonly last = new Map<string, Last>()

  constructor(private readonly ground: Ground) {}

  /**
   * @param place what the view shows of what, and how; same words and same steps, same view
   * @param whole size of which the region is a part
   * @param layers whether clipped pixels are shown as well
   * @param bands of lines that it will be computed in
   * @param held the view, and the one before it, are put here to be released after use
   */
  take(
    place: string,
    steps: readonly PlannedStep[],
    { region, scale, whole }: { region: Rect; scale: number; whole: { width: number; height: number } },
    layers: boolean,
    bands: number,
    held: Releasable[],
  ): Showing {
    const { section, open } = this.ground
    const pixels = region.width * region.height * 4
    const cells = Math.ceil(region.width / SCREEN_CELL) * SCREEN_COUNTS * 4
    const kept = section.cache.bytes(pixels * (layers ? 3 : 1) + bands * cells + 16)
    let worth = false
    kept.hold()
    held.push({
      release: () => {
        if (!worth) kept.drop()
        kept.release()
      },
    })
    const at = ({ raster: { offset } }: Kept, band: number): ShownAt => ({
      rgba: offset,
      highs: layers ? offset + pixels : 0,
      lows: layers ? offset + 2 * pixels : 0,
      counts: offset + pixels * (layers ? 3 : 1) + band * cells,
    })
    const last = this.last.get(place)
    const earlier = last && section.peek(last.key)
    const masks = last && earlier && changedMasks(last.steps, steps)
    let changed: Rect | undefined
    if (masks) {
      earlier.hold()
      held.push(earlier)
      const reach = Math.max(reachOf(steps, scale, open.context), reachOf(last.steps, scale, open.context))
      changed = masks.length > 0 ? grown(boundsOf(masks), reach, whole) : NOWHERE
      changed = { ...changed, x: changed.x - region.x, y: changed.y - region.y }
    }
    const key = `shown ${place} ${keyOf(steps)}`
    return {
      kept,
      task: (band, from, to) => ({
        shown: at(kept, band),
        earlier: changed && {
          shown: at(earlier!, band),
          columns:
            changed.y < to && changed.y + changed.height > from
              ? [Math.max(changed.x, 0), Math.min(changed.x + changed.width, region.width)]
              : [0, 0],
        },
      }),
      keep: () => {
        worth = true
        this.remember(place, { key, steps }, kept)
      },
    }
  }

  private remember(place: string, now: Last, kept: Kept): void {
    const { section } = this.ground
    const forget = ({ key }: Last) => section.clear((k) => k === key)
    const last = this.last.get(place)
    if (last) forget(last)
    this.last.delete(place)
    for (const [old, view] of this.last) {
      if (this.last.size < MOST_VIEWS) break
      forget(view)
      this.last.delete(old)
    }
    this.last.set(place, now)
    section.takeNow(now.key, () => kept).release()
  }
}

const NOWHERE: Rect = { x: 0, y: 0, width: 0, height: 0 }

/**
 * Where the masks of the passes lie in which two runs of steps differ, on the frame; undefined where they differ in
 * something else, or where that is not known.
 */
export function changedMasks(
  before: readonly PlannedStep[],
  after: readonly PlannedStep[],
): Rect[] | undefined {
  const [old, now] = [before, after].map((steps) => steps.map((step) => ({ step, key: keyOf([step]) })))
  const [oldKeys, nowKeys] = [old, now].map((passes) => new Set(passes.map(({ key }) => key)))
  const changed = [
    ...old.filter(({ key }) => !nowKeys.has(key)),
    ...now.filter(({ key }) => !oldKeys.has(key)),
  ]
  const rest = [old.filter(({ key }) => nowKeys.has(key)), now.filter(({ key }) => oldKeys.has(key))]
  if (rest[0].length !== rest[1].length || rest[0].some(({ key }, i) => key !== rest[1][i].key))
    return undefined
  const boxes: Rect[] = []
  for (const { step } of changed) {
    const drawn = step.mask?.drawn
    if (!drawn) return undefined
    if (drawn.box) boxes.push({ ...drawn.box, x: drawn.box.x + drawn.x, y: drawn.box.y + drawn.y })
  }
  return boxes
}
