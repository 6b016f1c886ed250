import { eq, sql } from 'drizzle-orm'
import { schema, type Db, type Tx } from '../db/open'

const { counters } = schema
const NEWS = 'news'

/** Counts the changes of frames and shoots, so that a page can ask what is new. It never counts back. */
export class News {
  constructor(private readonly db: Db) {}

  get now(): number {
    return this.db.select().from(counters).where(eq(counters.name, NEWS)).get()?.value ?? 0
  }

  next(tx: Db | Tx): number {
    const { value } = tx
      .insert(counters)
      .values({ name: NEWS, value: 1 })
      .onConflictDoUpdate({ target: counters.name, set: { value: sql`${counters.value} + 1` } })
      .returning({ value: counters.value })
      .get()
    return value
  }
}
