import {
  reachOf,
  stepById,
  turned,
  turnsBack,
  uprightSize,
  type DevelopTask,
  type OpenPicture,
  type Plan,
  type PlannedStep,
  type Rect,
} from '@dunkelkammer/core'
import type { Kept } from '../cache'
import type { Progress } from '../progress'
import type { Releasable } from '../resources'
import { Tiled } from '../tiled'
import { reduce, type Ground } from './ground'

/** The best there is, or what is quick: they differ in how noise is reduced. */
export type Quality = 'fine' | 'draft'

/** What is asked of the full picture. */
export interface Wanted {
  quality: Quality
  /** What of it must be there, in pixels of the upright picture; all where missing. */
  part?: Rect
  /** For a view to compare with: it stops nothing that others wait for. */
  beside?: boolean
  onProgress?: Progress
}

/** Cells to a side of a task: few for what needs few surroundings, many where surroundings are costly. */
const SMALL = 6
const LARGE = 12
/** Surroundings from which on they are costly, pixels. */
const COSTLY = 48

/** The demosaiced picture, standing upright, at full size: developed where it is wanted. */
export class Developed {
  private readonly tiles = new WeakMap<Kept, Tiled>()
  /** Of each quality the one that was wanted last. */
  private readonly current: Partial<Record<Quality, { name: string; tiled: Tiled }>> = {}
  private tasks = 0

  /** @param masked a plan's steps with the maps of their masks, which are put into `held` */
  constructor(
    private readonly ground: Ground,
    private readonly masked: (plan: Plan, held: Releasable[]) => Promise<readonly PlannedStep[]>,
  ) {}

  /** Tiles that were developed so far. */
  get developedTiles(): number {
    return this.tasks
  }

  /** Which of the two kept pictures a plan needs, and under which name; one serves for both where they are the same. */
  keyFor(plan: Plan, wanted: Quality): { quality: Quality; name: string } {
    const differ = plan.develop.some((p) => stepById.get(p.id)!.drafts)
    const quality = differ ? wanted : 'fine'
    return { quality, name: `developed ${plan.developKey} ${quality}` }
  }

  /** Whether all of it is there. */
  holds(plan: Plan, wanted: Quality): boolean {
    const kept = this.ground.section.peek(this.keyFor(plan, wanted).name)
    return kept !== undefined && this.tiles.get(kept)!.whole
  }

  /** Where what was asked for is there at least; held for the caller. @throws Superseded */
  async take(plan: Plan, wanted: Wanted): Promise<Kept> {
    const { open, section } = this.ground
    const size = uprightSize(open.context.sensorSize, open.orientation)
    const { width, height } = open.context
    if (size.width === width && size.height === height) return this.onSensor(plan, wanted)
    // pixels that are not square are made so
    const { name } = this.keyFor(plan, wanted.quality)
    const kept = await this.onSensor(plan, { ...wanted, part: undefined })
    try {
      const make = (stop: AbortSignal) => reduce(this.ground, kept.raster, width, height, stop)
      return await section.take(`square pixels ${name}`, make, wanted.beside ? {} : { slot: 'square pixels' })
    } finally {
      kept.release()
    }
  }

  private async onSensor(plan: Plan, { quality: wanted, part, beside, onProgress }: Wanted): Promise<Kept> {
    const { open, section } = this.ground
    const { quality, name } = this.keyFor(plan, wanted)
    const draft = quality === 'draft'
    const { width, height } = uprightSize(open.context.sensorSize, open.orientation)
    const kept = await section.take(name, (stop) => {
      const room = section.cache.room(width, height, 'f16')
      const tiled = new Tiled(room, open.context.sensorSize)
      stop.addEventListener('abort', () => tiled.abandon())
      this.tiles.set(room, tiled)
      return Promise.resolve(room)
    })
    try {
      const tiled = this.tiles.get(kept)!
      if (!beside) this.supersede(quality, name, tiled)
      const reach = reachOf(plan.develop, 1, open.context, draft)
      const rect = part ? sensorRect(open, part) : { x: 0, y: 0, ...open.context.sensorSize }
      await tiled.want(rect, reach > COSTLY ? LARGE : SMALL, async (rects, stop) => {
        this.tasks += rects.length
        const held: Releasable[] = []
        try {
          const steps = await this.masked(plan, held)
          const tasks = rects.map((region): DevelopTask => ({
            ...{ kind: 'develop', picture: open, steps, draft },
            ...{ region, target: kept.raster },
          }))
          return await this.ground.pool.runAll(tasks, stop, onProgress)
        } finally {
          held.forEach((k) => k.release())
        }
      })
      return kept
    } catch (error) {
      kept.release()
      throw error
    }
  }

  /** What another has taken the place of is not waited for any more. */
  private supersede(quality: Quality, name: string, tiled: Tiled): void {
    const old = this.current[quality]
    this.current[quality] = { name, tiled }
    if (!old || old.name === name) return
    old.tiled.abandon()
    // in part it is worth less than its room
    if (!old.tiled.whole) this.ground.section.clear((key) => key === old.name)
  }
}

/** A part of the upright picture as it lies on the sensor. */
function sensorRect({ orientation, context }: OpenPicture, { x, y, width, height }: Rect): Rect {
  const back = turnsBack(orientation)
  const upright = uprightSize(context.sensorSize, orientation)
  const right = Math.min(x + width, upright.width)
  const bottom = Math.min(y + height, upright.height)
  const a = turned(Math.max(x, 0), Math.max(y, 0), upright, back)
  const b = turned(right - 1, bottom - 1, upright, back)
  const [left, top] = [Math.min(a[0], b[0]), Math.min(a[1], b[1])]
  return { x: left, y: top, width: Math.abs(a[0] - b[0]) + 1, height: Math.abs(a[1] - b[1]) + 1 }
}
