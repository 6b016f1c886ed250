import type { MadeFile } from '@dunkelkammer/contract'
import type { Journal, Part } from '@dunkelkammer/engine/deliveries'
import { and, asc, eq, inArray } from 'drizzle-orm'
import { schema, type Db, type Tx } from '../db/open'

const { jobParts, frames } = schema
type PartRow = typeof jobParts.$inferSelect

/** A part as it is asked for. */
export type NewPart = Pick<
  PartRow,
  'number' | 'frameId' | 'frameName' | 'versionId' | 'delivery' | 'deliveryName'
>

/** Rows that one statement takes: SQLite counts its variables. */
const AT_ONCE = 200

const bare = <K extends keyof Part>(value: Part[K] | null): Part[K] | undefined => value ?? undefined

const toPart = (row: PartRow): Part => ({
  ...{ number: row.number, frame: row.frameId, delivery: row.delivery, state: row.state },
  ...{ partial: bare<'partial'>(row.partial), file: bare<'file'>(row.file) },
  ...{ inode: bare<'inode'>(row.inode), bytes: bare<'bytes'>(row.bytes) },
  ...{
    width: bare<'width'>(row.width),
    height: bare<'height'>(row.height),
    message: bare<'message'>(row.message),
  },
})

export class JobParts {
  constructor(private readonly db: Db) {}

  /** Writes down the files that a job is to make. */
  begin(tx: Tx, jobId: string, parts: readonly NewPart[]): void {
    for (let i = 0; i < parts.length; i += AT_ONCE) {
      const rows = parts.slice(i, i + AT_ONCE).map((part) => ({ jobId, ...part, state: 'waiting' as const }))
      tx.insert(jobParts).values(rows).run()
    }
  }

  journal(jobId: string): Journal {
    const all = this.rows(jobId).map(toPart)
    return {
      parts: () => all,
      set: (number, values) => {
        const row = Object.fromEntries(
          Object.entries(values).map(([k, v]) => [k, v ?? null]),
        ) as Partial<PartRow>
        const made = values.state === 'done' ? { made: new Date().toISOString() } : {}
        this.db
          .update(jobParts)
          .set({ ...row, ...made })
          .where(and(eq(jobParts.jobId, jobId), eq(jobParts.number, number)))
          .run()
        Object.assign(all[number], values)
      },
    }
  }

  /** Has what failed wait once more. */
  again(jobId: string): void {
    this.db
      .update(jobParts)
      .set({ state: 'waiting', message: null })
      .where(and(eq(jobParts.jobId, jobId), eq(jobParts.state, 'failed')))
      .run()
  }

  files(jobId: string): MadeFile[] {
    const rows = this.rows(jobId)
    const shoots = new Map<string, string>()
    for (let i = 0; i < rows.length; i += AT_ONCE)
      for (const { id, shootId } of this.db
        .select({ id: frames.id, shootId: frames.shootId })
        .from(frames)
        .where(
          inArray(
            frames.id,
            rows.slice(i, i + AT_ONCE).map((r) => r.frameId),
          ),
        )
        .all())
        shoots.set(id, shootId)
    return rows.map((row) => ({
      ...{ number: row.number, frameId: row.frameId, frameName: row.frameName, versionId: row.versionId },
      ...{ delivery: row.deliveryName, state: row.state, shootId: shoots.get(row.frameId) },
      ...{ path: row.file ?? undefined, bytes: row.bytes ?? undefined, message: row.message ?? undefined },
      ...{ width: row.width ?? undefined, height: row.height ?? undefined },
    }))
  }

  file(jobId: string, number: number): PartRow | undefined {
    return this.db
      .select()
      .from(jobParts)
      .where(and(eq(jobParts.jobId, jobId), eq(jobParts.number, number)))
      .get()
  }

  private rows(jobId: string): PartRow[] {
    return this.db
      .select()
      .from(jobParts)
      .where(eq(jobParts.jobId, jobId))
      .orderBy(asc(jobParts.number))
      .all()
  }
}
