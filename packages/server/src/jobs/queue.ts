import type { Job } from '@dunkelkammer/contract'
import { desc, eq, inArray, sql } from 'drizzle-orm'
import { randomUUID } from 'node:crypto'
import { schema, type Db } from '../db/open'
import { HttpProblem, notFound, toProblem } from '../problem'

const { jobs } = schema
type Row = typeof jobs.$inferSelect

/** What a running job may say of itself. */
export interface JobReport {
  progress(share: number, message?: string): void
  problem(text: string): void
  signal: AbortSignal
}

/** What a job came to. */
export interface JobOutcome {
  message: string
  fileName?: string
  /** What can be taken back. */
  made?: unknown
}

interface Waiting {
  id: string
  kind: Job['kind']
  work(report: JobReport): Promise<JobOutcome>
}

/** How often progress is written down, at most. */
const SAVE_EVERY_MS = 200

/** How long after a failure the database is tried again. */
const AGAIN_MS = 2000

/** Long work, of each kind one after the other; what it came to is in the database and outlives the server. */
export class JobQueue {
  private readonly waiting: Waiting[] = []
  /** One at a time of each kind: a card that comes in must not hold up a delivery. */
  private readonly running = new Map<
    Job['kind'],
    { id: string; stop: AbortController; done: Promise<void> }
  >()

  /** What could not be written down yet, by job: the disk was full. */
  private readonly unsaved = new Map<string, Partial<Row>>()
  private readonly takingBack = new Set<string>()
  private again?: ReturnType<typeof setTimeout>

  constructor(private readonly db: Db) {}

  /** Says of every job that a stopped server left unfinished what became of it. */
  recover(): void {
    const open = this.db
      .select()
      .from(jobs)
      .where(inArray(jobs.state, ['waiting', 'running']))
      .all()
    for (const job of open) {
      const message =
        job.kind === 'export'
          ? 'The server stopped before the file was complete; no file was left behind. Deliver it again.'
          : job.kind === 'dust'
            ? 'The server stopped on the way. What was mended is in the history of its frame; look again for the rest.'
            : job.kind === 'areas'
              ? 'The server stopped on the way. Frames that have the area keep it; what it wants found is found when they are opened.'
              : job.kind === 'settings'
                ? 'The server stopped on the way. Frames that have the settings keep them; they can be taken back.'
                : `The server stopped on the way (${job.message || 'nothing brought in yet'}). Bring the folder in again: what is there already is not stored twice.`
      this.set(job.id, { state: 'interrupted', message })
    }
  }

  list(): Job[] {
    // in the order in which they were asked for, also where the clock was set back
    const rows = this.db
      .select()
      .from(jobs)
      .orderBy(desc(sql`rowid`))
      .limit(200)
      .all()
    return rows.map((row) => this.told(row))
  }

  get(id: string): Job {
    const row = this.db.select().from(jobs).where(eq(jobs.id, id)).get()
    if (!row) throw notFound('job')
    return this.told(row)
  }

  /**
   * Takes work on.
   * @param as the name that it was asked for under: asked for again it is the same; and what it makes that can be taken
   *   back, where that is known before
   */
  add(
    kind: Job['kind'],
    title: string,
    request: unknown,
    work: Waiting['work'],
    { id = randomUUID(), made }: { id?: string; made?: unknown } = {},
  ): Job {
    const known = this.db.select().from(jobs).where(eq(jobs.id, id)).get()
    if (known) return this.told(known)
    const created = new Date().toISOString()
    const row: Row = {
      id,
      kind,
      title,
      request,
      created,
      state: 'waiting',
      progress: 0,
      message: '',
      problems: [],
      fileName: null,
      made: made ?? null,
    }
    this.db.insert(jobs).values(row).run()
    this.waiting.push({ id, kind, work })
    this.next()
    return toJob(row)
  }

  cancel(id: string): Job {
    const job = this.get(id)
    const at = this.waiting.findIndex((w) => w.id === id)
    if (at >= 0) {
      this.waiting.splice(at, 1)
      this.set(id, { state: 'cancelled', message: 'Cancelled before it began.' })
    } else if (this.running.get(job.kind)?.id === id) this.running.get(job.kind)!.stop.abort()
    else if (job.state !== 'running') throw new HttpProblem(409, 'finished', 'This job has ended already.')
    return this.get(id)
  }

