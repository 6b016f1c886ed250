import type { Job } from '@dunkelkammer/contract'
import { randomUUID } from 'node:crypto'
import type { Db, Tx } from '../db/open'
import { HttpProblem, notFound, toProblem } from '../problem'
import { JobRows, type JobRow } from './jobRows'
import type { JobKind, JobKinds, JobReport } from './kinds'

/** How often progress is written down, at most. */
const SAVE_EVERY_MS = 200
/** How long after a failure of the database a waiting job is tried again. */
const AGAIN_MS = 2000
const TOLD = 200
const MOST_PROBLEMS = 500

/** Why a job is stopped. */
type Stop = 'cancel' | 'pause' | 'close'

interface Running {
  id: string
  stop: AbortController
  done: Promise<void>
}

const UNKNOWN = 'The server stopped before this was complete. Start it again.'

/**
 * Long work, of each kind one after the other. A job is its stored request: it outlives the server, and is taken up
 * again after a stop where its kind can be.
 */
export class JobQueue {
  private readonly rows: JobRows
  /** One at a time of each kind: a card that comes in must not hold up a delivery. */
  private readonly running = new Map<Job['kind'], Running>()
  private readonly takingBack = new Set<string>()
  private kinds: JobKinds = {}
  private again?: ReturnType<typeof setTimeout>
  private closed = false

  constructor(db: Db) {
    this.rows = new JobRows(db, randomUUID())
  }

  /** Begins with the jobs that a stopped server left, those that can be taken up again, and goes on with what comes. */
  start(kinds: JobKinds): void {
    this.kinds = kinds
    for (const row of this.rows.left()) {
      const kind = kinds[row.kind]
      if (!kind || !kind.schema.safeParse(row.request).success)
        this.rows.set(row.id, { state: 'interrupted', message: UNKNOWN })
      else if (row.state === 'running' && kind.stopped)
        this.rows.set(row.id, { state: 'interrupted', message: kind.stopped(row.message) })
      else this.rows.set(row.id, { state: 'waiting', lease: null })
    }
    this.next()
  }

  list(): Job[] {
    return this.rows.latest(TOLD).map((row) => this.toJob(row))
  }

  get(id: string): Job {
    return this.toJob(this.row(id))
  }

  /** What a job was asked for. */
  requestOf(id: string): unknown {
    return this.row(id).request
  }

  /**
   * Takes work on.
   * @param as the name that it was asked for under: asked for again it is the same; what it makes that can be taken
   *   back, where that is known before; and what is written down together with it
   * @throws ZodError where its kind does not know the request
   */
  add(
    kind: Job['kind'],
    title: string,
    request: unknown,
    { id = randomUUID(), made, parts }: { id?: string; made?: unknown; parts?: (tx: Tx) => void } = {},
  ): Job {
    const known = this.rows.find(id)
    if (known) return this.toJob(known)
    this.kinds[kind]?.schema.parse(request)
    const row: JobRow = {
      ...{ id, kind, title, request, state: 'waiting', created: new Date().toISOString() },
      ...{ progress: 0, message: '', problems: [], fileName: null, made: made ?? null, lease: null },
      retries: false,
    }
    this.rows.insert(row, parts)
    this.next()
    return this.toJob(row)
  }

  cancel(id: string): Job {
    const { state } = this.row(id)
    if (state === 'waiting' || state === 'paused')
      this.rows.set(id, {
        state: 'cancelled',
        message: state === 'waiting' ? 'Cancelled before it began.' : 'Cancelled.',
      })
    else if (!this.stop(id, 'cancel')) throw new HttpProblem(409, 'finished', 'This job has ended already.')
    return this.get(id)
  }

  /** Holds a job up. @throws HttpProblem 409 where it cannot be */
  pause(id: string): Job {
    const { kind, state } = this.row(id)
    if (!this.kinds[kind]?.pauses) throw new HttpProblem(409, 'finished', 'This job cannot be paused.')
    if (state === 'waiting') this.rows.set(id, { state: 'paused' })
    else if (!this.stop(id, 'pause')) throw new HttpProblem(409, 'finished', 'This job has ended already.')
    return this.get(id)
  }

  /** Goes on with a job, and tries again what of it failed. @throws HttpProblem 409 where there is nothing to do */
  continue(id: string): Job {
    const row = this.row(id)
    if (!goesOn(row, this.kinds[row.kind]))
      throw new HttpProblem(409, 'finished', 'There is nothing left to do in this job.')
    this.kinds[row.kind]?.again?.(id)
    this.rows.set(id, { state: 'waiting', problems: [], message: '', lease: null, retries: false })
    this.next()
    return this.get(id)
  }

