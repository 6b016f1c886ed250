import {
  chosenNoise,
  COUNT_PARTS,
  judgeSoftness,
  NOISE_SOURCES,
  SOFTNESS_BLOCK,
  describePicture,
  log2,
  makePlan,
  withApart,
  OVERVIEW,
  quickSteps,
  reachOf,
  stepById,
  STEPS,
  rasterBytes,
  strideFor,
  toToneScale,
  type Block,
  type DeliverTask,
  type Development,
  type SelectionShown,
  type DevelopTask,
  type FringeSample,
  type LinesResult,
  type FoundSoftness,
  type NoiseOf,
  type NoiseSource,
  type OpenPicture,
  type OutputSpace,
  type Plan,
  type PartId,
  type PlannedStep,
  type Raster,
  type Reading,
  type Rect,
  type ReduceTask,
  type ScreenTask,
  type SensorFrame,
  type Square,
  type SmallPicture,
  type Staged,
  type StageTask,
  type StepId,
  type Surveyed,
  type SurveyMaps,
  type Warp,
  quickFactor,
  quickSize,
  uprightSize,
} from '@dunkelkammer/core'
import { Developed } from './developed'
import { Cell, Kept, Shelf } from './kept'
import { Framing, sourceSize, type Framed } from './framing'
import { fitLongEdge } from './sizes'
import type { LensFinding, LensSource } from './lenses'
import type { Pool } from './pool'
import type { Progress } from './progress'
import type { Store } from './store'
import type { Tables } from './tables'

/**
 * Side of the square tiles in which a mosaic is developed: whole repeats of any pattern, and whole groups of four
 * samples also where the quick picture makes it two or three times smaller.
 */
const TILE = 384
/** Tasks that a view is cut into for each worker: few enough to cost little, enough to be dropped midway. */
const SCREEN_TASKS = 4
/** Lines of a task on the way into a file. */
const DELIVER_LINES = 64
const REDUCE_LINES = 24
/** Long edge of the picture that is looked over for lines. */
const LINES_EDGE = 1400
/** Blocks along the long edge that are looked at for fringes, and their side in pixels. */
const FRINGE_BLOCKS = 24
const FRINGE_SIZE = 80

/** Long edge of the quick picture that overviews are made from. */
const OVERVIEW_SOURCE = 1024

/** What of a plan the quick picture depends on. */
const sketchKey = ({ develop }: Plan): string => JSON.stringify(quickSteps(develop))

/** A plan that ends where a step acts, with that to be seen. */
function maskPlan(plan: Plan, id: 'sharpen' | 'unsharp'): Plan {
  const at = plan.refine.findIndex((p) => p.id === id)
  if (at < 0) return plan
  const shown = {
    ...plan.refine[at],
    settings: { ...(plan.refine[at].settings as object), showMask: true },
    strength: 1,
  }
  return { ...plan, refine: [...plan.refine.slice(0, at), shown], render: [] }
}

/** A development that shows what a hue node selects. */
function selectionOf(development: Development, node: number): Development {
  const hueNodes: Development['steps']['hueNodes'] & SelectionShown = {
    ...development.steps.hueNodes,
    show: node,
  }
  return { ...development, steps: { ...development.steps, hueNodes } }
}

/** The part of the upright picture around a place of the frame, in its pixels. */
function around(square: Square, x: number, y: number, radius: number): Rect | undefined {
  const at = square.toSource(x, y)
  // room for the kernel of the resampling, and for what a lens or perspective draws apart
  const r = Math.ceil(radius) * 3 + 16
  return at && { x: Math.floor(at[0]) - r, y: Math.floor(at[1]) - r, width: 2 * r, height: 2 * r }
}

