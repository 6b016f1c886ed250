import {
  bandOf,
  extentOf,
  FITTED_PLANES,
  isDrawn,
  isRefined,
  refinedPlanes,
  refinesByPicture,
  treeSize,
  wishOf,
  type DrawnShape,
  type EdgeLimit,
  type EncloseTask,
  type FindTask,
  type FindWish,
  type FollowTask,
  type MaskMap,
  type Plan,
  type PlannedMask,
  type PlannedStep,
  type Raster,
  type Rect,
  type RefineMaskTask,
} from '@dunkelkammer/core'
import type { Kept } from '../cache'
import type { Framed as Frame } from '../framing'
import type { Releasable } from '../resources'
import { keptName } from '../keeper'
import { fitLongEdge } from '../sizes'
import { fill, type Ground } from './ground'
import type { Masks } from './masks'
import type { Overview } from './overview'

/** Long edges of the maps of masks that are refined by themselves, and of what reads the picture. */
const MAP = { alone: 2048, reading: 1280 } as const

type Stroke = Extract<DrawnShape, { kind: 'stroke' }>
/** A part of the plain picture, and where what is made of it goes. */
type OnPlain = Pick<FollowTask, 'picture' | 'source' | 'rect' | 'target'>

/**
 * What is made once for a whole picture: masks that are refined as a whole, and strokes that follow edges. It lies in
 * sensor coordinates, so that every view and every file samples the same.
 */
export class MaskMaps {
  /** How sure it is what was looked for. */
  private readonly sure = new WeakMap<Kept, number>()

  constructor(
    private readonly ground: Ground,
    private readonly masks: Masks,
    private readonly overview: Overview,
  ) {}

  /** A plan whose masks have their maps. @param held they are put here, to be released after use */
  async plan(plan: Plan, frame: Frame, held: Releasable[]): Promise<Plan> {
    const made = new Map<string, PlannedMask>()
    for (const { mask } of [...plan.refine, ...plan.render])
      if (mask && !made.has(mask.key)) made.set(mask.key, await this.of(mask, plan, frame, held))
    if (made.size === 0) return plan
    const withMaps = (steps: readonly PlannedStep[]) =>
      steps.map((step) => (step.mask ? { ...step, mask: made.get(step.mask.key)! } : step))
    return { ...plan, refine: withMaps(plan.refine), render: withMaps(plan.render) }
  }

  /**
   * The steps on the sensor whose masks have a map: there is no frame to draw them on.
   * @param held they are put here, to be released after use
   */
  async onSensor(plan: Plan, held: Releasable[]): Promise<readonly PlannedStep[]> {
    if (!plan.develop.some(({ mask }) => mask)) return plan.develop
    const frame = { open: this.ground.open }
    const steps: PlannedStep[] = []
    for (const step of plan.develop) {
      if (!step.mask) {
        steps.push(step)
        continue
      }
      const whole = { ...step.mask, shapes: await this.shapes(step.mask, plan, held) }
      steps.push({ ...step, mask: { ...whole, map: await this.drawn(whole, plan, frame, held, true) } })
    }
    return steps
  }

  /** A mask with its maps. @param held they are put here, to be released after use */
  async of(mask: PlannedMask, plan: Plan, frame: Frame, held: Releasable[]): Promise<PlannedMask> {
    const whole = { ...mask, shapes: await this.shapes(mask, plan, held) }
    return isRefined(mask.refined) ? { ...whole, map: await this.drawn(whole, plan, frame, held) } : whole
  }

  private async shapes(mask: PlannedMask, plan: Plan, held: Releasable[]): Promise<DrawnShape[]> {
    const shapes: DrawnShape[] = []
    for (const shape of mask.shapes) {
      const follows = shape.kind === 'stroke' && shape.follow
      const own = follows ? { ...shape, followed: await this.followed(shape, plan, held) } : shape
      const enclosed =
        (shape.edge && isDrawn(shape) && (await this.enclosed(own, shape.edge, plan, held))) || undefined
      const wish = wishOf(shape)
      const found = wish && (await this.found(wish, plan, held)).map
      const resembles =
        shape.alike && (await this.found({ kind: 'alike', like: shape.alike }, plan, held)).map
      shapes.push({ ...own, enclosed, found, resembles })
    }
    return shapes
  }

