import { developedSize, readDng, type SensorFrame } from '@dunkelkammer/core'
import type {
  AtImport,
  Frame,
  FrameChange,
  FramePage,
  News,
  Shoot,
  ShootPage,
  Text,
  Version,
  VersionState,
} from '@dunkelkammer/contract'
import { identify, type Adapter, type FormatId } from '@dunkelkammer/engine/node'
import { and, asc, count, desc, eq, gt, inArray, max, ne, notInArray, sql } from 'drizzle-orm'
import { randomUUID } from 'node:crypto'
import { readFile, rm } from 'node:fs/promises'
import { extname } from 'node:path'
import { schema, type Db } from '../db/open'
import { HttpProblem, notFound, originalGone } from '../problem'
import { startDevelopment, type FrameMetadata } from '@dunkelkammer/core'
import type { LibraryFolder, Received } from './folder'
import { isEdited, stateFrom, textOf, thumbName, toFrame, toVersion, type FrameRow } from './rows'
import type { Sidecar } from './xmp'

const { frames, originals, shoots, versions } = schema
const COVER = 4
const MAX_VERSIONS = 50
/** Lists of shoots that are kept as text. */
const TEXTS = 3
/** Most changed frames that are told at once. */
const NEWS = 500
/** Ids in one condition; SQLite takes no more than some thousands. */
const AT_ONCE = 500

/** Where a frame's original lies, and what can be shown of it at once. */
export interface OriginalPlace {
  path: string
  fileName: string
  format: string
  orientation: number
  inPlace: boolean
  /** The embedded JPEG in it. */
  preview?: { offset: number; length: number }
}

/** A version whose thumbnail is to be made. */
export interface StaleThumb {
  frameId: string
  versionId: string
  revision: number
}

/** A file that comes in, beside its bytes. */
export interface Arrival {
  fileName: string
  /** When the file was last changed. */
  fileDate?: string
  text?: AtImport
  sidecar?: Sidecar
}

/** Shoots, frames and versions as the database has them. */
export class Frames {
  private counter = 0
  private removals = 0
  private readonly texts = new Map<string, { key: string; text: string }>()
  /** What a frame that comes in begins with. */
  begin: (metadata: FrameMetadata) => VersionState['history'][number] = () => ({
    label: 'As taken',
    development: startDevelopment(),
  })
  /** Called when thumbnails may have become stale. */
  onChange?: () => void

  constructor(
    private readonly db: Db,
    private readonly folder: LibraryFolder,
    private readonly adapter: Adapter,
  ) {
    this.counter =
      db
        .select({ n: max(frames.changed) })
        .from(frames)
        .get()?.n ?? 0
  }

  shoots(): Shoot[] {
    const rows = this.db.select().from(shoots).orderBy(desc(shoots.created), asc(shoots.name)).all()
    return rows.map((row) => this.describe(row))
  }

  createShoot(name: string, atImport: AtImport = {}): Shoot {
    const row = { id: randomUUID(), name, created: new Date().toISOString(), atImport }
    this.db.insert(shoots).values(row).run()
    return this.describe(row)
  }

  /** Remembers what is to be written into the frames that come in from now on. */
  setAtImport(id: string, atImport: AtImport): Shoot {
    this.requireShoot(id)
    this.texts.delete(id)
    this.db.update(shoots).set({ atImport }).where(eq(shoots.id, id)).run()
    return this.describe(this.requireShoot(id))
  }

  /** @throws HttpProblem 404 where there is no such shoot */
  requireShoot(id: string): typeof shoots.$inferSelect {
    const row = this.db.select().from(shoots).where(eq(shoots.id, id)).get()
    if (!row) throw notFound('shoot')
    return row
  }

  shoot(id: string): ShootPage {
    const row = this.requireShoot(id)
    const at = this.counter
    const found = this.db
      .select({ frame: frames, size: originals.size })
      .from(frames)
      .innerJoin(originals, eq(frames.original, originals.hash))
      .where(eq(frames.shootId, id))
      .orderBy(asc(frames.taken), asc(frames.fileName))
      .all()
    return { shoot: this.describe(row), frames: found.map((f) => toFrame(f.frame, f.size)), at }
  }

  /** The same as text, kept until something changes: a large shoot is opened again and again. */
  shootText(id: string): string {
    const { name } = this.requireShoot(id)
    const key = `${this.counter} ${this.removals} ${name}`
    const known = this.texts.get(id)
    if (known?.key === key) return known.text
    const text = JSON.stringify(this.shoot(id))
    this.texts.delete(id)
    this.texts.set(id, { key, text })
    for (const old of [...this.texts.keys()].slice(0, -TEXTS)) this.texts.delete(old)
    return text
  }

