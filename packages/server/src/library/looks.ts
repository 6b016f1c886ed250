import { CubeError, MAX_CUBE, readCube, type ColourTable, type Recipe } from '@dunkelkammer/core'
import type { Engine } from '@dunkelkammer/engine'
import { writeWhole } from '@dunkelkammer/engine/encode'
import { LookEntrySchema, type LookEntry } from '@dunkelkammer/contract'
import { createHash, randomUUID } from 'node:crypto'
import { existsSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { desc, eq } from 'drizzle-orm'
import { schema, type Db } from '../db/open'
import { HttpProblem, notFound } from '../problem'
import type { LibraryFolder } from './folder'

const { looks } = schema
const MOST = 500

/** The looks of a library. */
export class Looks {
  constructor(
    private readonly db: Db,
    private readonly folder: LibraryFolder,
  ) {}

  list(): LookEntry[] {
    return this.db
      .select()
      .from(looks)
      .where(eq(looks.removed, false))
      .orderBy(desc(looks.created))
      .all()
      .map((row) => LookEntrySchema.parse({ ...row, recipe: row.recipe ?? undefined }))
  }

  /**
   * Takes in a table of colours.
   * @throws HttpProblem with a sentence where it is none
   */
  async addTable(name: string, text: string): Promise<LookEntry> {
    const table = readTable(text)
    const id = createHash('sha256').update(text).digest('hex')
    const path = this.folder.look(id)
    if (!existsSync(path))
      await writeWhole(path, Buffer.from(text), { replace: true, workFolder: this.folder.work })
    return this.put({ id, name: name || table.title || 'Table of colours', kind: 'table' })
  }

  addRecipe(name: string, recipe: Recipe): LookEntry {
    return this.put({ id: randomUUID(), name, kind: 'recipe', recipe })
  }

  remove(id: string): void {
    const { changes } = this.db.update(looks).set({ removed: true }).where(eq(looks.id, id)).run() as {
      changes: number
    }
    if (changes === 0) throw notFound('look')
  }

  /** Text of a table of colours. */
  async table(id: string): Promise<string> {
    if (!/^[0-9a-f]{64}$/.test(id)) throw notFound('look')
    const path = this.folder.look(id)
    if (!existsSync(path)) throw notFound('look')
    return readFile(path, 'utf8')
  }

  /** Has an engine ask here for the tables that developments speak of. */
  serve(engine: Engine): Engine {
    engine.tableSource = async (name) => readTable(await this.table(name))
    return engine
  }

  private put(entry: Omit<LookEntry, 'created'>): LookEntry {
    if (this.list().length >= MOST)
      throw new HttpProblem(409, 'full', `There are ${MOST} looks already; remove some first.`)
    const row = { ...entry, recipe: entry.recipe ?? null, removed: false, created: new Date().toISOString() }
    this.db
      .insert(looks)
      .values(row)
      .onConflictDoUpdate({ target: looks.id, set: { name: row.name, removed: false } })
      .run()
    return LookEntrySchema.parse({ ...entry, created: row.created })
  }
}

function readTable(text: string): ColourTable {
  try {
    return readCube(text)
  } catch (error) {
    if (error instanceof CubeError) throw new HttpProblem(422, 'unreadable', error.message)
    throw error
  }
}

/** Most bytes of a table of colours. */
export const MAX_LOOK = MAX_CUBE
