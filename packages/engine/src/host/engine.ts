import {
  asShotBalance,
  CELL_FLOATS,
  cellSize,
  describePicture,
  estimateNoise,
  NOISE_BLOCK,
  greensCell,
  greensSize,
  rasterBytes,
  sensorShape,
  type Block,
  type DecodeTask,
  type NoiseOf,
  type NoiseTask,
  type Raster,
  type SensorFrame,
  type SurveyMaps,
  type SurveyTask,
} from '@dunkelkammer/core'
import type { Keeper } from './keeper'
import { Picture } from './picture'
import type { Progress } from './progress'
import { Pool } from './pool'
import { Store } from './store'
import type { LensSource } from './lenses'
import { Cache } from './cache'
import { Resources, type BulkSource, type TableSource } from './resources'
import { RESERVED, SCRATCH, type WorkerLink } from '../protocol'

/** Places at which a picture's noise is looked for, about. */
const NOISE_BLOCKS = 900

/** What a world (browser or Node) gives the engine to work with. */
export interface EngineParts {
  /** Kernels compiled for the kind of memory in use. */
  module: WebAssembly.Module
  /** Without it, exactly one worker, with a memory of its own. */
  memory?: WebAssembly.Memory
  workers: readonly WorkerLink[]
  /** Bytes the memory may grow to. */
  limit: number
  /** Bytes to stay below while pictures not in use can still be shed. */
  budget: number
  /** Bytes of what the layers of pictures may keep. */
  kept: number
}

/**
 * Opens raw files and computes pictures from them on a pool of workers; the one way in to the computation, in
 * the browser, on the server and from the shell.
 */
export class Engine {
  private readonly pool: Pool
  private readonly store: Store
  private pictures: Picture[] = []
  private nextId = 1
  private readonly cache: Cache
  private readonly resources: Resources

  constructor(private readonly parts: EngineParts) {
    this.pool = new Pool(parts.workers)
    this.store = new Store(this.pool, parts.memory, parts.limit)
    this.cache = new Cache(this.store.arena, parts.kept)
    this.resources = new Resources(this.store)
    parts.workers.forEach((worker, i) =>
      worker.post({
        type: 'start',
        module: parts.module,
        memory: parts.memory,
        scratch: { offset: RESERVED + i * SCRATCH, size: SCRATCH },
      }),
    )
  }

  /** Workers at work, and whether they share one memory. */
  get shape(): { workers: number; shared: boolean } {
    return { workers: this.pool.size, shared: this.parts.memory !== undefined }
  }

  /** Bytes of the arena in use, and at most so far. */
  get usage(): { used: number; peak: number } {
    return this.store.arena.usage
  }

  /**
   * Reads a raw file.
   * @param keeper keeps what is found in it from one time to the next
   * @throws RawError with a sentence for the user; ArenaFull where the picture does not fit
   */
  async open(
    bytes: Uint8Array,
    signal?: AbortSignal,
    onProgress?: Progress,
    keeper?: Keeper,
  ): Promise<Picture> {
    const { used } = this.usage
    // others' pictures make room
    if (used > this.parts.budget) this.cache.trim(this.cache.used - (used - this.parts.budget))
    const file = this.store.put(bytes)
    try {
      const frame = await this.pool.run({ kind: 'parse', offset: file.offset, length: bytes.length }, signal)
      const picture = await this.decode(frame, file.offset, signal, onProgress, keeper)
      this.pictures.push(picture)
      return picture
    } finally {
      this.store.arena.free(file)
    }
  }

  /** Says where tables of colours for looks are to be had. */
  set tableSource(source: TableSource) {
    this.resources.provide('table', source)
  }

  /** Says where bulk data of settings, such as painted paths, is to be had. */
  set bulkSource(source: BulkSource) {
    this.resources.provide('path', source)
    this.resources.provide('fill', source)
  }

  /** Says where profiles of lenses are to be had. */
  set lensSource(source: LensSource) {
    this.resources.provide('lens', source)
  }

  /** Asks for lens profiles anew: others may be there now. */
  forgetLenses(): void {
    this.resources.forget('lens')
  }

  close(picture: Picture): void {
    this.pictures = this.pictures.filter((p) => p !== picture)
    picture.close()
  }

  /** Ends all workers. */
  stop(): void {
    this.pool.stop()
  }

