import {
  chosenNoise,
  describePicture,
  makePlan,
  rasterBytes,
  strideFor,
  uprightSize,
  type Block,
  type Development,
  type NoiseOf,
  type OpenPicture,
  type Raster,
  type SensorFrame,
  type Square,
  type SurveyMaps,
} from '@dunkelkammer/core'
import type { Cache, Section } from './cache'
import { finishedBands, type DeliverRequest } from './finished'
import { Framing } from './framing'
import { Layers } from './layers'
import { Finds, type Keeper } from './keeper'
import type { LensFinding } from './lenses'
import type { Pool } from './pool'
import type { Progress } from './progress'
import { QUESTIONS, type Answer, type Asked, type Question } from './questions'
import type { Resources } from './resources'
import type { Store } from './store'
import { makeView, type View, type ViewRequest } from './view'

/** What an engine gives all its pictures to work with. */
export interface Engines {
  pool: Pool
  store: Store
  cache: Cache
  resources: Resources
}

/** What was read from one raw file. */
export interface Sensor {
  id: number
  frame: SensorFrame
  sensor: Raster
  /** Memory that is the picture's own as long as it is open. */
  blocks: readonly Block[]
  survey?: SurveyMaps
  noise?: readonly NoiseOf[]
}

/** Full pictures that a view and its comparison need at a time, and bytes for smaller ones beside. */
const FULL_PICTURES = 3
const SMALL_BYTES = 160e6

/** One raw file, opened in an engine. */
export class Picture {
  readonly frame: SensorFrame
  private readonly open: OpenPicture
  private readonly section: Section
  private readonly layers: Layers
  private readonly blocks: readonly Block[]
  private closed = false

  constructor(
    private readonly engine: Engines,
    { id, frame, sensor, blocks, survey, noise }: Sensor,
    keeper?: Keeper,
  ) {
    const { cache, store, resources } = engine
    this.frame = frame
    this.blocks = blocks
    this.open = describePicture(id, frame, sensor, survey, noise)
    const { width, height } = uprightSize(this.open.context.sensorSize, this.open.orientation)
    const shape = { width, height, stride: strideFor(width), planes: 3, format: 'f16' } as const
    this.section = cache.section(FULL_PICTURES * rasterBytes(shape) + SMALL_BYTES)
    const framing = new Framing(this.open, frame, store, this.section, resources)
    const layered = { section: this.section, framing, open: this.open, keeper: new Finds(keeper) }
    this.layers = new Layers({ ...engine, ...layered })
  }

  /** Of the picture standing upright, before it is squared up. */
  get width(): number {
    return this.open.context.width
  }

  get height(): number {
    return this.open.context.height
  }

  /** Noise of its quietest channel as far as is known, variance = a * signal + b, signal 0 to 1. */
  get noise(): NoiseOf {
    const { noise } = chosenNoise(this.open.context.noiseModels, 'best')
    return noise.reduce((least, one) => (one.a < least.a ? one : least))
  }

  /** Factors that the mosaic's channels were given on reading. */
  get balance(): readonly [number, number, number] {
    return this.open.context.balance
  }

  /** Tiles that were developed, and patches that were carried out, so far. */
  get work(): { tiles: number; patches: number } {
    return { tiles: this.layers.developed.developedTiles, patches: this.layers.mended.carriedOut }
  }

  /**
   * What of the picture a development shows, and where: its frame's size at full size, and the way from its pixels to
   * those of the picture and back.
   * @throws RawError where a chosen lens profile cannot be had
   */
  async square(development: Development): Promise<Square> {
    return (await this.layers.planned(development)).framed.square
  }

  /** The same at once, where what is known of the lens is at hand already. */
  squareNow(development: Development): Square | undefined {
    return this.layers.ground.framing.now(makePlan(development, 'srgb'))?.square
  }

  /** What is known of the lens, as the settings want it. */
  async lens(development: Development): Promise<LensFinding> {
    return (await this.layers.planned(development)).framed.finding
  }

  /** Answers a question about the picture. */
  ask<Q extends Question>(question: Q, ...asked: Asked<Q>): Answer<Q> {
    const answer = QUESTIONS[question] as unknown as (layers: Layers, ...args: Asked<Q>) => Answer<Q>
    return answer(this.layers, ...asked)
  }

  /**
   * Computes a view. The same settings give the same pixels as a delivery at full size.
   * @throws Superseded where `signal` aborts or a newer request made this one useless
   */
  view(request: ViewRequest, signal?: AbortSignal, onProgress?: Progress): Promise<View> {
    return makeView(this.layers, request, signal, onProgress)
  }

  /**
   * Computes the finished picture in bands of lines, from the top.
   * @returns interleaved RGB, 8 bit or 16 bit in this machine's order, lines without gaps
   * @throws Superseded where `signal` aborts
   */
  bands(
    request: DeliverRequest,
    signal?: AbortSignal,
    onProgress?: Progress,
  ): AsyncGenerator<Uint8Array<ArrayBuffer>, void, undefined> {
    return finishedBands(this.layers, request, signal, onProgress)
  }

  /** The same as a whole: for pictures that are known to be small. */
  async deliver(
    request: DeliverRequest,
    signal?: AbortSignal,
    onProgress?: Progress,
  ): Promise<Uint8Array<ArrayBuffer>> {
    const out = new Uint8Array((request.width * request.height * 3 * request.bits) / 8)
    let at = 0
    for await (const band of this.bands(request, signal, onProgress)) {
      out.set(band, at)
      at += band.length
    }
    return out
  }

  /** Lets go of everything but the mosaic; it is computed anew when wanted. */
  shed(): void {
    this.section.clear()
  }

  close(): void {
    if (this.closed) return
    this.closed = true
    this.shed()
    const { pool, store } = this.engine
    // the mosaic may still be read by a task that has started; its own turn in the queue comes after those
    void pool
      .runAll(Array.from({ length: pool.size * 2 }, () => this.idleTask()))
      .catch(() => undefined)
      .then(() => this.blocks.forEach((b) => store.arena.free(b)))
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
}
