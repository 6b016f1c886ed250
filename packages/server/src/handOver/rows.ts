import type { HandedOver } from '@dunkelkammer/contract'
import { and, asc, eq, inArray, isNull } from 'drizzle-orm'
import { schema, type Db } from '../db/open'
import { notFound } from '../problem'
import { join } from 'node:path'

const { handOvers, frames, jobParts } = schema
export type HandOverRow = typeof handOvers.$inferSelect

/** What is known of files that were handed over. */
export class HandOverRows {
  constructor(private readonly db: Db) {}

  /** Those that something is waited for to come back of, the first given first. */
  open(): HandOverRow[] {
    return this.db
      .select()
      .from(handOvers)
      .where(isNull(handOvers.ended))
      .orderBy(asc(handOvers.given), asc(handOvers.number))
      .all()
  }

  /** One that is waited for. */
  find(id: string): HandOverRow | undefined {
    return this.db
      .select()
      .from(handOvers)
      .where(and(eq(handOvers.id, id), isNull(handOvers.ended)))
      .get()
  }

  /** @throws HttpProblem 404 where there is none that is waited for */
  require(id: string): HandOverRow {
    const row = this.find(id)
    if (!row) throw notFound('file that was handed over')
    return row
  }

  has(jobId: string, number: number): boolean {
    const part = and(eq(handOvers.jobId, jobId), eq(handOvers.number, number))
    return this.db.select({ id: handOvers.id }).from(handOvers).where(part).get() !== undefined
  }

  add(row: HandOverRow): void {
    this.db.insert(handOvers).values(row).onConflictDoNothing().run()
  }

  set(id: string, values: Partial<HandOverRow>): void {
    this.db.update(handOvers).set(values).where(eq(handOvers.id, id)).run()
  }

  /** As pages know them. */
  told(): HandedOver[] {
    return this.db
      .select({ row: handOvers, frameName: frames.fileName, shootId: frames.shootId })
      .from(handOvers)
      .innerJoin(frames, eq(frames.id, handOvers.frameId))
      .where(isNull(handOvers.ended))
      .orderBy(asc(handOvers.given), asc(handOvers.number))
      .all()
      .map(({ row, frameName, shootId }) => ({
        ...{ id: row.id, frameId: row.frameId, frameName, shootId, delivery: row.delivery },
        ...{ path: join(row.folder, row.fileName), given: row.given, back: row.back },
        ...{ program: row.program ?? undefined, problem: row.problem ?? undefined },
      }))
  }

  /** Which of some paths are files that deliveries have made. */
  made(paths: readonly string[]): Set<string> {
    const rows = this.db
      .select({ file: jobParts.file })
      .from(jobParts)
      .where(inArray(jobParts.file, [...paths]))
      .all()
    return new Set(rows.flatMap((r) => r.file ?? []))
  }
}
