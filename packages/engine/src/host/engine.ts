import { rasterBytes, strideFor, type DecodeTask, type Raster, type SensorFrame } from '@dunkelkammer/core'
import { Picture, type Progress } from './picture'
import { Pool } from './pool'
import { Store } from './store'
import { RESERVED, SCRATCH, type WorkerLink } from '../protocol'

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

  constructor(private readonly parts: EngineParts) {
    this.pool = new Pool(parts.workers)
    this.store = new Store(this.pool, parts.memory, parts.limit)
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
   * @throws RawError with a sentence for the user; ArenaFull where the picture does not fit
   */
  async open(bytes: Uint8Array, signal?: AbortSignal, onProgress?: Progress): Promise<Picture> {
    for (const p of this.pictures) if (this.usage.used > this.parts.budget) p.shed()
    const file = this.store.put(bytes)
    try {
      const frame = await this.pool.run({ kind: 'parse', offset: file.offset, length: bytes.length }, signal)
      const picture = await this.decode(frame, file.offset, signal, onProgress)
      this.pictures.push(picture)
      return picture
    } finally {
      this.store.arena.free(file)
    }
  }

  close(picture: Picture): void {
    this.pictures = this.pictures.filter((p) => p !== picture)
    picture.close()
  }

  /** Ends all workers. */
  stop(): void {
    this.pool.stop()
  }

  private async decode(frame: SensorFrame, fileOffset: number, signal?: AbortSignal, onProgress?: Progress) {
    const shape = {
      width: frame.width,
      height: frame.height,
      stride: strideFor(frame.width),
      planes: 1,
      format: 'u16' as const,
    }
    const block = this.store.arena.alloc(rasterBytes(shape) + 64)
    const mosaic: Raster = { ...shape, offset: block.offset }
    const table = frame.linearisation
      ? this.store.put(new Uint8Array(Uint16Array.from(frame.linearisation).buffer))
      : undefined
    try {
      const tasks: DecodeTask[] = frame.segments.map((segment) => ({
        kind: 'decode',
        fileOffset,
        segment,
        compression: frame.compression,
        littleEndian: frame.littleEndian,
        mosaic,
        table: table?.offset ?? 0,
        tableSize: frame.linearisation?.length ?? 0,
      }))
      await this.pool.runAll(tasks, signal, onProgress)
      return new Picture(this.pool, this.store, this.nextId++, frame, mosaic, block)
    } catch (error) {
      this.store.arena.free(block)
      throw error
    } finally {
      if (table) this.store.arena.free(table)
    }
  }
}
