import { Arena, type Block } from '@dunkelkammer/core'
import type { Pool } from './pool'
import { RESERVED, SCRATCH } from '../protocol'

const PAGE = 65536

/** The engine's memory as the host sees it: book-keeping, and bytes in and out, wherever the memory lives. */
export class Store {
  readonly arena: Arena

  /**
   * @param memory the shared memory, or undefined where the only worker owns it
   * @param limit bytes the memory may grow to
   */
  constructor(
    private readonly pool: Pool,
    private readonly memory: WebAssembly.Memory | undefined,
    limit: number,
  ) {
    const start = RESERVED + SCRATCH * pool.size
    this.arena = new Arena(start, limit, (end) => this.ensure(end))
  }

  /** Copies bytes into a new block. */
  put(bytes: Uint8Array): Block {
    const block = this.arena.alloc(bytes.length + 16)
    this.write(block.offset, bytes)
    return block
  }

  /** Copies bytes to a place that has been given out. */
  write(offset: number, bytes: Uint8Array): void {
    if (this.memory) new Uint8Array(this.memory.buffer, offset, bytes.length).set(bytes)
    else this.pool.broadcast({ type: 'write', offset, bytes })
  }

  /**
   * A copy of bytes, in a buffer of its own.
   * @param into an array of that length to use instead of a new one
   */
  async get(
    offset: number,
    length: number,
    into?: Uint8Array<ArrayBuffer>,
  ): Promise<Uint8Array<ArrayBuffer>> {
    if (!this.memory) return (await this.pool.read(offset, length)) as Uint8Array<ArrayBuffer>
    const out = into?.length === length ? into : new Uint8Array(length)
    out.set(new Uint8Array(this.memory.buffer, offset, length))
    return out
  }

  private ensure(end: number): void {
    if (!this.memory) return this.pool.broadcast({ type: 'ensure', end })
    const missing = end - this.memory.buffer.byteLength
    if (missing > 0) this.memory.grow(Math.ceil(missing / PAGE))
  }
}