  /** Frames of a shoot that changed since a page asked, the oldest change first. */
  news(shootId: string, since: number): News {
    const found = this.db
      .select({ frame: frames, size: originals.size })
      .from(frames)
      .innerJoin(originals, eq(frames.original, originals.hash))
      .where(and(eq(frames.shootId, shootId), gt(frames.changed, since)))
      .orderBy(asc(frames.changed))
      .limit(NEWS + 1)
      .all()
    const n = this.db.select({ n: count() }).from(frames).where(eq(frames.shootId, shootId)).get()!.n
    return {
      at: found.at(-1)?.frame.changed ?? since,
      frames: found.slice(0, NEWS).map((f) => toFrame(f.frame, f.size)),
      more: found.length > NEWS,
      count: n,
    }
  }

  frame(id: string): FramePage {
    const { row, size } = this.row(id)
    // in the order in which they were made
    const found = this.db
      .select()
      .from(versions)
      .where(eq(versions.frameId, id))
      .orderBy(sql`rowid`)
      .all()
    return { frame: toFrame(row, size), versions: found.map(toVersion) }
  }

  /** Rows of frames, in no order; those that are no more are left out. */
  rows(ids: readonly string[]): FrameRow[] {
    return pieces(ids).flatMap((some) => this.db.select().from(frames).where(inArray(frames.id, some)).all())
  }

  version(id: string): Version {
    const row = this.db.select().from(versions).where(eq(versions.id, id)).get()
    if (!row) throw notFound('version')
    return toVersion(row)
  }

  /**
   * A new version of a frame, begun as another one stands, its history its own from there on.
   * @throws HttpProblem where there are as many as may be
   */
  addVersion(frameId: string, from: string): Version {
    const { versions: known } = this.frame(frameId)
    const source = known.find((v) => v.id === from)
    if (!source) throw notFound('version')
    if (known.length >= MAX_VERSIONS)
      throw new HttpProblem(409, 'too-many', `A frame has at most ${MAX_VERSIONS} versions.`)
    const { history, cursor } = source.state
    const row = {
      id: randomUUID(),
      frameId,
      name: `Version ${known.length + 1}`,
      revision: 0,
      state: {
        history: [{ label: `From ${source.name}`, development: history[cursor].development }],
        cursor: 0,
      },
      changed: new Date().toISOString(),
    }
    this.db.insert(versions).values(row).run()
    return toVersion(row)
  }

  /** @throws HttpProblem 409 where somebody else has saved since `revision` */
  saveVersion(id: string, revision: number, state: VersionState): Version {
    const current = this.version(id)
    const conflict = new HttpProblem(
      409,
      'changed',
      'This version was changed in another window. Reload to see it.',
    )
    if (current.revision !== revision) throw conflict
    const changed = new Date().toISOString()
    this.db.transaction((tx) => {
      const done = tx
        .update(versions)
        .set({ state, revision: revision + 1, changed })
        .where(and(eq(versions.id, id), eq(versions.revision, revision)))
        .run() as { changes: number }
      if (done.changes !== 1) throw conflict
      tx.update(frames)
        .set({ edited: isEdited(state), changed: this.next() })
        .where(eq(frames.id, current.frameId))
        .run()
    })
    this.onChange?.()
    return { ...current, revision: revision + 1, state }
  }

  /** Carries out changes of many frames, all or none. @returns how many frames were changed */
  change(changes: readonly FrameChange[]): number {
    return this.db.transaction((tx) => {
      let done = 0
      for (const { ids, text, ...rest } of changes) {
        const values: Partial<FrameRow> = { ...rest, ...text, changed: this.next() }
        for (const some of pieces(ids)) {
          const result = tx.update(frames).set(values).where(inArray(frames.id, some)).run()
          done += (result as { changes: number }).changes
        }
      }
      return done
    })
  }

  /** Takes what a sidecar says for a frame. */
  takeSidecar(id: string, sidecar: Sidecar): void {
    this.row(id)
    this.db
      .update(frames)
      .set({ ...sidecarValues(sidecar), changed: this.next() })
      .where(eq(frames.id, id))
      .run()
  }

