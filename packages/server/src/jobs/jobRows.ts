import type { Job } from '@dunkelkammer/contract'
import { and, asc, desc, eq, inArray, sql } from 'drizzle-orm'
import { schema, type Db, type Tx } from '../db/open'

const { jobs } = schema
export type JobRow = typeof jobs.$inferSelect

/** How long after a failure the database is tried again. */
const AGAIN_MS = 2000

/** Jobs in the database; one that runs is under the lease of the server's run that is at it. */
export class JobRows {
  /** What could not be written down yet, by job: the disk was full. */
  private readonly unsaved = new Map<string, Partial<JobRow>>()
  private again?: ReturnType<typeof setTimeout>

  /** @param owner names this run of the server */
  constructor(
    private readonly db: Db,
    private readonly owner: string,
  ) {}

  /** @param also is written down together with it */
  insert(row: JobRow, also?: (tx: Tx) => void): void {
    this.db.transaction((tx) => {
      tx.insert(jobs).values(row).run()
      also?.(tx)
    })
  }

  find(id: string): JobRow | undefined {
    const row = this.db.select().from(jobs).where(eq(jobs.id, id)).get()
    return row && this.told(row)
  }

  /** The latest, in the order in which they were asked for, also where the clock was set back. */
  latest(count: number): JobRow[] {
    const rows = this.db
      .select()
      .from(jobs)
      .orderBy(desc(sql`rowid`))
      .limit(count)
      .all()
    return rows.map((row) => this.told(row))
  }

  /**
   * Takes the job of a kind that has waited longest under this run's lease.
   * @throws where the database cannot be written
   */
  take(kind: Job['kind']): JobRow | undefined {
    return this.db.transaction((tx) => {
      const row = tx
        .select()
        .from(jobs)
        .where(and(eq(jobs.kind, kind), eq(jobs.state, 'waiting')))
        .orderBy(asc(sql`rowid`))
        .limit(1)
        .get()
      // what it came to may not be written down yet
      if (!row || this.told(row).state !== 'waiting') return undefined
      const taken = { state: 'running' as const, lease: this.owner }
      tx.update(jobs).set(taken).where(eq(jobs.id, row.id)).run()
      return { ...row, ...taken }
    })
  }

  /** Jobs under the lease of a run that is no more. */
  left(): JobRow[] {
    const rows = this.db
      .select()
      .from(jobs)
      .where(inArray(jobs.state, ['waiting', 'running']))
      .all()
    return rows.filter((row) => row.lease !== this.owner)
  }

  /** Notes what became of a job; where it cannot be written down now, it is told all the same and written later. */
  set(id: string, values: Partial<JobRow>): void {
    this.unsaved.set(id, { ...this.unsaved.get(id), ...values })
    this.save()
  }

  /** Writes what could not be written yet. */
  save(): void {
    clearTimeout(this.again)
    for (const [id, values] of this.unsaved)
      try {
        this.db.update(jobs).set(values).where(eq(jobs.id, id)).run()
        this.unsaved.delete(id)
      } catch {
        this.again = setTimeout(() => this.save(), AGAIN_MS)
        this.again.unref()
        return
      }
  }

  close(): void {
    clearTimeout(this.again)
    this.save()
    clearTimeout(this.again)
  }

  private told(row: JobRow): JobRow {
    return { ...row, ...this.unsaved.get(row.id) }
  }
}
