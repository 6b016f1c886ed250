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
import { identify, type Adapter } from '@dunkelkammer/engine/node'
import { and, asc, count, desc, eq, gt, inArray, max, ne, sql } from 'drizzle-orm'
import { randomUUID } from 'node:crypto'
import { rm } from 'node:fs/promises'
import { extname } from 'node:path'
import { schema, type Db, type Tx } from '../db/open'
import { HttpProblem, notFound, toProblem } from '../problem'
import { startDevelopment, type FrameMetadata } from '@dunkelkammer/core'
import type { LibraryFolder } from './folder'
import type { OriginalRow, Originals } from './originals'
import { readRange } from './readRange'
import { keptOnly, MAX_DEVELOPED, readHashed, receiveFile, type Received } from './receive'
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
  place: OriginalRow
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
  /** Of the frame: counts on when anything about it changes. */
  changed: number
}

/** A file that comes in, beside its bytes. */
export interface Arrival {
  fileName: string
  /** When the file was last changed. */
  fileDate?: string
  text?: AtImport
  sidecar?: Sidecar
}

/** What became of a file that came in. */
export interface Added {
  frame: Frame
  /** The shoot had it already. */
  known: boolean
  /** The library had lost its bytes, and has them again. */
  restored: boolean
}

/** What a file is, and what it says where it can be developed. */
interface Looked {
  format: string
  sensor?: SensorFrame
}