  /** Removes the dropped frames of a shoot for good, with what only they needed. @returns how many */
  async emptyBin(shootId: string): Promise<number> {
    this.requireShoot(shootId)
    this.removals++
    const dropped = and(eq(frames.shootId, shootId), eq(frames.mark, 'drop'))
    const { gone, orphans } = this.db.transaction((tx) => {
      const gone = tx.select({ id: frames.id, original: frames.original }).from(frames).where(dropped).all()
      for (const some of pieces(gone.map((g) => g.id)))
        tx.delete(versions).where(inArray(versions.frameId, some)).run()
      tx.delete(frames).where(dropped).run()
      const used = tx.select({ hash: frames.original }).from(frames)
      const orphans = tx.select().from(originals).where(notInArray(originals.hash, used)).all()
      for (const some of pieces(orphans.map((o) => o.hash)))
        tx.delete(originals).where(inArray(originals.hash, some)).run()
      return { gone, orphans }
    })
    // the database has forgotten them: what cannot be removed now is swept at the next start
    for (const o of orphans)
      if (o.inPlace === null) await rm(this.folder.original(o.hash, o.ending), { force: true })
    for (const g of gone) await this.folder.forgetThumbs(g.id)
    return gone.length
  }

  /** Where a frame's original lies. */
  original(id: string): OriginalPlace {
    const { row, place } = this.row(id)
    const preview =
      row.previewOffset !== null && row.previewLength !== null
        ? { offset: row.previewOffset, length: row.previewLength }
        : undefined
    return {
      path: place.inPlace ?? this.folder.original(place.hash, place.ending),
      inPlace: place.inPlace !== null,
      fileName: row.fileName,
      format: row.format,
      orientation: row.metadata.orientation,
      preview,
    }
  }

  /**
   * Bytes of a frame's original in the form that the engine opens.
   * @throws HttpProblem where the file is no longer where it was
   */
  async readOriginal(id: string): Promise<Uint8Array> {
    const { path, format, inPlace } = this.original(id)
    const bytes = await readFile(path).catch((error: NodeJS.ErrnoException) => {
      throw inPlace ? gone(error) : error
    })
    return format === 'dng' ? bytes : (await this.adapter.adapt(new Uint8Array(bytes))).dng
  }

  markDelivered(frameId: string): void {
    this.db
      .update(frames)
      .set({ delivered: new Date().toISOString(), changed: this.next() })
      .where(eq(frames.id, frameId))
      .run()
  }

  /**
   * Some frames whose thumbnails are not of their settings as they are, what was touched last first, dropped frames
   * last. A frame is shown by its first version.
   * @param quietSince versions changed later are still being worked on
   */
  staleThumbs(quietSince: Date, most: number): StaleThumb[] {
    return this.db
      .select({ frameId: frames.id, versionId: versions.id, revision: versions.revision })
      .from(frames)
      .innerJoin(versions, eq(versions.frameId, frames.id))
      .where(
        and(
          sql`(${frames.thumb} is null or ${frames.thumb} <> 'r' || ${versions.revision})`,
          sql`${versions}.rowid = (select min(v.rowid) from ${versions} v where v.frame_id = ${frames.id})`,
          sql`(${versions.revision} = 0 or ${versions.changed} < ${quietSince.toISOString()})`,
        ),
      )
      .orderBy(asc(sql`${frames.mark} = 'drop'`), desc(frames.changed))
      .limit(most)
      .all()
  }

  setThumb(frameId: string, revision: number): void {
    this.db
      .update(frames)
      .set({ thumb: thumbName(revision), changed: this.next() })
      .where(eq(frames.id, frameId))
      .run()
  }