  private async decode(
    frame: SensorFrame,
    fileOffset: number,
    signal?: AbortSignal,
    onProgress?: Progress,
    keeper?: Keeper,
  ) {
    const shape = sensorShape(frame)
    const blocks = [this.store.arena.alloc(rasterBytes(shape) + 64)]
    const sensor: Raster = { ...shape, offset: blocks[0].offset }
    const table = frame.linearisation
      ? this.store.put(new Uint8Array(Uint16Array.from(frame.linearisation).buffer))
      : undefined
    try {
      const tasks: DecodeTask[] = frame.segments.map((segment) => ({
        kind: 'decode',
        fileOffset,
        segment,
        storage: frame.storage,
        sensor,
        table: table?.offset ?? 0,
        tableSize: frame.linearisation?.length ?? 0,
      }))
      await this.pool.runAll(tasks, signal, onProgress)
      if (frame.layout === 'mosaic' && frame.opcodes.stored.some((o) => o.kind.startsWith('fix-bad-pixels')))
        await this.mendListed(frame, sensor, signal)
      const survey = await this.survey(frame, sensor, blocks, signal)
      const noise = await this.measureNoise(frame, sensor, signal)
      const { pool, store, cache, resources } = this
      const engine = { pool, store, cache, resources }
      return new Picture(engine, { id: this.nextId++, frame, sensor, blocks, survey, noise }, keeper)
    } catch (error) {
      blocks.forEach((b) => this.store.arena.free(b))
      throw error
    } finally {
      if (table) this.store.arena.free(table)
    }
  }

  private async mendListed(
    { active, width, pattern, opcodes }: SensorFrame,
    sensor: Raster,
    signal?: AbortSignal,
  ): Promise<void> {
    await this.pool.run({ kind: 'mendListed', sensor, frame: { active, width, pattern, opcodes } }, signal)
  }

  /** Looks at blocks all over the picture for what noise they hold. */
  private async measureNoise(
    frame: SensorFrame,
    sensor: Raster,
    signal?: AbortSignal,
  ): Promise<readonly NoiseOf[] | undefined> {
    const picture = describePicture(0, frame, sensor)
    const side = NOISE_BLOCK * (frame.layout === 'mosaic' ? frame.pattern.size : 1)
    const { width, height } = frame.picture
    if (width < side || height < side) return undefined
    const step = Math.max(Math.sqrt((width * height) / NOISE_BLOCKS), side)
    const blocks: [number, number][] = []
    for (let y = 0; y + side <= height; y += step)
      for (let x = 0; x + side <= width; x += step) blocks.push([Math.floor(x) & ~1, Math.floor(y) & ~1])
    const parts = this.pool.size
    const tasks = Array.from({ length: parts }, (_, i): NoiseTask => ({
      ...{ kind: 'noise', picture },
      blocks: blocks.filter((_, k) => k % parts === i),
    }))
    const found = estimateNoise((await this.pool.runAll(tasks, signal)).flat())
    return found && [found]
  }

  /** Looks a mosaic over as a whole, for the steps that need to know. */
  private async survey(
    frame: SensorFrame,
    sensor: Raster,
    blocks: Block[],
    signal?: AbortSignal,
  ): Promise<SurveyMaps | undefined> {
    if (frame.layout !== 'mosaic' || frame.storage.float) return undefined
    const { pattern, active, levels, colour } = frame
    const cell = cellSize(pattern)
    const across = Math.ceil(frame.width / cell)
    const down = Math.ceil(frame.height / cell)
    const cells = this.store.arena.alloc(across * down * CELL_FLOATS * 4)
    try {
      const lines = Math.ceil(down / (this.pool.size * 4))
      const tasks: SurveyTask[] = []
      for (let from = 0; from < down; from += lines)
        tasks.push({
          kind: 'survey',
          sensor,
          frame: { pattern, active, levels, colour },
          target: cells.offset,
          across,
          from,
          to: Math.min(from + lines, down),
        })
      await this.pool.runAll(tasks, signal)
      const size = across * down * 4
      const maps = this.store.arena.alloc(3 * size)
      blocks.push(maps)
      const found = await this.pool.run(
        {
          kind: 'solveSurvey',
          cells: cells.offset,
          across,
          down,
          pattern,
          balance: asShotBalance(colour),
          target: maps.offset,
        },
        signal,
      )
      const { offset } = maps
      const greens = greensSize(across, down)
      return {
        ...{ red: offset, blue: offset + size, width: across, height: down, cell },
        greens: {
          map: offset + 2 * size,
          width: greens.across,
          height: greens.down,
          cell: greensCell(frame.pattern),
        },
        ...found,
      }
    } finally {
      this.store.arena.free(cells)
    }
  }
}