/** The part of the upright picture that a part of the frame is sampled from; undefined where that is not known. */
function sourceOf(square: Square, { x, y, width, height }: Rect, scale: number): Rect | undefined {
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

/** A raster without samples, for maps that are made from settings alone. */
const NOTHING: Raster = { offset: 0, width: 0, height: 0, stride: 0, planes: 3, format: 'f32' }

/** Where a step stands in the order of computation. */
const placeOf = (id: PartId) => STEPS.findIndex((s) => s.id === id)

/** A plan's later steps as far as one of them, which need not be in it. */
function stepsBefore(plan: Plan, until: StepId): PlannedStep[] {
  return plan.render.filter((p) => placeOf(p.id) < placeOf(until))
}

/**
 * Steps without the one that only multiplies the light, where those after it follow, and the stops that it amounts to:
 * maps made without it hold with it, so that moving the exposure makes none anew.
 */
function unscaled(steps: readonly PlannedStep[]): { before: readonly PlannedStep[]; lift: number } {
  const at = steps.findIndex((p) => stepById.get(p.id)!.scales)
  if (at < 0 || !steps.slice(at + 1).every((p) => stepById.get(p.id)!.follows))
    return { before: steps, lift: 0 }
  const { id, settings, strength } = steps[at]
  const gain = 1 + strength * (stepById.get(id)!.scales!(settings) - 1)
  if (!(gain > 0)) return { before: steps, lift: 0 }
  const before = steps.filter((_, i) => i !== at)
  // what follows had its own maps moved by as much: without the exposure they lie where they were
  return {
    before: before.map((p) => (p.surveyed?.lift ? { ...p, surveyed: { ...p.surveyed, lift: 0 } } : p)),
    lift: log2(gain),
  }
}

/** What steps amount to, without the places of their maps. */
const keyOf = (steps: readonly PlannedStep[]): string =>
  JSON.stringify(steps.map(({ id, settings, strength }) => [id, settings, strength]))

/** What to show: the whole picture at a size, or a part of it pixel for pixel. */
export interface ViewRequest {
  development: Development
  /** Size in which the whole picture is wanted; full size where both equal the picture's. */
  width: number
  height: number
  /** Part that is wanted, in pixels of that size. */
  region: Rect
  /** Where the exact picture is not at hand, make do with a quick one: for a view while something is dragged. */
  quick?: boolean
  /** Also the two layers of clipped pixels. */
  layers?: boolean
  /** Levels of 255 from which on, and down to which, a channel counts as clipped. */
  highFrom?: number
  lowTo?: number
  /** Also the counts of levels over columns. */
  waveform?: boolean
  /** Apart from what is kept for other views, which stays: for a view to compare with. */
  beside?: boolean
  /** In place of the picture: where one of the steps that sharpen acts, white for all of it. */
  mask?: 'sharpen' | 'unsharp'
  /** Everything without colour that this hue node does not select. */
  selection?: number
  /** An earlier view's pixels that nobody needs any more: used again where the size is the same. */
  reuse?: Uint8ClampedArray<ArrayBuffer>
}

export interface View {
  width: number
  height: number
  rgba: Uint8ClampedArray<ArrayBuffer>
  highs?: Uint8ClampedArray<ArrayBuffer>
  lows?: Uint8ClampedArray<ArrayBuffer>
  /** Counts over TONE_SCALE: R, G, B, luminance. */
  histogram: readonly [Uint32Array, Uint32Array, Uint32Array, Uint32Array]
  /** Clipped pixels: highlights R, G, B, shadows R, G, B. */
  clipped: Uint32Array
  /** Levels over columns, see addWaveform in core; where it was asked for. */
  waveform?: Uint32Array
  /** False where it was made from the quick picture. */
  exact: boolean
}

export interface DeliverRequest {
  development: Development
  space: OutputSpace
  width: number
  height: number
  bits: 8 | 16
}

/** What a view is made from, before the steps that follow squaring up. */
interface Source {
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
}

/** The best there is, or what is quick: they differ in how noise is reduced. */
type Quality = 'fine' | 'draft'
/** Pictures kept for views to compare with. */
const MOST_BESIDE = 4
const BESIDE_BYTES = 600e6
/** Smallest size, against the full one, at which the best is worth its time. */
const WORTH_FINE = 0.5

/** A noise model: variance = a * signal + b by colour, and where it is from. */
export interface NoiseFinding {
  noise: readonly NoiseOf[]
  /** Missing where nobody knows anything, and the noise of an ordinary sensor is assumed. */
  source?: NoiseSource
  /** Which models there are. */
  known: readonly NoiseSource[]
}

/** Blocks that are looked at for how soft their edges are, about. */
const SOFTNESS_BLOCKS = 900

/** One raw file, opened in an engine. */
export class Picture {
  private readonly open: OpenPicture
  /** The better way, and the quick one where it differs. */
  private readonly developed: Readonly<Record<Quality, Developed>>
  /** Those of views to compare with, the newest last. */
  private readonly besides = new Map<string, Developed>()
  private readonly newDeveloped: () => Developed
  /** Pictures whose pixels are not square, with such that are. */
  private readonly squarePixels = new Cell()
  private readonly reduced = new Shelf(4)
  /** Parts of the squared-up frame. */
  private readonly warped = new Shelf(3)
  private readonly framing: Framing
  private readonly sketched = new Cell()
  /** The same, as overviews are made from it. */
  private readonly overviewed = new Cell()
  private readonly overviews = new Shelf(2)
  private readonly surveys = new Map<PartId, Shelf>()
  private readonly staged = new Shelf(2)
  /** Of each geometry the last view's steps, and where they were cut in two. */
  private readonly lastViews = new Map<string, { steps: string[]; cut?: number }>()
  private closed = false

  constructor(
    private readonly pool: Pool,
    private readonly store: Store,
    id: number,
    readonly frame: SensorFrame,
    sensor: Raster,
    private readonly blocks: readonly Block[],
    survey?: SurveyMaps,
    private readonly tables?: Tables,
    lenses?: LensSource,
    noise?: readonly NoiseOf[],
  ) {
    this.open = describePicture(id, frame, sensor, survey, noise)
    const room = () => {
      const { width, height } = uprightSize(this.open.context.sensorSize, this.open.orientation)
      return this.room(width, height, 'f16')
    }
    this.newDeveloped = () => new Developed(this.pool, this.open, room)
    this.developed = { fine: this.newDeveloped(), draft: this.newDeveloped() }
    this.framing = new Framing(this.open, frame, store, lenses)
  }

  /** Of the picture standing upright, before it is squared up. */
  get width(): number {
    return this.open.context.width
  }

  get height(): number {
    return this.open.context.height
  }

  /**
   * What of the picture a development shows, and where: its frame's size at full size, and the way from its pixels to
   * those of the picture and back.
   * @throws RawError where a chosen lens profile cannot be had
   */
  async square(development: Development): Promise<Square> {
    return (await this.framing.of(makePlan(development, 'srgb'))).square
  }

  /** The same at once, where what is known of the lens is at hand already. */
  squareNow(development: Development): Square | undefined {
    return this.framing.now(makePlan(development, 'srgb'))?.square
  }

  /** What is known of the lens, as the settings want it. */
  async lens(development: Development): Promise<LensFinding> {
    return (await this.framing.of(makePlan(development, 'srgb'))).finding
  }

  /** Asks for lens profiles anew: others may be there now. */
  forgetLenses(): void {
    this.framing.forgetLenses()
    this.warped.clear()
  }

  /**
   * Computes a view. The same settings give the same pixels as a delivery at full size.
   * @throws Superseded where `signal` aborts or a newer request made this one useless
   */
  async view(request: ViewRequest, signal?: AbortSignal, onProgress?: Progress): Promise<View> {
    const { development, selection } = request
    const { plan: whole, framed } = await this.planned(
      selection === undefined ? development : selectionOf(development, selection),
    )
    const plan = request.mask ? maskPlan(whole, request.mask) : whole
    const { region } = request
    const base = await this.source(plan, framed, request, onProgress)
    const { scale, exact } = base
    const held: Kept[] = [base.kept]
    const bytes = region.width * region.height * 4
    let block: Block | undefined
    try {
      const render = await this.withMaps(plan, framed, held)
      const key = `${plan.developKey} ${framed.key} ${keyOf(plan.refine)} ${exact}`
      const { source, staged, steps } = base.warp
        ? { source: base.kept.raster, steps: render }
        : await this.stage(render, base, framed, request, key, held)
      block = this.store.arena.alloc(bytes * (request.layers ? 3 : 1))
      const { offset } = block
      const lines = Math.ceil(region.height / (SCREEN_TASKS * this.pool.size))
      const tasks: ScreenTask[] = bands(region.height, lines).map(([from, to]) => ({
        kind: 'screen',
        picture: framed.open,
        steps,
        source,
        staged,
        warp: base.warp,
        scale,
        region,
        from,
        to,
        rgba: offset,
        highs: request.layers ? offset + bytes : 0,
        lows: request.layers ? offset + 2 * bytes : 0,
        highFrom: request.highFrom ?? 255,
        lowTo: request.lowTo ?? 0,
        waveform: request.waveform ?? false,
      }))
      const parts = await this.pool.runAll(tasks, signal)
      const layer = async (at: number, into?: Uint8Array<ArrayBuffer>) =>
        new Uint8ClampedArray((await this.store.get(at, bytes, into)).buffer)
      const { reuse } = request
      const sum = new Uint32Array(4 * COUNT_PARTS)
      const clipped = new Uint32Array(6)
      for (const part of parts) {
        part.histogram.forEach((n, i) => (sum[i] += n))
        part.clipped.forEach((n, i) => (clipped[i] += n))
      }
      let waveform: Uint32Array | undefined
      for (const part of parts) {
        if (!part.waveform) continue
        if (waveform) part.waveform.forEach((n, i) => (waveform![i] += n))
        else waveform = part.waveform
      }
      const any = (from: number) => clipped.slice(from, from + 3).some((n) => n > 0)
      return {
        width: region.width,
        height: region.height,
        rgba: await layer(offset, reuse && new Uint8Array(reuse.buffer)),
        highs: request.layers && any(0) ? await layer(offset + bytes) : undefined,
        lows: request.layers && any(3) ? await layer(offset + 2 * bytes) : undefined,
        histogram: [0, 1, 2, 3].map((c) =>
          toToneScale(sum.subarray(c * COUNT_PARTS, (c + 1) * COUNT_PARTS)),
        ) as unknown as View['histogram'],
        clipped,
        waveform,
        exact,
      }
    } finally {
      if (block) this.store.arena.free(block)
      held.forEach((k) => k.release())
    }
  }

  /**
   * Computes the finished picture.
   * @returns interleaved RGB, 8 bit or 16 bit in this machine's order, lines without gaps
   * @throws Superseded where `signal` aborts
   */
  async deliver(
    request: DeliverRequest,
    signal?: AbortSignal,
    onProgress?: Progress,
  ): Promise<Uint8Array<ArrayBuffer>> {
    const { width, height, bits, space } = request
    const { plan, framed } = await this.planned(request.development, space)
    const cuts = bands(height, DELIVER_LINES)
    const quality = width > framed.square.finished.width * WORTH_FINE ? 'fine' : 'draft'
    const kept = await this.develop(plan, quality, undefined, (done, all) => onProgress?.(done / all, 2))
    const held: Kept[] = [kept]
    const lineBytes = (width * 3 * bits) / 8
    let block: Block | undefined
    try {
      const steps = await this.withMaps(plan, framed, held)
      block = this.store.arena.alloc(lineBytes * height)
      const { offset } = block
      const tasks: DeliverTask[] = cuts.map(([from, to]) => ({
        kind: 'deliver',
        picture: framed.open,
        steps: [...plan.refine, ...steps],
        space,
        source: kept.raster,
        warp: this.fullWarp(framed),
        width,
        height,
        bits,
        from,
        to,
        target: offset + from * lineBytes,
      }))
      await this.pool.runAll(tasks, signal, (done) => onProgress?.(1 + done / cuts.length, 2))
      return await this.store.get(offset, lineBytes * height)
    } finally {
      if (block) this.store.arena.free(block)
      held.forEach((k) => k.release())
    }
  }

  /**
   * Mean of the camera's channels (white level 1, not balanced) around a place of the picture.
   * @param x, y fractions of the frame's width and height
   * @param radius half the side of the square, sensor pixels
   */
  async sample(
    development: Development,
    x: number,
    y: number,
    radius: number,
  ): Promise<[number, number, number]> {
    const { plan, framed } = await this.planned(development)
    const { square } = framed
    const kept = await this.develop(
      plan,
      'draft',
      around(square, x * square.width, y * square.height, radius),
    )
    try {
      const at = square.toSource(x * square.width, y * square.height) ?? [0, 0]
      const mean = await this.pool.run({ kind: 'sample', source: kept.raster, x: at[0], y: at[1], radius })
      return mean.map((v, c) => v / this.open.context.balance[c]) as [number, number, number]
    } finally {
      kept.release()
    }
  }

  /**
   * What is at a place of the picture: at the sensor, in the scene, on the display.
   * @param x, y fractions of the frame's width and height
   * @param radius half the side of the square that is averaged, sensor pixels
   */
  async read(development: Development, x: number, y: number, radius: number): Promise<Reading> {
    const { plan, framed } = await this.planned(development)
    const { square } = framed
    const place = around(
      square,
      x * square.width,
      y * square.height,
      radius + reachOf(plan.render, 1, framed.open.context),
    )
    const held: Kept[] = [await this.develop(plan, 'draft', place)]
    try {
      const steps = await this.withMaps(plan, framed, held)
      const cut = steps.findIndex((s) => stepById.get(s.id)!.yields === 'display')
      return await this.pool.run({
        kind: 'read',
        picture: framed.open,
        scene: [...plan.refine, ...steps.slice(0, cut)],
        display: steps.slice(cut),
        source: held[0].raster,
        warp: this.fullWarp(framed),
        x: x * square.finished.width,
        y: y * square.finished.height,
        radius: Math.round(radius * square.settings.enlarge.factor),
      })
    } finally {
      held.forEach((k) => k.release())
    }
  }

  /**
   * The whole picture made small, as light somewhere on its way.
   * @param until the first step that is left out; none of those after the demosaic with `cameraColour`
   */
  async small(development: Development, until: StepId): Promise<SmallPicture> {
    return this.look(development, until, false)
  }

  /** How much of each hue the picture holds before a step: HUE_PARTS sums around Oklab's circle, the largest 1. */
  async hues(development: Development, until: StepId): Promise<Float32Array> {
    return (await this.look(development, until, true)).rgb
  }

  /**
   * Working-space light at a place before a step.
   * @param x, y fractions of the frame's width and height
   */
  async lightBefore(
    development: Development,
    until: StepId,
    x: number,
    y: number,
  ): Promise<Reading['linear']> {
    const { plan, framed } = await this.planned(development)
    const { square, open } = framed
    const before = { ...plan, render: stepsBefore(plan, until) }
    const reach = reachOf(before.render, 1, open.context)
    const near = around(square, x * square.width, y * square.height, 2 + reach)
    const held: Kept[] = [await this.develop(plan, 'draft', near)]
    try {
      const steps = await this.withMaps(before, framed, held)
      const { raster } = held[0]
      const place = {
        x: x * square.finished.width,
        y: y * square.finished.height,
        radius: 2,
        warp: this.fullWarp(framed),
      }
      const task = {
        kind: 'read',
        picture: open,
        scene: [...plan.refine, ...steps],
        display: [],
        source: raster,
      } as const
      return (await this.pool.run({ ...task, ...place })).linear
    } finally {
      held.forEach((k) => k.release())
    }
  }

  private async look(development: Development, until: StepId, hues: boolean): Promise<SmallPicture> {
    const { plan, framed } = await this.planned(development)
    const held: Kept[] = [await this.overview(plan, framed)]
    try {
      const before = { ...plan, render: stepsBefore(plan, until) }
      const steps = await this.withMaps(before, framed, held)
      const source = held[0].raster
      const rgb = await this.pool.run({ kind: 'overview', picture: framed.open, steps, source, hues })
      return { width: source.width, height: source.height, rgb }
    } finally {
      held.forEach((k) => k.release())
    }
  }

  /**
   * What a development makes of finished colours, from the base rendering to the finish, as a table over encoded sRGB.
   * @param size entries along each channel
   */
  async table(development: Development, size: number): Promise<Float32Array> {
    const { plan, framed } = await this.planned(development)
    // the first that yields finished colours is the rendering
    const after = STEPS.findIndex(({ yields }) => yields === 'display')
    const colours = plan.render.filter(
      ({ id }) => placeOf(id) > after && stepById.get(id)!.stage !== 'finish',
    )
    const steps = await this.withMaps({ ...plan, render: colours }, framed, [])
    return this.pool.run({ kind: 'table', picture: this.open, steps, size })
  }

  /**
   * Straight edges of the picture before it is squared up, in its pixels.
   * @param shortest least length, parts of the long edge
   */
  async lines(development: Development, shortest: number): Promise<LinesResult> {
    return this.lookForLines((await this.planned(development)).plan, shortest)
  }

  /**
   * Edges beneath drawn lines, in pixels of the picture before it is squared up; undefined where there is none.
   * @param reach how far off an edge may lie, parts of the long edge
   */
  async trace(
    development: Development,
    drawn: readonly { from: readonly [number, number]; to: readonly [number, number] }[],
    reach: number,
  ): Promise<LinesResult['traced']> {
    const { plan } = await this.planned(development)
    return (await this.lookForLines(plan, 0, { drawn, reach })).traced
  }

  private async lookForLines(
    plan: Plan,
    shortest: number,
    edges?: {
      drawn: readonly { from: readonly [number, number]; to: readonly [number, number] }[]
      reach: number
    },
  ): Promise<LinesResult> {
    const size = fitLongEdge(this.width, this.height, LINES_EDGE)
    const { kept } = await this.base(plan, size, size.width === this.width, undefined)
    try {
      const k = size.width / this.width
      const long = Math.max(size.width, size.height)
      const found = await this.pool.run({
        ...{ kind: 'lines', source: kept.raster, shortest: Math.round(shortest * long) },
        drawn: edges?.drawn.map(({ from, to }) => ({
          from: [from[0] * k, from[1] * k] as const,
          to: [to[0] * k, to[1] * k] as const,
          reach: Math.max(Math.round(edges.reach * long), 3),
        })),
      })
      return {
        segments: found.segments.map((s) => ({
          ...s,
          x0: s.x0 / k,
          y0: s.y0 / k,
          x1: s.x1 / k,
          y1: s.y1 / k,
        })),
        traced: found.traced.map((t) => t?.map(([x, y]) => [x / k, y / k] as [number, number])),
      }
    } finally {
      kept.release()
    }
  }

  /** What blocks all over the picture say about lateral fringes. */
  async fringes(): Promise<FringeSample[]> {
    const { width, height } = this.open.context.sensorSize
    const blocks: [number, number][] = []
    const step = Math.max(width, height) / FRINGE_BLOCKS
    for (let y = step / 2; y < height; y += step)
      for (let x = step / 2; x < width; x += step) blocks.push([x, y])
    const parts = this.pool.size * 4
    const tasks = Array.from({ length: parts }, (_, i) => ({
      ...{ kind: 'fringes' as const, picture: this.open, size: FRINGE_SIZE },
      blocks: blocks.filter((_, k) => k % parts === i),
    }))
    return (await this.pool.runAll(tasks)).flat()
  }

  /** How soft the picture is and what made it so, by its edges before they are sharpened; undefined where they do not say. */
  async softness(development: Development): Promise<FoundSoftness | undefined> {
    const kept = await this.develop((await this.planned(development)).plan, 'draft')
    try {
      const step = Math.max(Math.sqrt((this.width * this.height) / SOFTNESS_BLOCKS), SOFTNESS_BLOCK / 2)
      const blocks: [number, number][] = []
      for (let y = 0; y + SOFTNESS_BLOCK <= this.height; y += step)
        for (let x = 0; x + SOFTNESS_BLOCK <= this.width; x += step)
          blocks.push([Math.floor(x), Math.floor(y)])
      const parts = this.pool.size * 4
      const tasks = Array.from({ length: parts }, (_, i) => ({
        ...{ kind: 'softness' as const, source: kept.raster },
        blocks: blocks.filter((_, k) => k % parts === i),
      }))
      return judgeSoftness((await this.pool.runAll(tasks)).flat())
    } finally {
      kept.release()
    }
  }

  /** What is taken for the picture's noise, and who says so. */
  noise(development: Development): NoiseFinding {
    const { noiseModels } = this.open.context
    const known = NOISE_SOURCES.filter((s) => noiseModels[s])
    return { ...chosenNoise(noiseModels, development.steps.noise.source), known }
  }

  /** Factors that the mosaic's channels were given on reading. */
  get balance(): readonly [number, number, number] {
    return this.open.context.balance
  }

  /** Lets go of everything but the mosaic; it is computed anew when wanted. */
  shed(): void {
    this.developed.fine.clear()
    this.developed.draft.clear()
    for (const d of this.besides.values()) d.clear()
    this.besides.clear()
    this.squarePixels.clear()
    this.reduced.clear()
    this.warped.clear()
    this.sketched.clear()
    this.overviewed.clear()
    this.overviews.clear()
    this.staged.clear()
    for (const shelf of this.surveys.values()) shelf.clear()
  }

  close(): void {
    if (this.closed) return
    this.closed = true
    this.shed()
    // the mosaic may still be read by a task that has started; its own turn in the queue comes after those
    void this.pool
      .runAll(Array.from({ length: this.pool.size * 2 }, () => this.idleTask()))
      .catch(() => undefined)
      .then(() => {
        this.blocks.forEach((b) => this.store.arena.free(b))
        this.framing.clear()
      })
  }

  /**
   * What to compute for a development, and the frame it shows.
   * @throws RawError where a chosen lens profile cannot be had
   */
  private async planned(
    development: Development,
    space: OutputSpace = 'srgb',
  ): Promise<{ plan: Plan; framed: Framed }> {
    const plan = makePlan(development, space)
    const framed = await this.framing.of(plan)
    return { plan: framed.apart ? withApart(plan, framed.apart) : plan, framed }
  }

  private idleTask() {
    return {
      kind: 'sample',
      source: { ...this.open.sensor, height: 0, width: 0 },
      x: 0,
      y: 0,
      radius: 0,
    } as const
  }

  /** How every pixel of the frame is sampled from the kept picture; undefined where that is the frame. */
  private fullWarp(framed: Framed): Warp | undefined {
    const { square } = framed
    const { finished } = square
    if (square.plain && finished.width === square.width) return undefined
    return this.framing.warp(framed, finished, { width: this.width, height: this.height, scale: 1 }, false)
  }

  /**
   * What a view is made from: the picture before its later steps, at the size of the view.
   * `rough` where it was made from the quick picture, `exact` where from nothing but the best.
   */
  private async source(
    plan: Plan,
    framed: Framed,
    request: ViewRequest,
    onProgress?: Progress,
  ): Promise<Source> {
    const { square } = framed
    const { width, height } = request
    const scale = width / square.width
    const { finished } = square
    const full = width === finished.width && height === finished.height
    const { refine } = plan
    const reach = reachOf(plan.render, scale, framed.open.context)
    const region = grown(request.region, reach, { width, height })
    const still = square.plain && finished.width === square.width
    if (still && refine.length === 0)
      return { ...(await this.base(plan, request, full, region, onProgress)), scale }
    const size =
      full || scale >= 1
        ? { width: this.width, height: this.height, scale: 1 }
        : still
          ? { width, height, scale }
          : sourceSize(this, scale)
    const surrounded = grown(region, reachOf(refine, scale, framed.open.context), { width, height })
    const part = size.scale === 1 ? sourceOf(square, surrounded, scale) : undefined
    const base = await this.base(
      plan,
      { ...size, quick: request.quick, beside: request.beside },
      size.scale === 1,
      part,
      onProgress,
    )
    try {
      const key = [plan.developKey, framed.key, keyOf(refine), width, height, JSON.stringify(region)].join(
        ' ',
      )
      const quick = !still && request.quick === true && !this.warped.has(`${key} ${base.exact}`)
      const warp = still ? undefined : this.framing.warp(framed, { width, height }, size, quick)
      if (quick && refine.length === 0) {
        // while something is dragged nothing of it is worth keeping: sampled on the way through the steps
        base.kept.hold()
        return { kept: base.kept, scale, exact: false, rough: base.rough, warp }
      }
      const kept = await this.warped.take(`${key} ${base.exact}`, () => {
        const target = this.room(region.width, region.height, 'f32')
        const from = { source: base.kept.raster, warp, steps: refine, scale }
        return this.fill(target, this.frameTasks(framed, from, region, target.raster))
      })
      const staged: Staged = { x: region.x, y: region.y, whole: { width, height }, colours: 'rgb' }
      return { kept, scale, exact: base.exact, rough: base.rough, staged }
    } finally {
      base.kept.release()
    }
  }

  /** Lines of a part of the frame: sampled, where a warp is given, and taken through steps. */
  private frameTasks(
    { open }: Framed,
    from: { source: Raster; warp?: Warp; steps: readonly PlannedStep[]; scale: number },
    region: Rect,
    target: Raster,
  ): StageTask[] {
    const lines = Math.max(Math.ceil(region.height / (SCREEN_TASKS * this.pool.size)), 16)
    return bands(region.height, lines).map(([begin, end]) => ({
      ...{ kind: 'stage', picture: open, ...from, region, from: begin, to: end, ends: 'rgb', target },
    }))
  }

  /**
   * The picture, not squared up, at a size; at full size perhaps only as much of it as `part` says.
   * @param part in pixels of the upright picture
   */
  private async base(
    plan: Plan,
    { width, height, quick, beside }: { width: number; height: number; quick?: boolean; beside?: boolean },
    full: boolean,
    part?: Rect,
    onProgress?: Progress,
  ): Promise<{ kept: Kept; exact: boolean; rough: boolean }> {
    const key = this.keyFor(plan, full && !quick ? 'fine' : 'draft')
    if (quick && !this.developed[key.quality].holds(key.name)) {
      const factor = quickFactor(this.open.context)
      if (width * factor <= this.width && height * factor <= this.height)
        return { kept: await this.sketch(plan, width, height), exact: false, rough: true }
    }
    const kept = await this.develop(plan, key.quality, full ? part : undefined, onProgress, beside)
    // a draft stands for the fine picture as long as something moves
    if (full) return { kept, exact: !quick || key.quality === 'fine', rough: false }
    try {
      const name = `${key.name} ${width} ${height}`
      const small = await this.reduced.take(name, () => this.reduce(kept.raster, width, height))
      return { kept: small, exact: true, rough: false }
    } finally {
      kept.release()
    }
  }

  /** The whole picture made small, for what looks at it as a whole: without its noise, and before it is sharp. */
  private overview(plan: Plan, framed: Framed): Promise<Kept> {
    const { square } = framed
    const size = fitLongEdge(square.width, square.height, OVERVIEW)
    const name = `${sketchKey(plan)} ${framed.key}`
    return this.overviews.take(name, async () => {
      const small = await this.lookedOver(plan)
      try {
        const { raster } = small
        if (square.plain) {
          const [width, height] = [Math.min(size.width, raster.width), Math.min(size.height, raster.height)]
          return await this.reduce(raster, width, height)
        }
        const wanted = { width: raster.width, height: raster.height, scale: raster.width / this.width }
        const target = this.room(size.width, size.height, 'f32')
        const warp = this.framing.warp(framed, size, wanted, false)
        const region = { x: 0, y: 0, ...size }
        const from = { source: raster, warp, steps: [], scale: size.width / square.width }
        return await this.fill(target, this.frameTasks(framed, from, region, target.raster))
      } finally {
        small.release()
      }
    })
  }

  /**
   * What an overview is made from: the quick picture, which costs no demosaic and knows nothing of noise, or the
   * picture itself where that is small.
   */
  private async lookedOver(plan: Plan): Promise<Kept> {
    const size = fitLongEdge(this.width, this.height, OVERVIEW_SOURCE)
    const factor = quickFactor(this.open.context)
    const whole = { width: Math.floor(this.width / factor), height: Math.floor(this.height / factor) }
    if (size.width <= whole.width && size.height <= whole.height)
      return this.sketch(plan, size.width, size.height, this.overviewed)
    const quiet = { ...plan, develop: plan.develop.filter((p) => !stepById.get(p.id)!.spare) }
    const key = JSON.stringify(quiet.develop)
    const kept = await this.develop({ ...quiet, developKey: key }, 'draft')
    if (kept.raster.width <= size.width) return kept
    try {
      return await this.reduce(kept.raster, size.width, size.height).then((r) => (r.hold(), r.drop(), r))
    } finally {
      kept.release()
    }
  }

  /**
   * The plan's later steps with the maps of those that look at the picture as a whole.
   * @param held the maps are put here, to be released after use
   */
  private async withMaps(plan: Plan, framed: Framed, held: Kept[]): Promise<PlannedStep[]> {
    const out: PlannedStep[] = []
    for (const planned of plan.render) {
      const { survey, table } = stepById.get(planned.id)!
      const name = table?.(planned.settings)
      if (name !== undefined) {
        out.push({ ...planned, surveyed: await this.tables?.get(name) })
      } else if (survey) out.push({ ...planned, surveyed: await this.maps(plan, framed, planned, out, held) })
      else out.push(planned)
    }
    return out
  }

  private async maps(
    plan: Plan,
    framed: Framed,
    { id, settings }: PlannedStep,
    all: readonly PlannedStep[],
    held: Kept[],
  ): Promise<Surveyed> {
    const { before, lift } = unscaled(all)
    const survey = stepById.get(id)!.survey!
    const overview = survey.looks ? await this.overview(plan, framed) : undefined
    try {
      const source = overview?.raster ?? NOTHING
      const { width, height } = source
      const key = [
        survey.key(settings),
        ...(survey.looks ? [sketchKey(plan), framed.key, width, keyOf(before)] : []),
      ]
      let shelf = this.surveys.get(id)
      if (!shelf) this.surveys.set(id, (shelf = new Shelf(3)))
      const maps = await shelf.take(key.join(' '), async () => {
        const block = this.store.arena.alloc(survey.bytes(settings, source))
        const kept = new Kept(this.store.arena, block, { ...NOTHING, offset: block.offset })
        try {
          await this.pool.run({
            ...{ kind: 'surveyStep', picture: framed.open, steps: before, source, step: id, settings },
            target: block.offset,
          })
          return kept
        } catch (error) {
          kept.drop()
          throw error
        }
      })
      held.push(maps)
      return { at: maps.raster.offset, width, height, lift }
    } finally {
      overview?.release()
    }
  }

  /**
   * Where the last view differs from this one in some later step alone, what the steps before it make is kept, so
   * that moving a control computes no more than what it changes.
   */
  private async stage(
    render: readonly PlannedStep[],
    from: { kept: Kept; scale: number; staged?: Staged },
    framed: Framed,
    { width, height, region }: ViewRequest,
    base: string,
    held: Kept[],
  ): Promise<{ source: Raster; staged?: Staged; steps: readonly PlannedStep[] }> {
    const { scale, staged } = from
    const source = from.kept.raster
    const unstaged = { source, staged, steps: render }
    const key = `${base} ${width} ${height} ${JSON.stringify(region)}`
    const steps = render.map((p) => keyOf([p]))
    const last = this.lastViews.get(key)
    this.lastViews.delete(key)
    const now: { steps: string[]; cut?: number } = { steps }
    this.lastViews.set(key, now)
    for (const old of this.lastViews.keys()) if (this.lastViews.size > 3) this.lastViews.delete(old)
    if (!last) return unstaged
    let same = 0
    while (same < steps.length && steps[same] === last.steps[same]) same++
    // nothing changed but how it is shown: where it was cut before will do
    if (same === steps.length) same = last.cut ?? 0
    const { context } = framed.open
    // a matrix alone is not worth keeping; what is kept has no surroundings
    if (same < 2 || reachOf(render.slice(same), scale, context) > 0) return unstaged
    now.cut = same
    const first = render.slice(0, same)
    const next = render[same]
    const ends = (next && stepById.get(next.id)!.colours) ?? 'rgb'
    const whole = staged?.whole ?? { width: source.width, height: source.height }
    const kept = await this.staged.take(`${key} ${ends} ${steps.slice(0, same).join()}`, () => {
      const target = this.room(region.width, region.height, 'f32')
      const lines = Math.ceil(region.height / (SCREEN_TASKS * this.pool.size))
      const tasks: StageTask[] = bands(region.height, lines).map(([from, to]) => ({
        ...{
          kind: 'stage',
          picture: framed.open,
          steps: first,
          source,
          staged,
          scale,
          region,
          from,
          to,
          ends,
        },
        target: target.raster,
      }))
      return this.fill(target, tasks)
    })
    held.push(kept)
    return {
      source: kept.raster,
      staged: { x: region.x, y: region.y, whole, colours: ends },
      steps: render.slice(same),
    }
  }

  /** The quick picture, made to the size of a view. */
  private sketch(plan: Plan, width: number, height: number, cell = this.sketched): Promise<Kept> {
    const { orientation, context } = this.open
    return cell.take(`${sketchKey(plan)} ${width} ${height}`, async (stop) => {
      const size = uprightSize(quickSize(context.sensorSize, quickFactor(context)), orientation)
      const small = this.room(size.width, size.height, 'f16')
      try {
        await this.pool.runAll(this.sketchTasks(plan, small.raster), stop)
        return await this.reduce(small.raster, width, height, stop)
      } finally {
        small.drop()
      }
    })
  }

  private sketchTasks(plan: Plan, target: Raster): DevelopTask[] {
    const { width, height } = this.open.context.sensorSize
    const tasks: DevelopTask[] = []
    for (let y = 0; y < height; y += TILE)
      for (let x = 0; x < width; x += TILE)
        tasks.push({
          kind: 'develop',
          picture: this.open,
          steps: plan.develop,
          region: { x, y, width: Math.min(TILE, width - x), height: Math.min(TILE, height - y) },
          target,
          quick: true,
        })
    return tasks
  }

  /** Which of the two kept pictures a plan needs, and under which name; one serves for both where they are the same. */
  private keyFor(plan: Plan, wanted: Quality): { quality: Quality; name: string } {
    const differ = plan.develop.some((p) => stepById.get(p.id)!.drafts)
    const quality = differ ? wanted : 'fine'
    return { quality, name: `${plan.developKey} ${quality}` }
  }

  /** Views to compare with that may be kept at a time: fewer of large pictures. */
  private get mostBeside(): number {
    return Math.min(Math.max(Math.floor(BESIDE_BYTES / (this.width * this.height * 6)), 1), MOST_BESIDE)
  }

  /** Where a picture is kept: apart from the others for views to compare with, few of which stay. */
  private keeper(name: string, quality: Quality, beside?: boolean): Developed {
    if (!beside || this.developed[quality].has(name)) return this.developed[quality]
    const found = this.besides.get(name) ?? this.newDeveloped()
    this.besides.delete(name)
    this.besides.set(name, found)
    for (const [old, kept] of this.besides) {
      if (this.besides.size <= this.mostBeside) break
      kept.clear()
      this.besides.delete(old)
    }
    return found
  }

  /** @param part what of it must be there, in pixels of the upright picture; all where missing */
  private async develop(
    plan: Plan,
    wanted: Quality,
    part?: Rect,
    onProgress?: Progress,
    beside?: boolean,
  ): Promise<Kept> {
    const { quality, name } = this.keyFor(plan, wanted)
    const draft = quality === 'draft'
    const reach = reachOf(plan.develop, 1, this.open.context, draft)
    const tasks = { steps: plan.develop, draft }
    const size = uprightSize(this.open.context.sensorSize, this.open.orientation)
    const square = size.width === this.width && size.height === this.height
    const kept = await this.keeper(name, quality, beside).take(
      name,
      tasks,
      reach,
      square ? part : undefined,
      onProgress,
    )
    if (square) return kept
    try {
      return await this.squarePixels.take(name, (stop) =>
        this.reduce(kept.raster, this.width, this.height, stop),
      )
    } finally {
      kept.release()
    }
  }

  private reduce(source: Raster, width: number, height: number, stop?: AbortSignal): Promise<Kept> {
    const target = this.room(width, height, 'f32')
    const tasks: ReduceTask[] = bands(height, REDUCE_LINES).map(([from, to]) => ({
      kind: 'reduce',
      source,
      target: target.raster,
      from,
      to,
    }))
    return this.fill(target, tasks, stop)
  }

  private room(width: number, height: number, format: 'f16' | 'f32'): Kept {
    const shape = { width, height, stride: strideFor(width), planes: 3, format }
    const block = this.store.arena.alloc(rasterBytes(shape) + 64)
    return new Kept(this.store.arena, block, { ...shape, offset: block.offset })
  }

  private async fill(
    target: Kept,
    tasks: readonly (DevelopTask | ReduceTask | StageTask)[],
    stop?: AbortSignal,
    onProgress?: Progress,
  ): Promise<Kept> {
    try {
      await this.pool.runAll(tasks, stop, onProgress)
      return target
    } catch (error) {
      target.drop()
      throw error
    }
  }
}

/** A region with surroundings, as far as the picture goes. */
function grown({ x, y, width, height }: Rect, by: number, whole: { width: number; height: number }): Rect {
  const left = Math.max(x - by, 0)
  const top = Math.max(y - by, 0)
  return {
    x: left,
    y: top,
    width: Math.min(x + width + by, whole.width) - left,
    height: Math.min(y + height + by, whole.height) - top,
  }
}

/** Height cut into bands of at most `lines`. */
function bands(height: number, lines: number): [number, number][] {
  const out: [number, number][] = []
  for (let y = 0; y < height; y += lines) out.push([y, Math.min(y + lines, height)])
  return out
}