  /**
   * Makes a received file a frame of a shoot, with its first version. The file has its place before the database
   * speaks of it, and one transaction makes it known, so that a crash leaves nothing half there.
   * @throws RawError where the file cannot be developed, HttpProblem where there is no such shoot; it is discarded then
   */
  async add(
    shootId: string,
    arrival: Arrival,
    received: Received,
  ): Promise<{ frame: Frame; known: boolean }> {
    let sensor: SensorFrame
    let format: FormatId
    try {
      this.requireShoot(shootId)
      const same = this.inShoot(shootId, received.hash)
      if (same) {
        await this.folder.discard(received)
        return { frame: toFrame(same, received.size), known: true }
      }
      const bytes = received.bytes ?? (await readFile(received.path))
      format = identify(bytes)
      sensor = readDng(format === 'dng' ? bytes : (await this.adapter.adapt(new Uint8Array(bytes))).dng)
    } catch (error) {
      await this.folder.discard(received)
      throw error
    }
    const ending = format === 'dng' ? '.dng' : safeEnding(arrival.fileName)
    await this.folder.keep(received, ending)
    return this.db.transaction((tx) => {
      const known = this.inShoot(shootId, received.hash)
      if (known) return { frame: toFrame(known, received.size), known: true }
      const { hash, size } = received
      const inPlace = received.inPlace ? received.path : null
      tx.insert(originals).values({ hash, size, ending, inPlace }).onConflictDoNothing().run()
      // a copy in the library is surer than a file elsewhere
      if (!received.inPlace)
        tx.update(originals)
          .set({ inPlace: null, ending })
          .where(and(eq(originals.hash, hash), ne(sql`coalesce(${originals.inPlace}, '')`, '')))
          .run()
      const { metadata } = sensor
      const row: FrameRow = {
        id: randomUUID(),
        shootId,
        original: hash,
        fileName: arrival.fileName.slice(-300),
        ...developedSize(sensor),
        previewOffset: (format === 'dng' && sensor.preview?.offset) || null,
        previewLength: (format === 'dng' && sensor.preview?.length) || null,
        metadata: { ...metadata, exif: undefined },
        taken: metadata.taken ?? null,
        fileDate: arrival.fileDate ?? null,
        format,
        rating: 0,
        mark: 'none',
        title: '',
        caption: (metadata.description ?? '').slice(0, 4000),
        creator: (arrival.text?.creator || metadata.artist || '').slice(0, 300),
        copyright: (arrival.text?.copyright || metadata.copyright || '').slice(0, 300),
        keywords: arrival.text?.keywords ?? [],
        edited: false,
        delivered: null,
        thumb: null,
        changed: this.next(),
        ...(arrival.sidecar && sidecarValues(arrival.sidecar, arrival.text?.keywords)),
      }
      tx.insert(frames).values(row).run()
      tx.insert(versions)
        .values({
          id: randomUUID(),
          frameId: row.id,
          name: 'First version',
          revision: 0,
          state: stateFrom(this.begin(row.metadata)),
          changed: new Date().toISOString(),
        })
        .run()
      this.onChange?.()
      return { frame: toFrame(row, size), known: false }
    })
  }

  /** Hashes of all originals that a frame uses. */
  hashes(): Set<string> {
    const all = this.db.select({ hash: originals.hash }).from(originals).all()
    return new Set(all.map((r) => r.hash))
  }

  /** Words of a frame, its stars and mark. */
  words(id: string): { text: Text; rating: number; mark: FrameRow['mark']; fileName: string } {
    const { row } = this.row(id)
    return { text: textOf(row), rating: row.rating, mark: row.mark, fileName: row.fileName }
  }

  private inShoot(shootId: string, hash: string): FrameRow | undefined {
    return this.db
      .select()
      .from(frames)
      .where(and(eq(frames.shootId, shootId), eq(frames.original, hash)))
      .get()
  }

  private next(): number {
    return ++this.counter
  }

  private row(id: string): { row: FrameRow; size: number; place: typeof originals.$inferSelect } {
    const found = this.db
      .select({ row: frames, place: originals })
      .from(frames)
      .innerJoin(originals, eq(frames.original, originals.hash))
      .where(eq(frames.id, id))
      .get()
    if (!found) throw notFound('frame')
    return { ...found, size: found.place.size }
  }

  private describe(row: typeof shoots.$inferSelect): Shoot {
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

const gone = (error: NodeJS.ErrnoException) =>
  error.code === 'ENOENT'
    ? originalGone()
    : new HttpProblem(410, 'gone', 'The original cannot be read where it was brought in from.')

/** The ending of a name where it is a plain one. */
const safeEnding = (name: string) => {
  const ending = extname(name).toLowerCase()
  return /^\.[a-z0-9]{1,5}$/.test(ending) ? ending : '.file'
}

const sidecarValues = ({ text, rating, mark }: Sidecar, more: readonly string[] = []) => ({
  ...text,
  ...(text.keywords && { keywords: [...new Set([...text.keywords, ...more])].slice(0, 200) }),
  ...(rating !== undefined && { rating }),
  ...(mark !== undefined && { mark }),
})

function pieces(ids: readonly string[]): string[][] {
  const out: string[][] = []
  for (let i = 0; i < ids.length; i += AT_ONCE) out.push(ids.slice(i, i + AT_ONCE))
  return out
}
