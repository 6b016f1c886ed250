import { and, eq, isNull, notInArray, sql } from 'drizzle-orm'
import { existsSync, renameSync, rmSync } from 'node:fs'
import { readdir, stat } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { schema, type Db, type Tx } from '../db/open'
import { HttpProblem, originalChanged, originalGone } from '../problem'
import { areOriginalsHeld } from './lock'
import { makeRoomFor, syncFolderNow, type LibraryFolder } from './folder'
import { placeInLibrary } from './sidecars/files'
import { hashOfFile, readHashed, stampOf, type Received } from './receive'

const { frames, originals, removals } = schema
/** How long removals wait that a backup holds up. */
const LATER_MS = 5000
export type OriginalRow = typeof originals.$inferSelect
export type OriginalState = 'sound' | 'missing' | 'changed'

/** A file in the library's folder that the library does not know. */
export interface UnknownFile {
  path: string
  size: number
}

/**
 * The original files: each content once, checked against its hash. Whatever decides over them does so inside of one
 * database transaction and with it moves or removes the file, so that nothing comes in between.
 */
export class Originals {
  private later?: ReturnType<typeof setTimeout>

  constructor(
    private readonly db: Db,
    private readonly folder: LibraryFolder,
  ) {}

  all(): OriginalRow[] {
    return this.db.select().from(originals).all()
  }

  row(hash: string): OriginalRow | undefined {
    return this.db.select().from(originals).where(eq(originals.hash, hash)).get()
  }

  path(row: Pick<OriginalRow, 'hash' | 'ending' | 'inPlace'>): string {
    return row.inPlace ?? this.folder.original(row.hash, row.ending)
  }

  /** Compares an original's bytes with its hash. */
  async check(row: OriginalRow): Promise<OriginalState> {
    const path = this.path(row)
    if (!existsSync(path)) return 'missing'
    try {
      if ((await hashOfFile(path)) !== row.hash) return 'changed'
      await this.remember(row, path)
      return 'sound'
    } catch (error) {
      if (error instanceof HttpProblem) return 'changed'
      throw error
    }
  }

  /**
   * The path of an original that is as it came in: its hash is computed where the file's size or times are not those
   * of the last check.
   * @throws HttpProblem where it is missing or was changed
   */
  async sound(row: OriginalRow): Promise<string> {
    const path = this.path(row)
    const stamp = await stat(path).then(stampOf, () => undefined)
    if (stamp === undefined) throw originalGone(row.inPlace !== null)
    if (stamp !== row.stamp && (await this.check(row)) !== 'sound') throw originalChanged()
    return path
  }

  /** All bytes of an original, their hash checked. @throws HttpProblem where it is missing or was changed */
  async read(row: OriginalRow): Promise<Uint8Array> {
    const path = this.path(row)
    const { bytes, hash } = await readHashed(path).catch((error: NodeJS.ErrnoException) => {
      throw ['ENOENT', 'ENOTDIR', 'EIO', 'ENXIO'].includes(error.code ?? '')
        ? originalGone(row.inPlace !== null)
        : error
    })
    if (hash !== row.hash) throw originalChanged()
    return bytes
  }

  /** Whether the content is at its place, or would be if it were known. */
  async isSound(hash: string, ending: string): Promise<boolean> {
    const row = this.row(hash)
    if (row) return (await this.check(row)) === 'sound'
    const path = this.folder.original(hash, ending)
    return existsSync(path) && (await hashOfFile(path).catch(() => undefined)) === hash
  }

