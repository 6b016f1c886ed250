import type { Frame, FrameChange, Text } from '@dunkelkammer/contract'
import type { Adapter } from '@dunkelkammer/engine/node'
import { asc, count, desc, eq, gt, inArray, sql } from 'drizzle-orm'
import { schema, type Db, type Tx } from '../db/open'
import { HttpProblem, notFound, toProblem } from '../problem'
import { endingOf, isDeveloped, keptFor, sidecarValues, type Kept } from './arrivals'
import type { LibraryFolder } from './folder'
import type { News } from './news'
import type { OriginalRow, Originals } from './originals'
import { inPieces } from './pieces'
import { discard, KEPT, keptOnly, receiveFile, type Received } from './receive'
import { textOf, toFrame, type FrameRow, thumbName } from './rows'
import type { Sidecar } from './sidecars/xmp'

const { frames, originals, shoots } = schema

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

/** Frames as the database has them. */
export class Frames {
  /** Called when thumbnails or sidecars may have become stale. */
  onChange?: () => void

  constructor(
    private readonly db: Db,
    private readonly folder: LibraryFolder,
    private readonly originals: Originals,
    private readonly adapter: Adapter,
    private readonly news: News,
  ) {}

  /** A frame as pages know it, and the version that the sheet shows where one was chosen. */
  get(id: string): { frame: Frame; shown: string | null } {
    const { row, size, place } = this.row(id)
    return { frame: toFrame(row, size, place.inPlace), shown: row.shown }
  }

  /** Rows of frames, in no order; those that are no more are left out. */
  rows(ids: readonly string[]): FrameRow[] {
    return inPieces(ids).flatMap((some) =>
      this.db.select().from(frames).where(inArray(frames.id, some)).all(),
    )
  }

  /**
   * Carries out changes of many frames, all or none.
   * @returns how many frames were changed
   * @throws HttpProblem 409 where a frame is moved to a shoot that has it already
   */
  change(changes: readonly FrameChange[]): number {
    const done = this.db.transaction((tx) => {
      let done = 0
      for (const { ids, text, ...rest } of changes) {
        if (rest.shootId !== undefined) refuseTwins(tx, ids, rest.shootId)
        const values: Partial<FrameRow> = { ...rest, ...text, changed: this.news.next(tx) }
        for (const some of inPieces(ids)) {
          const result = tx.update(frames).set(values).where(inArray(frames.id, some)).run()
          done += (result as { changes: number }).changes
        }
      }
      return done
    })
    this.onChange?.()
    return done
  }

  /**
   * Takes what a sidecar says for a frame: its words, and versions that the frame does not have.
   * @param restore puts the versions back. @returns what could not be read
   */
  takeSidecar(id: string, sidecar: Sidecar, restore: (tx: Tx, kept: Kept) => string[]): string[] {
    const { row } = this.row(id)
    const problems: string[] = []
    const { fileName } = row
    const kept = keptFor({ fileName, sidecar }, row.original, (problem) => problems.push(problem))
    this.db.transaction((tx) => {
      const { label } = sidecar
      const marked = label !== undefined && { metadata: { ...row.metadata, label } }
      const set = { ...sidecarValues(sidecar), ...marked, changed: this.news.next(tx) }
      tx.update(frames).set(set).where(eq(frames.id, id)).run()
      if (kept && isDeveloped(kept)) problems.push(...restore(tx, kept))
    })
    this.onChange?.()
    return problems
  }

  /** Frames that changed since their sidecars were written, what changed first first. */
  withOldSidecar(most: number): FrameRow[] {
    const old = gt(frames.changed, frames.sidecar)
    return this.db.select().from(frames).where(old).orderBy(asc(frames.changed)).limit(most).all()
  }

  countOldSidecars(): number {
    return this.db.select({ n: count() }).from(frames).where(gt(frames.changed, frames.sidecar)).get()!.n
  }

  /** Notes that the sidecar of a frame was written as the frame was then. */
  noteSidecar({ id, changed }: Pick<FrameRow, 'id' | 'changed'>): void {
    this.db.update(frames).set({ sidecar: changed }).where(eq(frames.id, id)).run()
  }

  /** Has the sheet show a version. */
  show(tx: Tx, id: string, version: string): void {
    tx.update(frames).set({ shown: version }).where(eq(frames.id, id)).run()
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

  /**
   * Notes that files were made of a frame.
   * @param revision of the version that they were made of; of settings that it had once where missing
   */
  markDelivered(frameId: string, delivery: string, revision?: number): void {
    this.db.transaction((tx) => {
      const [row] = this.rows([frameId])
      if (!row) return
      const deliveredAs = revision === undefined ? '' : thumbName(revision)
      const same = row.deliveredAs === deliveredAs
      const deliveredBy = [...new Set([...(same ? row.deliveredBy : []), delivery])]
      const delivered = new Date().toISOString()
      const set = { delivered, deliveredBy, deliveredAs, changed: this.news.next(tx) }
      tx.update(frames).set(set).where(eq(frames.id, frameId)).run()
    })
    this.onChange?.()
  }

  /** Has pages ask anew for the frames of an original. */
  touch(tx: Tx, hash: string): void {
    tx.update(frames)
      .set({ changed: this.news.next(tx) })
      .where(eq(frames.original, hash))
      .run()
  }

  /** A frame that has an original, the one brought in last; one in the bin only where there is no other. */
  withOriginal(hash: string): Pick<FrameRow, 'id' | 'shootId'> | undefined {
    const [row] = this.db
      .select({ id: frames.id, shootId: frames.shootId, mark: frames.mark })
      .from(frames)
      .where(eq(frames.original, hash))
      .orderBy(desc(sql`rowid`))
      .all()
      .sort((a, b) => Number(a.mark === 'drop') - Number(b.mark === 'drop'))
    return row
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
}

/** A shoot has each original once. */
function refuseTwins(tx: Tx, ids: readonly string[], shootId: string): void {
  if (!tx.select().from(shoots).where(eq(shoots.id, shootId)).get()) throw notFound('shoot')
  const there = tx
    .select({ id: frames.id, original: frames.original })
    .from(frames)
    .where(eq(frames.shootId, shootId))
    .all()
  const known = new Map(there.map((f) => [f.original, f.id]))
  for (const some of inPieces(ids))
    for (const { id, original, fileName } of tx.select().from(frames).where(inArray(frames.id, some)).all()) {
      if ((known.get(original) ?? id) !== id)
        throw new HttpProblem(409, 'twin', `${fileName} is in that shoot already.`)
      known.set(original, id)
    }
}
