import { RawError, type ResultOf, type Task } from '@dunkelkammer/core'
import type { FromWorker, ToWorker, WorkerLink } from '../protocol'

interface Job {
  message: ToWorker & { id: number }
  /** The tasks it belongs to; they are dropped together. */
  batch?: symbol
  onShare?(share: number): void
  resolve(result: unknown): void
  reject(error: Error): void
}

/** Work that was dropped because something newer made it useless. */
export class Superseded extends Error {
  constructor() {
    super('superseded')
    this.name = 'Superseded'
  }
}

/** Tasks sent ahead to each worker, so that it need not wait for the next one. */
const AHEAD = 2
/** Tasks that take so long that nothing is sent after them. */
const LONG: ReadonlySet<Task['kind']> = new Set(['fill'] as const)
const loadOf = ({ message }: Job) => (message.type === 'task' && LONG.has(message.task.kind) ? AHEAD : 1)

/** Hands tasks to workers in order of arrival; what is aborted before it starts is never computed. */
export class Pool {
  private readonly queue: Job[] = []
  private readonly running = new Map<number, { job: Job; worker: number }>()
  private readonly load: number[]
  private nextId = 1
  private broken?: Error

  constructor(private readonly workers: readonly WorkerLink[]) {
    this.load = workers.map(() => 0)
    workers.forEach((w) =>
      w.listen(
        (message) => this.receive(message),
        (error) => this.fail(error),
      ),
    )
  }

  get size(): number {
    return this.workers.length
  }

  /** Sends to all workers, in order with their tasks. */
  broadcast(message: ToWorker): void {
    for (const w of this.workers) w.post(message)
  }

  /** @throws Superseded where the signal aborts */
  async run<T extends Task>(task: T, signal?: AbortSignal): Promise<ResultOf<T>> {
    return (await this.runAll([task], signal))[0]
  }

  /** Runs a task that tells how far it is. */
  runLong<T extends Task>(task: T, onShare: (share: number) => void): Promise<ResultOf<T>> {
    return this.enqueue({ type: 'task', id: this.nextId++, task }, undefined, onShare) as Promise<ResultOf<T>>
  }

  /** Bytes of a memory that lives in the (only) worker. */
  read(offset: number, length: number): Promise<Uint8Array> {
    const id = this.nextId++
    return this.enqueue({ type: 'read', id, offset, length }) as Promise<Uint8Array>
  }

  /**
   * Runs all tasks; settles only when none of them touches memory any more, whatever happened.
   * @throws Superseded where the signal aborts; otherwise the first failure
   */
  async runAll<T extends Task>(
    tasks: readonly T[],
    signal?: AbortSignal,
    onDone?: (done: number, all: number) => void,
  ): Promise<ResultOf<T>[]> {
    if (signal?.aborted) throw new Superseded()
    const batch = Symbol()
    const drop = () => this.drop(batch)
    signal?.addEventListener('abort', drop)
    let done = 0
    const results = await Promise.allSettled(
      tasks.map((task) =>
        this.enqueue({ type: 'task', id: this.nextId++, task }, batch).then(
          (result) => {
            onDone?.(++done, tasks.length)
            return result as ResultOf<T>
          },
          (error: unknown) => {
            drop()
            throw error
          },
        ),
      ),
    )
    signal?.removeEventListener('abort', drop)
    if (signal?.aborted) throw new Superseded()
    const failures = results.filter((r) => r.status === 'rejected').map((r) => r.reason as Error)
    const failure = failures.find((f) => !(f instanceof Superseded)) ?? failures[0]
    if (failure) throw failure
    return results.map((r) => (r as PromiseFulfilledResult<ResultOf<T>>).value)
  }

  stop(): void {
    this.fail(new Error('the engine has been closed'))
    for (const w of this.workers) w.stop()
  }

  private enqueue(
    message: ToWorker & { id: number },
    batch?: symbol,
    onShare?: Job['onShare'],
  ): Promise<unknown> {
    return new Promise((resolve, reject) => {
      if (this.broken) return reject(this.broken)
      this.queue.push({ message, batch, onShare, resolve, reject })
      this.dispatch()
    })
  }

  /** Forgets what of a batch has not started yet. */
  private drop(batch: symbol): void {
    for (let i = this.queue.length - 1; i >= 0; i--)
      if (this.queue[i].batch === batch) this.queue.splice(i, 1)[0].reject(new Superseded())
  }

  private dispatch(): void {
    for (;;) {
      let free = 0
      for (let i = 1; i < this.load.length; i++) if (this.load[i] < this.load[free]) free = i
      if (this.load[free] >= AHEAD) return
      const job = this.queue.shift()
      if (!job) return
      this.load[free] += loadOf(job)
      this.running.set(job.message.id, { job, worker: free })
      this.workers[free].post(job.message)
    }
  }

  private receive(message: FromWorker): void {
    if (message.type === 'ready') return
    const entry = this.running.get(message.id)
    if (!entry) return
    if (message.type === 'progress') return entry.job.onShare?.(message.share)
    this.running.delete(message.id)
    this.load[entry.worker] -= loadOf(entry.job)
    if (message.type === 'done') entry.job.resolve(message.result)
    else
      entry.job.reject(
        message.code ? new RawError(message.code, message.message) : new Error(message.message),
      )
    this.dispatch()
  }

  private fail(error: Error): void {
    if (this.broken) return
    this.broken = error
    for (const { job } of this.running.values()) job.reject(error)
    for (const job of this.queue.splice(0)) job.reject(error)
    this.running.clear()
  }
}