  /**
   * Gives received bytes their place and makes them known, within the transaction that makes use of them. A copy in
   * the library is surer than a file elsewhere and takes its place; what lies where it belongs but is something else
   * is set aside.
   * @param sound whether the content was found at its place just before
   * @returns how to take it back if the transaction fails
   */
  put(tx: Tx, received: Received, ending: string, sound: boolean): () => void {
    const { hash, size, path, stamp } = received
    const row = tx.select().from(originals).where(eq(originals.hash, hash)).get()
    tx.delete(removals).where(eq(removals.hash, hash)).run()
    const store = (inPlace: string | null, as: string) => {
      const values = { inPlace, ending: as, stamp }
      if (row) tx.update(originals).set(values).where(eq(originals.hash, hash)).run()
      else
        tx.insert(originals)
          .values({ hash, size, ...values })
          .run()
    }
    const nothing = () => undefined
    if (received.of === 'user') {
      if (!row || !sound) store(path, ending)
      return nothing
    }
    const as = row?.inPlace === null ? row.ending : ending
    const target = this.folder.original(hash, as)
    const there = existsSync(target)
    const elsewhere = row !== undefined && row.inPlace !== null
    if (there && sound && !elsewhere) {
      if (!row) store(null, as)
      return nothing
    }
    store(null, as)
    if (target === path) return nothing
    if (there) this.folder.setAside(target)
    makeRoomFor(target)
    renameSync(path, target)
    syncFolderNow(dirname(target))
    return row ? nothing : () => renameSync(target, path)
  }

  /** Forgets the originals that no frame uses any more; their files go when `finishRemovals` is called. */
  release(tx: Tx): void {
    const used = tx.select({ hash: frames.original }).from(frames)
    const unused = notInArray(originals.hash, used)
    const copies = tx
      .select({ hash: originals.hash, ending: originals.ending })
      .from(originals)
      .where(and(unused, isNull(originals.inPlace)))
      .all()
    for (const copy of copies) tx.insert(removals).values(copy).onConflictDoNothing().run()
    tx.delete(originals).where(unused).run()
  }

  /**
   * Removes the files whose removal was asked for, unless the same content has come in again meanwhile. While a backup
   * is made they stay, since it may be copying them.
   */
  finishRemovals(): void {
    clearTimeout(this.later)
    if (areOriginalsHeld(this.folder.root)) {
      this.later = setTimeout(() => this.finishRemovals(), LATER_MS)
      this.later.unref()
      return
    }
    for (const { hash, ending } of this.db.select().from(removals).all()) {
      // nothing may be waited for from here to the end: the content could come in again
      if (!this.row(hash)) {
        const path = this.folder.original(hash, ending)
        rmSync(path, { force: true })
        rmSync(placeInLibrary(path), { force: true })
      }
      this.db.delete(removals).where(eq(removals.hash, hash)).run()
    }
  }

  /** Files in the library's folder that it does not know: left by a lost database, or put there by hand. */
  async unknown(): Promise<UnknownFile[]> {
    const known = new Set<string>()
    for (const { hash, ending } of [...this.all(), ...this.db.select().from(removals).all()]) {
      const path = this.folder.original(hash, ending)
      known.add(path).add(placeInLibrary(path))
    }
    const found: UnknownFile[] = []
    const look = async (path: string, into: (name: string) => boolean) => {
      for (const entry of await readdir(path, { withFileTypes: true })) {
        const at = join(path, entry.name)
        if (entry.isDirectory()) {
          if (into(entry.name)) await look(at, () => true)
        } else if (entry.isFile() && !known.has(at)) {
          const size = await stat(at).then(
            (s) => s.size,
            () => undefined,
          )
          if (size !== undefined) found.push({ path: at, size })
        }
      }
    }
    await look(this.folder.originals, () => true)
    await look(this.folder.incoming, (name) => !name.startsWith('run-'))
    // a sidecar goes where its original goes
    const sidecars = new Set(found.map((f) => placeInLibrary(f.path)))
    return found.filter((f) => !sidecars.has(f.path)).sort((a, b) => (a.path < b.path ? -1 : 1))
  }

  /** How many there are and how large they are, and how many of them lie elsewhere. */
  count(): { count: number; bytes: number; inPlace: number } {
    return this.db
      .select({
        count: sql<number>`count(*)`,
        bytes: sql<number>`coalesce(sum(${originals.size}), 0)`,
        inPlace: sql<number>`count(${originals.inPlace})`,
      })
      .from(originals)
      .get()!
  }

  close(): void {
    clearTimeout(this.later)
  }

  private async remember(row: OriginalRow, path: string): Promise<void> {
    const stamp = await stat(path).then(stampOf, () => null)
    if (stamp === row.stamp) return
    try {
      this.db.update(originals).set({ stamp }).where(eq(originals.hash, row.hash)).run()
    } catch {
      // on a full disk it is checked again the next time
    }
  }
}