  /** @param alone it is as fine as the map goes, and not fitted to what it lies on */
  private async drawn(
    mask: PlannedMask,
    plan: Plan,
    frame: Pick<Frame, 'open'>,
    held: Releasable[],
    alone = false,
  ): Promise<MaskMap> {
    const { refined, reads, key } = mask
    const guided = refinesByPicture(refined)
    const { section, open: picture } = this.ground
    const kept = await section.take(
      `map of a mask ${alone} ${key} ${reads ? this.overview.plainKey(plan) : ''}`,
      async () => {
        const source = reads ? await this.overview.plain(plan, MAP.reading) : undefined
        try {
          const raster = source?.raster ?? this.blank(MAP.alone)
          const { width, height } = raster
          // fitted, it goes with what it lies on
          const planes = refinedPlanes(alone ? { ...refined, edges: 0, matte: 0 } : refined)
          const target = section.cache.room(width, height, 'f32', planes)
          const rect = { x: 0, y: 0, width, height }
          await this.masks.drawInto(target, mask, { source: raster }, frame, rect)
          const task: RefineMaskTask = {
            ...{ kind: 'refineMask', picture, source: raster, refined, guided, target: target.raster },
          }
          return await fill(this.ground, target, [task])
        } finally {
          source?.release()
        }
      },
    )
    held.push(kept)
    return placed(kept, kept.raster, this.extent)
  }

  /**
   * The regions that the picture divides into, as `divide` writes them down.
   * @param held they are put there, to be released after use
   */
  async regions(plan: Plan, held: Releasable[]): Promise<Raster> {
    const { section, open: picture } = this.ground
    const kept = await section.take(`regions ${this.overview.plainKey(plan)}`, async () => {
      const source = await this.overview.plain(plan, MAP.reading)
      try {
        const { width, height } = treeSize(source.raster)
        const target = section.cache.room(width, height, 'f32', 1)
        return await fill(this.ground, target, [
          { kind: 'divide', picture, source: source.raster, target: target.raster },
        ])
      } finally {
        source.release()
      }
    })
    held.push(kept)
    return kept.raster
  }

  /**
   * A map of what is looked for in the whole picture, and how sure that is: 0 where there is nothing.
   * @param held it is put there, to be released after use
   * @param onShare how far that is
   */
  async found(
    wish: FindWish,
    plan: Plan,
    held: Releasable[],
    onShare: (share: number) => void = () => undefined,
  ): Promise<{ map: MaskMap; confidence: number }> {
    const { section, open: picture, pool, store } = this.ground
    const key = `found ${JSON.stringify(wish)} ${this.overview.plainKey(plan)}`
    const kept = await section.take(key, async () => {
      const name = keptName(key)
      const [before, source] = await Promise.all([
        this.ground.keeper.get(name),
        this.overview.plain(plan, MAP.reading),
      ])
      const { raster } = source
      const { width, height } = raster
      const known = before?.width === width && before.height === height ? before : undefined
      const block = known && store.put(known.share)
      const target = section.cache.room(width, height, 'f32', FITTED_PLANES)
      try {
        const tree = !known && wish.kind === 'regions' ? await this.regions(plan, held) : undefined
        const task: FindTask = { kind: 'find', picture, source: raster, wish, tree, target: target.raster }
        const at = known && { offset: block!.offset, confidence: known.confidence }
        const confidence = await pool.runLong({ ...task, known: at }, onShare)
        this.sure.set(target, confidence)
        if (!known) await this.keep(name, target.raster, confidence)
        return target
      } catch (error) {
        target.drop()
        throw error
      } finally {
        if (block) store.arena.free(block)
        source.release()
      }
    })
    held.push(kept)
    return { map: placed(kept, kept.raster, this.extent), confidence: this.sure.get(kept)! }
  }

