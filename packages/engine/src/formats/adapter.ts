import { RawError } from '@dunkelkammer/core'
import type { Adapted } from './index'
import type { AdaptAnswer, AdaptRequest } from './messages'

/** A thread of either world that adapts files. */
export interface AdaptThread {
  post(request: AdaptRequest, transfer: readonly ArrayBuffer[]): void
  listen(receive: (answer: AdaptAnswer) => void, broken: (reason: Error) => void): void
  stop(): void
}

const IDLE_MS = 30000

/** Adapts files on a thread of its own, which is started when first needed and let go when there is nothing to do. */
export class Adapter {
  private thread?: AdaptThread
  private readonly waiting = new Map<number, { done(a: Adapted): void; fail(e: Error): void }>()
  private nextId = 1
  private idle?: ReturnType<typeof setTimeout>

  constructor(private readonly start: () => AdaptThread) {}

  /**
   * @param bytes handed over to the thread: empty afterwards, unless the buffer is only part of a larger one
   * @throws RawError with a sentence for the user
   */
  adapt(bytes: Uint8Array): Promise<Adapted> {
    clearTimeout(this.idle)
    const thread = (this.thread ??= this.begin())
    return new Promise((done, fail) => {
      const id = this.nextId++
      this.waiting.set(id, { done, fail })
      const whole = bytes.byteLength === bytes.buffer.byteLength && bytes.buffer instanceof ArrayBuffer
      thread.post({ id, bytes }, whole ? [bytes.buffer as ArrayBuffer] : [])
    })
  }

  stop(): void {
    clearTimeout(this.idle)
    this.thread?.stop()
    this.thread = undefined
  }

  private begin(): AdaptThread {
    const thread = this.start()
    thread.listen(
      (answer) => {
        const waiting = this.waiting.get(answer.id)
        this.waiting.delete(answer.id)
        if ('dng' in answer) waiting?.done(answer)
        else waiting?.fail(new RawError(answer.code ?? 'damaged', answer.message))
        if (this.waiting.size === 0) this.idle = setTimeout(() => this.stop(), IDLE_MS)
        // under Node a timer must not keep the process
        ;(this.idle as { unref?(): void } | undefined)?.unref?.()
      },
      () => {
        // a decoder that brings its thread down has met a file that it cannot bear
        for (const { fail } of this.waiting.values())
          fail(new RawError('damaged', 'This file is damaged: reading it failed.'))
        this.waiting.clear()
        this.stop()
      },
    )
    return thread
  }
}
