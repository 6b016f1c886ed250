import { developedSize, readDng, startDevelopment, type SensorFrame } from '@dunkelkammer/core'
import type { Frame, FramePage, Shoot, ShootPage, Version, VersionState } from '@dunkelkammer/contract'
import { VersionStateSchema } from '@dunkelkammer/contract'
import { and, asc, count, desc, eq } from 'drizzle-orm'
import { randomUUID } from 'node:crypto'
import { readFile } from 'node:fs/promises'
import { schema, type Db } from '../db/open'
import { HttpProblem, notFound } from '../problem'
import type { LibraryFolder, Received } from './folder'

const { frames, originals, shoots, versions } = schema
const COVER = 4

type FrameRow = typeof frames.$inferSelect

const startState = (): VersionState => ({
  history: [{ label: 'As taken', development: startDevelopment() }],
  cursor: 0,
})

/** Shoots, frames and versions as the database has them. */
export class Frames {
  constructor(
    private readonly db: Db,
    private readonly folder: LibraryFolder,
  ) {}

  shoots(): Shoot[] {
    const rows = this.db.select().from(shoots).orderBy(desc(shoots.created), asc(shoots.name)).all()
    return rows.map((row) => this.describe(row))
  }

  createShoot(name: string): Shoot {
    const row = { id: randomUUID(), name, created: new Date().toISOString() }
    this.db.insert(shoots).values(row).run()
    return this.describe(row)
  }

  /** @throws HttpProblem 404 where there is no such shoot */
  requireShoot(id: string): typeof shoots.$inferSelect {
    const row = this.db.select().from(shoots).where(eq(shoots.id, id)).get()
    if (!row) throw notFound('shoot')
    return row
  }

  shoot(id: string): ShootPage {
    const row = this.requireShoot(id)
    const found = this.db
      .select({ frame: frames, size: originals.size })
      .from(frames)
      .innerJoin(originals, eq(frames.original, originals.hash))
      .where(eq(frames.shootId, id))
      .orderBy(asc(frames.taken), asc(frames.fileName))
      .all()
    return { shoot: this.describe(row), frames: found.map((f) => toFrame(f.frame, f.size)) }
  }

  frame(id: string): FramePage {
    const { row, size } = this.row(id)
    const found = this.db.select().from(versions).where(eq(versions.frameId, id)).all()
    return { frame: toFrame(row, size), versions: found.map(toVersion) }
  }

  version(id: string): Version {
    const row = this.db.select().from(versions).where(eq(versions.id, id)).get()
    if (!row) throw notFound('version')
    return toVersion(row)
  }

  /** @throws HttpProblem 409 where somebody else has saved since `revision` */
  saveVersion(id: string, revision: number, state: VersionState): Version {
    const current = this.version(id)
    if (current.revision !== revision)
      throw new HttpProblem(409, 'changed', 'This version was changed in another window. Reload to see it.')
    const changed = new Date().toISOString()
    const done = this.db
      .update(versions)
      .set({ state, revision: revision + 1, changed })
      .where(and(eq(versions.id, id), eq(versions.revision, revision)))
      .run() as { changes: number }
    if (done.changes !== 1)
      throw new HttpProblem(409, 'changed', 'This version was changed in another window. Reload to see it.')
    return { ...current, revision: revision + 1, state }
  }

  /** Path of a frame's original, and where its embedded preview lies in it. */
  original(id: string): {
    path: string
    fileName: string
    orientation: number
    preview?: { offset: number; length: number }
  } {
    const { row } = this.row(id)
    const preview =
      row.previewOffset !== null && row.previewLength !== null
        ? { offset: row.previewOffset, length: row.previewLength }
        : undefined
    const { orientation } = row.metadata
    return { path: this.folder.original(row.original), fileName: row.fileName, orientation, preview }
  }

  /**
   * Makes a received file a frame of a shoot, with its first version. The file has its place before the database
   * speaks of it, and one transaction makes it known, so that a crash leaves nothing half there.
   * @throws RawError where the file cannot be developed, HttpProblem where there is no such shoot; it is discarded then
   */
  async add(
    shootId: string,
    fileName: string,
    received: Received,
  ): Promise<{ frame: Frame; known: boolean }> {
    let sensor: SensorFrame
    try {
      this.requireShoot(shootId)
      sensor = readDng(await readFile(received.path))
    } catch (error) {
      await this.folder.discard(received)
      throw error
    }
    await this.folder.keep(received)
    return this.db.transaction((tx) => {
      const same = and(eq(frames.shootId, shootId), eq(frames.original, received.hash))
      const known = tx.select().from(frames).where(same).get()
      if (known) return { frame: toFrame(known, received.size), known: true }
      tx.insert(originals).values({ hash: received.hash, size: received.size }).onConflictDoNothing().run()
      const row: FrameRow = {
        id: randomUUID(),
        shootId,
        original: received.hash,
        fileName: fileName.slice(-300),
        ...developedSize(sensor),
        previewOffset: sensor.preview?.offset ?? null,
        previewLength: sensor.preview?.length ?? null,
        metadata: { ...sensor.metadata, exif: undefined },
        taken: sensor.metadata.taken ?? null,
      }
      tx.insert(frames).values(row).run()
      tx.insert(versions)
        .values({
          id: randomUUID(),
          frameId: row.id,
          name: 'First version',
          revision: 0,
          state: startState(),
          changed: new Date().toISOString(),
        })
        .run()
      return { frame: toFrame(row, received.size), known: false }
    })
  }

  /** Hashes of all originals that a frame uses. */
  hashes(): Set<string> {
    return new Set(
      this.db
        .select({ hash: originals.hash })
        .from(originals)
        .all()
        .map((r) => r.hash),
    )
  }

  private row(id: string): { row: FrameRow; size: number } {
    const found = this.db
      .select({ row: frames, size: originals.size })
      .from(frames)
      .innerJoin(originals, eq(frames.original, originals.hash))
      .where(eq(frames.id, id))
      .get()
    if (!found) throw notFound('frame')
    return found
  }

  private describe(row: typeof shoots.$inferSelect): Shoot {
    const frameCount = this.db.select({ n: count() }).from(frames).where(eq(frames.shootId, row.id)).get()!.n
    const cover = this.db
      .select({ id: frames.id })
      .from(frames)
      .where(eq(frames.shootId, row.id))
      .orderBy(asc(frames.taken), asc(frames.fileName))
      .limit(COVER)
      .all()
    return { ...row, frameCount, cover: cover.map((c) => c.id) }
  }
}

const toFrame = (row: FrameRow, fileSize: number): Frame => ({
  id: row.id,
  shootId: row.shootId,
  fileName: row.fileName,
  width: row.width,
  height: row.height,
  fileSize,
  hasPreview: row.previewOffset !== null,
  metadata: row.metadata,
})

const toVersion = (row: typeof versions.$inferSelect): Version => ({
  id: row.id,
  frameId: row.frameId,
  name: row.name,
  revision: row.revision,
  state: VersionStateSchema.parse(row.state),
})