  /** Keeps what was found beyond the time that the picture is open. */
  private async keep(name: string, raster: Raster, confidence: number): Promise<void> {
    const { store, keeper } = this.ground
    if (!keeper.keeps) return
    const { width, height, stride, offset } = raster
    const bytes = await store.get(offset, stride * height * 4)
    const lines = new Float32Array(bytes.buffer)
    const share = new Uint8Array(width * height)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) share[y * width + x] = Math.round(lines[y * stride + x] * 255)
    keeper.put(name, { width, height, confidence, share })
  }

  /** Where a stroke belongs that follows edges; by its way alone. */
  private followed(stroke: Stroke, plan: Plan, held: Releasable[]): Promise<MaskMap | undefined> {
    const { radius, x, y, path } = stroke
    const words = `followed ${JSON.stringify([radius, x, y, path])}`
    return this.onPlain(stroke, words, plan, held, (at) => ({ ...at, kind: 'follow', stroke }))
  }

  /** What of a shape lies inside an edge; by its form alone, whatever is then done with it. */
  private enclosed(
    shape: DrawnShape,
    { contrast }: EdgeLimit,
    plan: Plan,
    held: Releasable[],
  ): Promise<MaskMap | undefined> {
    const drawn = { ...shape, invert: false, tones: undefined, colours: undefined, alike: undefined }
    const form = { ...drawn, id: '', way: 'add', strength: 1, places: undefined, followed: undefined }
    const words = `inside an edge ${JSON.stringify(form)}`
    return this.onPlain(drawn, words, plan, held, (at) => ({
      ...at,
      kind: 'enclose',
      shape: drawn,
      contrast,
    }))
  }

  /**
   * A map of one plane that is made around a shape on the plain picture; undefined where the shape lies outside of it.
   * @param words same words, same map of the same picture
   */
  private async onPlain(
    shape: DrawnShape,
    words: string,
    plan: Plan,
    held: Releasable[],
    taskFor: (at: OnPlain) => FollowTask | EncloseTask,
  ): Promise<MaskMap | undefined> {
    const source = await this.overview.plain(plan, MAP.reading)
    try {
      const { raster } = source
      const rect = this.around(shape, raster)
      if (!rect) return undefined
      const { section, open: picture } = this.ground
      const kept = await section.take(`${words} ${this.overview.plainKey(plan)}`, () => {
        const target = section.cache.room(rect.width, rect.height, 'f32', 1)
        return fill(this.ground, target, [taskFor({ picture, source: raster, rect, target: target.raster })])
      })
      held.push(kept)
      return placed(kept, raster, this.extent, rect)
    } finally {
      source.release()
    }
  }

  /** Size of the picture standing upright, long edges. */
  private get extent(): { across: number; down: number } {
    const { width, height } = this.ground.open.context
    const long = Math.max(width, height)
    return { across: width / long, down: height / long }
  }

  /** What is to be looked at for a shape, in the pixels of the whole picture at some size. */
  private around(shape: DrawnShape, { width, height }: Raster): Rect | undefined {
    const { across, down } = this.extent
    const [perX, perY] = [width / across, height / down]
    const extent = extentOf(shape, 1 / Math.max(perX, perY))
    if (!extent) return { x: 0, y: 0, width, height }
    const { left, top, right, bottom } = extent
    const more = shape.kind === 'stroke' ? 4 * bandOf(shape) : 0
    const x = Math.max(Math.floor((left - more) * perX), 0)
    const y = Math.max(Math.floor((top - more) * perY), 0)
    const rect = {
      ...{ x, y },
      width: Math.min(Math.ceil((right + more) * perX), width) - x,
      height: Math.min(Math.ceil((bottom + more) * perY), height) - y,
    }
    return rect.width > 0 && rect.height > 0 ? rect : undefined
  }

  /** The size of the whole picture, where its pixels are not read. */
  private blank(longEdge: number): Raster {
    const { width, height } = this.ground.open.context
    const size = fitLongEdge(width, height, longEdge)
    return { ...size, stride: size.width, planes: 0, format: 'f32', offset: 0 }
  }
}

/** A map where it lies. @param whole size of the whole picture on it @param at its part of that */
const placed = (
  { raster }: Kept,
  { width, height }: { width: number; height: number },
  { across, down }: { across: number; down: number },
  { x, y } = { x: 0, y: 0 },
): MaskMap => ({ raster, x, y, perX: width / across, perY: height / down })