/** Format of a file that is kept in the library but too large to be developed. */
export const KEPT = 'kept'

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
    private readonly originals: Originals,
    private readonly adapter: Adapter,
  ) {
    this.counter =
      db
        .select({ n: max(frames.changed) })
        .from(frames)
        .get()?.n ?? 0
  }

  shoots(): Shoot[] {
    const rows = this.db
      .select()
      .from(shoots)
      .orderBy(desc(sql`rowid`))
      .all()
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
      .select({ frame: frames, size: originals.size, inPlace: originals.inPlace })
      .from(frames)
      .innerJoin(originals, eq(frames.original, originals.hash))
      .where(eq(frames.shootId, id))
      .orderBy(asc(frames.taken), asc(frames.fileName))
      .all()
    return { shoot: this.describe(row), frames: found.map((f) => toFrame(f.frame, f.size, f.inPlace)), at }
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
    this.requireShoot(shootId)
    const found = this.db
      .select({ frame: frames, size: originals.size, inPlace: originals.inPlace })
      .from(frames)
      .innerJoin(originals, eq(frames.original, originals.hash))
      .where(and(eq(frames.shootId, shootId), gt(frames.changed, since)))
      .orderBy(asc(frames.changed))
      .limit(NEWS + 1)
      .all()
    const n = this.db.select({ n: count() }).from(frames).where(eq(frames.shootId, shootId)).get()!.n
    return {
      at: found.at(-1)?.frame.changed ?? since,
      frames: found.slice(0, NEWS).map((f) => toFrame(f.frame, f.size, f.inPlace)),
      more: found.length > NEWS,
      count: n,
    }
  }

  frame(id: string): FramePage {
    const { row, size, place } = this.row(id)
    // in the order in which they were made
    const found = this.db
      .select()
      .from(versions)
      .where(eq(versions.frameId, id))
      .orderBy(sql`rowid`)
      .all()
    return { frame: toFrame(row, size, place.inPlace), versions: found.map(toVersion) }
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
      savedBy: null,
      state: {
        history: [{ label: `From ${source.name}`, development: history[cursor].development }],
        cursor: 0,
      },
      changed: new Date().toISOString(),
    }
    this.db.insert(versions).values(row).run()
    return toVersion(row)
  }

  /**
   * @param save its name; the same once more, since its answer got lost, is answered as it was
   * @throws HttpProblem 409 where somebody else has saved since `revision`
   */
  saveVersion(id: string, revision: number, state: VersionState, save?: string): Version {
    const current = this.version(id)
    if (save && current.savedBy === save && current.revision === revision + 1) return current
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
        .set({ state, revision: revision + 1, savedBy: save ?? null, changed })
        .where(and(eq(versions.id, id), eq(versions.revision, revision)))
        .run() as { changes: number }
      if (done.changes !== 1) throw conflict
      tx.update(frames)
        .set({ edited: isEdited(state), changed: this.next() })
        .where(eq(frames.id, current.frameId))
        .run()
    })
    this.onChange?.()
    return { ...current, revision: revision + 1, savedBy: save ?? null, state }
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
    const gone = this.db.transaction((tx) => {
      const gone = tx.select({ id: frames.id }).from(frames).where(dropped).all()
      for (const some of pieces(gone.map((g) => g.id)))
        tx.delete(versions).where(inArray(versions.frameId, some)).run()
      tx.delete(frames).where(dropped).run()
      this.originals.release(tx)
      return gone
    })
    this.originals.finishRemovals()
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
      place,
      path: this.originals.path(place),
      inPlace: place.inPlace !== null,
      fileName: row.fileName,
      format: row.format,
      orientation: row.metadata.orientation,
      preview,
    }
  }

  /**
   * Bytes of a frame's original in the form that the engine opens, checked against their hash.
   * @throws HttpProblem where the file is missing, was changed, or is kept only
   */
  async readOriginal(id: string): Promise<Uint8Array> {
    const { place, format } = this.original(id)
    if (format === KEPT) throw keptOnly()
    const bytes = await this.originals.read(place)
    return format === 'dng' ? bytes : (await this.adapter.adapt(bytes)).dng
  }

  /**
   * Puts a frame's original back: the file becomes the library's own copy.
   * @throws HttpProblem 409 where it is another file; it is discarded then
   */
  async restoreOriginal(id: string, received: Received): Promise<void> {
    try {
      const { place } = this.original(id)
      if (received.hash !== place.hash)
        throw new HttpProblem(
          409,
          'another',
          'This is another file than the one that was brought in. Bring it in as a frame of its own.',
        )
      const sound = place.inPlace === null && (await this.originals.isSound(place.hash, place.ending))
      this.db.transaction((tx) => {
        this.originals.put(tx, received, endingOf(this.original(id)), sound)
        this.touch(tx, place.hash)
      })
      this.onChange?.()
    } finally {
      await discard(received)
    }
  }

  /**
   * Copies originals that were left where they are into the library.
   * @returns how many, and what became of the rest in words
   */
  async keepCopies(ids: readonly string[]): Promise<{ count: number; problems: string[] }> {
    let count = 0
    const problems: string[] = []
    for (const { id, fileName } of this.rows(ids)) {
      const { place, inPlace } = this.original(id)
      if (!inPlace) continue
      try {
        const path = await this.originals.sound(place)
        await this.restoreOriginal(id, await receiveFile(path, this.folder.work))
        count++
      } catch (error) {
        problems.push(`${fileName}: ${toProblem(error).message}`)
      }
    }
    return { count, problems }
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
      .select({
        frameId: frames.id,
        versionId: versions.id,
        revision: versions.revision,
        changed: frames.changed,
      })
      .from(frames)
      .innerJoin(versions, eq(versions.frameId, frames.id))
      .where(
        and(
          ne(frames.format, KEPT),
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
   * Makes a received file a frame of a shoot, with its first version. One transaction gives the file its place and
   * makes it known. Where its content is known but the file is missing or spoiled, it is put back.
   * @throws RawError where the file cannot be developed, HttpProblem where there is no such shoot; it is discarded then
   */
  async add(shootId: string, arrival: Arrival, received: Received): Promise<Added> {
    try {
      return await this.take(shootId, arrival, received)
    } finally {
      await discard(received)
    }
  }

  private async take(shootId: string, arrival: Arrival, received: Received): Promise<Added> {
    this.requireShoot(shootId)
    const { hash } = received
    let looked: Looked | undefined
    for (;;) {
      const before = this.originals.row(hash)
      if (!this.inShoot(shootId, hash)) looked ??= await this.look(received)
      const ending = looked?.format === 'dng' ? '.dng' : safeEnding(arrival.fileName)
      const sound = await this.originals.isSound(hash, before?.ending ?? ending)
      let undo = () => undefined as void
      try {
        const added = this.db.transaction((tx): Added | undefined => {
          const row = this.originals.row(hash)
          const same = this.inShoot(shootId, hash)
          // what was found out while others were at work no longer counts
          if (row?.inPlace !== before?.inPlace || (!same && !looked)) return undefined
          const restored = row !== undefined && !sound
          const copied = received.of !== 'user' && row !== undefined && row.inPlace !== null
          if (!same || restored || copied) undo = this.originals.put(tx, received, ending, sound)
          if (restored) this.touch(tx, hash)
          const at = this.originals.row(hash)!.inPlace
          if (same) return { frame: toFrame(same, received.size, at), known: true, restored }
          const fresh = this.newRow(shootId, arrival, hash, looked!)
          tx.insert(frames).values(fresh).run()
          tx.insert(versions)
            .values(firstVersion(fresh.id, this.begin(fresh.metadata)))
            .run()
          return { frame: toFrame(fresh, received.size, at), known: false, restored }
        })
        if (!added) continue
        this.onChange?.()
        return added
      } catch (error) {
        undo()
        throw error
      }
    }
  }

  /** Has pages ask anew for the frames of an original. */
  private touch(tx: Tx, hash: string): void {
    tx.update(frames).set({ changed: this.next() }).where(eq(frames.original, hash)).run()
  }

  /** Reads what there is to know of a file before it is developed. @throws RawError where it cannot be */
  private async look(received: Received): Promise<Looked> {
    if (received.size > MAX_DEVELOPED) {
      identify(await readRange(received.path, 0, 1 << 20))
      return { format: KEPT }
    }
    const { bytes, hash } = await readHashed(received.path)
    if (hash !== received.hash) throw new HttpProblem(409, 'changed', 'This file changed while it was read.')
    const format = identify(bytes)
    return { format, sensor: readDng(format === 'dng' ? bytes : (await this.adapter.adapt(bytes)).dng) }
  }

  private newRow(shootId: string, arrival: Arrival, original: string, { format, sensor }: Looked): FrameRow {
    const metadata: FrameMetadata = sensor ? { ...sensor.metadata, exif: undefined } : { orientation: 1 }
    const preview = format === 'dng' ? sensor?.preview : undefined
    return {
      id: randomUUID(),
      shootId,
      original,
      fileName: arrival.fileName.slice(-300),
      ...(sensor ? developedSize(sensor) : { width: 0, height: 0 }),
      previewOffset: preview?.offset ?? null,
      previewLength: preview?.length ?? null,
      metadata,
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
  }

  /** Names of the frames that have an original, each with its shoot. */
  namesOf(hash: string): string[] {
    return this.db
      .select({ name: frames.fileName, shoot: shoots.name })
      .from(frames)
      .innerJoin(shoots, eq(frames.shootId, shoots.id))
      .where(eq(frames.original, hash))
      .all()
      .map((f) => `${f.name} (${f.shoot})`)
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

/** Removes a received file that is not needed: only one that we have written this moment. */
async function discard(received: Received): Promise<void> {
  if (received.of === 'us') await rm(received.path, { force: true })
}

const firstVersion = (frameId: string, begun: VersionState['history'][number]) => ({
  id: randomUUID(),
  frameId,
  name: 'First version',
  revision: 0,
  state: stateFrom(begun),
  changed: new Date().toISOString(),
})

const endingOf = ({ format, fileName }: OriginalPlace) => (format === 'dng' ? '.dng' : safeEnding(fileName))

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