  /**
   * Takes back what a job has made, once.
   * @throws HttpProblem 409 where it has made nothing, or that has been taken back
   */
  async takeBack(id: string, how: (made: unknown, kind: Job['kind']) => Promise<string>): Promise<Job> {
    const row = this.db.select().from(jobs).where(eq(jobs.id, id)).get()
    if (!row) throw notFound('job')
    if (row.made === null || row.made === undefined)
      throw new HttpProblem(409, 'finished', 'There is nothing to take back.')
    if (row.state === 'waiting' || row.state === 'running')
      throw new HttpProblem(409, 'running', 'It is still going on. Cancel it, or wait until it is done.')
    if (this.takingBack.has(id)) throw new HttpProblem(409, 'running', 'It is being taken back.')
    this.takingBack.add(id)
    try {
      this.set(id, { message: await how(row.made, row.kind), made: null })
    } finally {
      this.takingBack.delete(id)
    }
    return this.get(id)
  }

  /** Stops what runs and waits for its end. */
  async close(): Promise<void> {
    this.waiting.length = 0
    const all = [...this.running.values()]
    for (const { stop } of all) stop.abort()
    await Promise.all(all.map((r) => r.done))
    clearTimeout(this.again)
    this.save()
  }

  private next(): void {
    for (const job of [...this.waiting]) {
      if (this.running.has(job.kind)) continue
      this.waiting.splice(this.waiting.indexOf(job), 1)
      const stop = new AbortController()
      this.running.set(job.kind, { id: job.id, stop, done: this.carryOut(job, stop) })
    }
  }

  private async carryOut({ id, kind, work }: Waiting, stop: AbortController): Promise<void> {
    this.set(id, { state: 'running' })
    let saved = 0
    let said = ''
    const problems: string[] = []
    const report: JobReport = {
      signal: stop.signal,
      progress: (progress, message) => {
        const now = Date.now()
        if (message === undefined && now - saved < SAVE_EVERY_MS) return
        saved = now
        said = message ?? said
        this.set(id, message === undefined ? { progress } : { progress, message })
      },
      problem: (text) => {
        if (problems.length < 500) problems.push(text)
        this.set(id, { problems })
      },
    }
    try {
      const { message, fileName, made } = await work(report)
      this.set(id, {
        ...{ state: 'done', progress: 1, message, fileName: fileName ?? null },
        ...(made !== undefined && { made }),
      })
    } catch (error) {
      if (stop.signal.aborted) this.set(id, { state: 'cancelled', message: cancelled(kind, said) })
      else {
        const problem = toProblem(error)
        if (problem.code === 'failed') console.error(error)
        this.set(id, { state: 'failed', message: problem.message })
      }
    }
    this.running.delete(kind)
    this.next()
  }

  /** Notes what became of a job; where it cannot be written down now, it is told all the same and written later. */
  private set(id: string, values: Partial<Row>): void {
    this.unsaved.set(id, { ...this.unsaved.get(id), ...values })
    this.save()
  }

  private save(): void {
    for (const [id, values] of this.unsaved)
      try {
        this.db.update(jobs).set(values).where(eq(jobs.id, id)).run()
        this.unsaved.delete(id)
      } catch {
        clearTimeout(this.again)
        this.again = setTimeout(() => this.save(), AGAIN_MS)
        this.again.unref()
        return
      }
  }

  private told(row: Row): Job {
    return toJob({ ...row, ...this.unsaved.get(row.id) })
  }
}

const cancelled = (kind: Job['kind'], said: string) =>
  kind === 'import' && said ? `Cancelled at ${said.split(',')[0]}. What had come in stays.` : 'Cancelled.'

const toJob = (row: Row): Job => ({
  id: row.id,
  kind: row.kind,
  state: row.state,
  title: row.title,
  progress: row.progress,
  message: row.message,
  problems: row.problems,
  created: row.created,
  fileName: row.fileName ?? undefined,
  ...(row.made !== null &&
    row.state !== 'waiting' &&
    row.state !== 'running' && { takesBack: true as const }),
})
