import { bulkName, MOST_BULK } from '@dunkelkammer/core'
import type { Engine } from '@dunkelkammer/engine'
import { eq, inArray } from 'drizzle-orm'
import { schema, type Db, type Tx } from '../db/open'
import { HttpProblem, notFound } from '../problem'

const { bulk } = schema

/** Bulk data of settings. What settings speak of is here before they are taken down, and stays. */
export class Bulk {
  constructor(private readonly db: Db) {}

  /**
   * Keeps some bytes; what is there already is kept once.
   * @throws HttpProblem where they are not what they are called
   */
  put(name: string, bytes: Uint8Array): void {
    if (bytes.length === 0 || bytes.length > MOST_BULK || bulkName(bytes) !== name)
      throw new HttpProblem(422, 'damaged', 'What was painted did not arrive whole. Please try again.')
    const row = { name, bytes: Buffer.from(bytes), created: new Date().toISOString() }
    this.db.insert(bulk).values(row).onConflictDoNothing().run()
  }

  /** @throws HttpProblem 404 */
  get(name: string): Uint8Array {
    const bytes = this.find(name)
    if (!bytes) throw notFound('painted path')
    return bytes
  }

  find(name: string): Uint8Array | undefined {
    const row = this.db.select({ bytes: bulk.bytes }).from(bulk).where(eq(bulk.name, name)).get()
    return row && new Uint8Array(row.bytes)
  }

  /** Has an engine ask here for what developments speak of. */
  serve(engine: Engine): Engine {
    engine.bulkSource = (name) => Promise.resolve().then(() => this.get(name))
    return engine
  }
}

/** Refuses settings that speak of bulk data which has not come. @throws HttpProblem 409 */
export function requireBulk(db: Db | Tx, names: ReadonlySet<string>): void {
  if (names.size === 0) return
  const rows = db
    .select({ name: bulk.name })
    .from(bulk)
    .where(inArray(bulk.name, [...names]))
    .all()
  if (rows.length < names.size)
    throw new HttpProblem(409, 'bulk-missing', 'What was painted has not arrived yet.')
}