  /**
   * Takes back what a job has made, once.
   * @throws HttpProblem 409 where it has made nothing, or that has been taken back
   */
  async takeBack(id: string, how: (made: unknown, kind: Job['kind']) => Promise<string>): Promise<Job> {
    const row = this.row(id)
    if (row.made === null || row.made === undefined)
      throw new HttpProblem(409, 'finished', 'There is nothing to take back.')
    if (row.state === 'waiting' || row.state === 'running')
      throw new HttpProblem(409, 'running', 'It is still going on. Cancel it, or wait until it is done.')
    if (this.takingBack.has(id)) throw new HttpProblem(409, 'running', 'It is being taken back.')
    this.takingBack.add(id)
    try {
      this.rows.set(id, { message: await how(row.made, row.kind), made: null })
    } finally {
      this.takingBack.delete(id)
    }
    return this.get(id)
  }

  /** Stops what runs and waits for its end; what can be gone on with is, when the server starts again. */
  async close(): Promise<void> {
    this.closed = true
    clearTimeout(this.again)
    const all = [...this.running.values()]
    for (const { stop } of all) stop.abort('close' satisfies Stop)
    await Promise.all(all.map((r) => r.done))
    this.rows.close()
  }

  private row(id: string): JobRow {
    const row = this.rows.find(id)
    if (!row) throw notFound('job')
    return row
  }

  /** @returns whether it was running */
  private stop(id: string, why: Stop): boolean {
    const running = [...this.running.values()].find((r) => r.id === id)
    running?.stop.abort(why)
    return running !== undefined
  }

  private next(): void {
    if (this.closed) return
    for (const [name, kind] of Object.entries(this.kinds) as [Job['kind'], JobKind][]) {
      if (this.running.has(name)) continue
      try {
        const row = this.rows.take(name)
        if (!row) continue
        const stop = new AbortController()
        this.running.set(name, { id: row.id, stop, done: this.carryOut(row, kind, stop) })
      } catch {
        clearTimeout(this.again)
        this.again = setTimeout(() => this.next(), AGAIN_MS)
        this.again.unref()
      }
    }
  }

  private async carryOut({ id, kind: name, request }: JobRow, kind: JobKind, stop: AbortController) {
    let saved = 0
    let said = ''
    const problems: string[] = []
    const report: JobReport = {
      id,
      signal: stop.signal,
      progress: (progress, message) => {
        const now = Date.now()
        if (message === undefined && now - saved < SAVE_EVERY_MS) return
        saved = now
        said = message ?? said
        this.rows.set(id, message === undefined ? { progress } : { progress, message })
      },
      problem: (text) => {
        if (problems.length < MOST_PROBLEMS) problems.push(text)
        this.rows.set(id, { problems })
      },
    }
    try {
      const { message, fileName, made, retries } = await kind.run(kind.schema.parse(request), report)
      this.rows.set(id, {
        ...{ state: 'done', progress: 1, message, fileName: fileName ?? null, lease: null },
        ...(made !== undefined && { made }),
        retries: retries ?? false,
      })
    } catch (error) {
      this.rows.set(id, { ...this.after(kind, said, error, stop.signal), lease: null })
    }
    this.running.delete(name)
    this.next()
  }

  /** What is noted of a job that was not done. */
  private after(kind: JobKind, said: string, error: unknown, signal: AbortSignal): Partial<JobRow> {
    if (!signal.aborted) {
      const problem = toProblem(error)
      if (problem.code === 'failed') console.error(error)
      return { state: 'failed', message: problem.message }
    }
    const why = signal.reason as Stop
    if (why === 'pause') return { state: 'paused', message: said }
    // it goes on when the server starts again
    if (why === 'close' && !kind.stopped) return { state: 'waiting' }
    return { state: 'cancelled', message: kind.cancelled?.(said) ?? 'Cancelled.' }
  }

  private toJob(row: JobRow): Job {
    const kind = this.kinds[row.kind]
    const open = row.state === 'waiting' || row.state === 'running'
    return {
      id: row.id,
      kind: row.kind,
      state: row.state,
      title: row.title,
      progress: row.progress,
      message: row.message,
      problems: row.problems,
      created: row.created,
      fileName: row.fileName ?? undefined,
      ...(row.made !== null && !open && { takesBack: true as const }),
      ...(open && kind?.pauses && { pauses: true as const }),
      ...(goesOn(row, kind) && { retries: true as const }),
    }
  }
}

/** Whether there is something to go on with in a job. */
const goesOn = (row: JobRow, kind: JobKind | undefined): boolean =>
  kind?.pauses === true &&
  (['paused', 'cancelled', 'failed', 'interrupted'].includes(row.state) ||
    (row.state === 'done' && row.retries)) &&
  kind.schema.safeParse(row.request).success
