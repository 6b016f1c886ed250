import type { AtImport, News as NewsPage, Shoot, ShootPage } from '@dunkelkammer/contract'
import { and, asc, count, desc, eq, gt, ne, sql, type SQL } from 'drizzle-orm'
import { randomUUID } from 'node:crypto'
import { schema, type Db } from '../db/open'
import { notFound } from '../problem'
import type { LibraryFolder } from './folder'
import type { News } from './news'
import type { Originals } from './originals'
import { inPieces } from './pieces'
import { toFrame } from './rows'
import type { Versions } from './versions'

const { frames, originals, shoots } = schema
type ShootRow = typeof shoots.$inferSelect
const COVER = 4
/** Lists of shoots that are kept as text. */
const TEXTS = 3
/** Most changed frames that are told at once. */
const MOST_NEWS = 500

/** Shoots, and the frames in each. */
export class Shoots {
  /** Called when sidecars may have become stale. */
  onChange?: () => void

  private readonly texts = new Map<string, { key: string; text: string }>()

  constructor(
    private readonly db: Db,
    private readonly folder: LibraryFolder,
    private readonly originals: Originals,
    private readonly versions: Versions,
    private readonly news: News,
  ) {}

  list(): Shoot[] {
    const rows = this.db
      .select()
      .from(shoots)
      .orderBy(desc(sql`rowid`))
      .all()
    return rows.map((row) => this.describe(row))
  }

  create(name: string, atImport: AtImport = {}): Shoot {
    const row = { id: randomUUID(), name, created: new Date().toISOString(), atImport }
    this.db.insert(shoots).values(row).run()
    return this.describe(row)
  }

  /** The shoot of an id, made as it was where there is none. */
  ensure(row: Pick<ShootRow, 'id' | 'name' | 'created' | 'atImport'>): ShootRow {
    this.db.insert(shoots).values(row).onConflictDoNothing().run()
    return this.require(row.id)
  }

  rename(id: string, name: string): Shoot {
    this.require(id)
    this.db.transaction((tx) => {
      tx.update(shoots).set({ name }).where(eq(shoots.id, id)).run()
      this.news.next(tx)
      // they name their shoot
      tx.update(frames).set({ sidecar: 0 }).where(eq(frames.shootId, id)).run()
    })
    this.onChange?.()
    return this.describe(this.require(id))
  }

  /** Remembers what is to be written into the frames that come in from now on. */
  setAtImport(id: string, atImport: AtImport): Shoot {
    this.require(id)
    this.texts.delete(id)
    this.db.update(shoots).set({ atImport }).where(eq(shoots.id, id)).run()
    return this.describe(this.require(id))
  }

  /** @throws HttpProblem 404 where there is no such shoot */
  require(id: string): ShootRow {
    const row = this.db.select().from(shoots).where(eq(shoots.id, id)).get()
    if (!row) throw notFound('shoot')
    return row
  }

  page(id: string): ShootPage {
    const row = this.require(id)
    const at = this.news.now
    const found = this.framesWhere(eq(frames.shootId, id))
      .orderBy(asc(frames.taken), asc(frames.fileName))
      .all()
    return { shoot: this.describe(row), frames: found.map((f) => toFrame(f.frame, f.size, f.inPlace)), at }
  }

  /** The same as text, kept until something changes: a large shoot is opened again and again. */
  pageText(id: string): string {
    const { name } = this.require(id)
    const key = `${this.news.now} ${name}`
    const known = this.texts.get(id)
    if (known?.key === key) return known.text
    const text = JSON.stringify(this.page(id))
    this.texts.delete(id)
    this.texts.set(id, { key, text })
    for (const old of [...this.texts.keys()].slice(0, -TEXTS)) this.texts.delete(old)
    return text
  }

  /** Frames of a shoot that changed since a page asked, the oldest change first. */
  newsOf(shootId: string, since: number): NewsPage {
    this.require(shootId)
    const found = this.framesWhere(and(eq(frames.shootId, shootId), gt(frames.changed, since)))
      .orderBy(asc(frames.changed))
      .limit(MOST_NEWS + 1)
      .all()
    const n = this.db.select({ n: count() }).from(frames).where(eq(frames.shootId, shootId)).get()!.n
    return {
      at: found.at(-1)?.frame.changed ?? since,
      frames: found.slice(0, MOST_NEWS).map((f) => toFrame(f.frame, f.size, f.inPlace)),
      more: found.length > MOST_NEWS,
      count: n,
    }
  }

  /** Removes the dropped frames of a shoot for good, with what only they needed. @returns how many */
  async emptyBin(shootId: string): Promise<number> {
    this.require(shootId)
    return this.removeFrames(and(eq(frames.shootId, shootId), eq(frames.mark, 'drop'))!)
  }

  /** Removes a shoot for good, with its frames and what only they needed. @returns how many frames it had */
  async remove(shootId: string): Promise<number> {
    this.require(shootId)
    const gone = await this.removeFrames(eq(frames.shootId, shootId), shootId)
    this.texts.delete(shootId)
    return gone
  }

  private async removeFrames(which: SQL, shootId?: string): Promise<number> {
    const gone = this.db.transaction((tx) => {
      const gone = tx.select({ id: frames.id }).from(frames).where(which).all()
      for (const some of inPieces(gone.map((g) => g.id))) this.versions.forget(tx, some)
      tx.delete(frames).where(which).run()
      if (shootId) tx.delete(shoots).where(eq(shoots.id, shootId)).run()
      this.originals.release(tx)
      this.news.next(tx)
      return gone
    })
    this.originals.finishRemovals()
    for (const g of gone) await this.folder.forgetMade(g.id)
    return gone.length
  }

  private framesWhere(which: SQL | undefined) {
    return this.db
      .select({ frame: frames, size: originals.size, inPlace: originals.inPlace })
      .from(frames)
      .innerJoin(originals, eq(frames.original, originals.hash))
      .where(which)
      .$dynamic()
  }

  private describe(row: ShootRow): Shoot {
    const shown = and(eq(frames.shootId, row.id), ne(frames.mark, 'drop'))
    const frameCount = this.db.select({ n: count() }).from(frames).where(shown).get()!.n
    const cover = this.db
      .select({ id: frames.id, thumb: frames.thumb })
      .from(frames)
      .where(shown)
      .orderBy(desc(frames.rating), asc(frames.taken), asc(frames.fileName))
      .limit(COVER)
      .all()
    return { ...row, frameCount, cover: cover.map((c) => ({ id: c.id, thumb: c.thumb ?? '' })) }
  }
}
