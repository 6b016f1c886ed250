import {
  CubeError,
  MAX_CUBE,
  readCube,
  startDevelopment,
  type ColourTable,
  type Development,
  type FrameMetadata,
  type Recipe,
} from '@dunkelkammer/core'
import type { Engine } from '@dunkelkammer/engine'
import { writeWhole } from '@dunkelkammer/engine/encode'
import { LookEntrySchema, NewFramesSchema, type LookEntry, type NewFrames } from '@dunkelkammer/contract'
import { createHash, randomUUID } from 'node:crypto'
import { existsSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { desc, eq } from 'drizzle-orm'
import { schema, type Db } from '../db/open'
import { HttpProblem, notFound } from '../problem'
import type { LibraryFolder } from './folder'

const { looks, settings } = schema
const NEW_FRAMES = 'new frames'
const MOST = 500

/** The looks of a library, and with which of them new frames begin. */
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

  get newFrames(): NewFrames {
    const row = this.db.select().from(settings).where(eq(settings.key, NEW_FRAMES)).get()
    return NewFramesSchema.parse(row?.value ?? {})
  }

  set newFrames(value: NewFrames) {
    this.db
      .insert(settings)
      .values({ key: NEW_FRAMES, value })
      .onConflictDoUpdate({ target: settings.key, set: { value } })
      .run()
  }

  /** What a frame begins with: the first rule that its camera and ISO meet. */
  beginning({ make, model, iso }: FrameMetadata): { label: string; development: Development } {
    const start = startDevelopment()
    const { lens } = this.newFrames
    const development: Development =
      lens === 'off'
        ? start
        : { ...start, steps: { ...start.steps, lens: { ...start.steps.lens, choice: lens } } }
    const camera = [make, model].filter(Boolean).join(' ').toLowerCase()
    const rule = this.newFrames.rules.find(
      (r) =>
        (!r.camera || camera.includes(r.camera.toLowerCase())) &&
        (r.isoFrom === undefined || (iso !== undefined && iso >= r.isoFrom)) &&
        (r.isoTo === undefined || (iso !== undefined && iso <= r.isoTo)),
    )
    if (!rule || rule.look.kind === 'none') return { label: 'As taken', development }
    return {
      label: `As taken, with ${rule.look.name}`,
      development: { ...development, steps: { ...development.steps, look: rule.look } },
    }
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
