import Database from 'libsql'
import { PARTIAL, writeWhole } from '@dunkelkammer/engine/encode'
import { existsSync, mkdirSync, readdirSync, rmSync } from 'node:fs'
import { readdir, stat } from 'node:fs/promises'
import { join, relative } from 'node:path'
import { originalPlace } from '../library/folder'
import { FolderLock, holdOriginals } from '../library/lock'
import { MARK } from '../library/mark'
import { hashOfFile } from '../library/receive'
import { codeOf, isDiskFull, StartProblem, toProblem } from '../problem'
import { copyChecked } from './copyFile'
import { MANIFEST, readManifest, type BackedUp } from './manifest'

/** Folders of a library that are copied as they are; thumbnails are made anew. */
const PLAIN = ['looks', 'profiles', 'deliveries', 'set-aside']

export interface BackupOutcome {
  originals: number
  copied: number
  /** What could not be copied, as sentences. */
  problems: string[]
}

interface OriginalRow {
  hash: string
  size: number
  ending: string
  in_place: string | null
}

/**
 * Copies a library while its server may be at work: a snapshot of the database by SQLite, then every original that the
 * snapshot speaks of, checked by its hash. The server removes no original meanwhile.
 * What an earlier backup holds already is not copied again, and nothing of it is removed before this one is complete.
 * @throws StartProblem where there is no library, or the target holds something else
 */
export async function backupLibrary(
  library: string,
  to: string,
  report: (line: string) => void = () => undefined,
): Promise<BackupOutcome> {
  if (!existsSync(join(library, MARK)) || !existsSync(join(library, 'library.db')))
    throw new StartProblem(`There is no library in ${library}.`)
  mkdirSync(to, { recursive: true })
  const before = await readManifest(to)
  const foreign = readdirSync(to).filter((name) => !OWN.has(name))
  if (!before && foreign.length > 0)
    throw new StartProblem(`${to} holds other files. Name an empty folder, or one with an earlier backup.`)
  const lock = FolderLock.take(to, 'backup-running', (holder) => `${holder} is writing a backup to ${to}.`)
  const work = join(to, 'unfinished')
  let held: FolderLock | undefined
  try {
    held = holdOriginals(library)
    // what an interrupted backup left; only backups write there
    rmSync(work, { recursive: true, force: true })
    mkdirSync(work)
    return await new Backup(library, to, work, before?.files ?? [], report).run(before?.database.path)
  } finally {
    rmSync(work, { recursive: true, force: true })
    held?.release()
    lock.release()
  }
}

/** Names in an unfinished backup. */
const OWN = new Set([
  ...['unfinished', 'originals', 'backup-running.lock', 'backup-running.json', 'lost+found'],
  ...PLAIN,
  MANIFEST,
])

class Backup {
  private readonly files = new Map<string, BackedUp>()
  private readonly known: ReadonlyMap<string, BackedUp>
  private copied = 0

  constructor(
    private readonly library: string,
    private readonly to: string,
    private readonly work: string,
    before: readonly BackedUp[],
    private readonly report: (line: string) => void,
  ) {
    this.known = new Map(before.map((f) => [f.path, f]))
  }

  async run(oldDatabase: string | undefined): Promise<BackupOutcome> {
    const problems: string[] = []
    for (const folder of PLAIN) await this.plain(folder, problems)
    const snapshot = this.snapshot()
    problems.push(...(await this.originals(snapshot.rows)))
    const name = `library-${Date.now()}.db`
    const database = (await copyChecked(snapshot.path, join(this.to, name), this.work))!
    const wanted = new Set(snapshot.rows.map((r) => placeOf(r)))
    const manifest = {
      kind: 'Backup of a library of Dunkelkammer' as const,
      made: new Date().toISOString(),
      database: { path: name, ...database },
      files: [...this.files.values()].filter((f) => !f.path.startsWith('originals/') || wanted.has(f.path)),
    }
    const text = Buffer.from(JSON.stringify(manifest, null, 1))
    await writeWhole(join(this.to, MANIFEST), text, { replace: true, workFolder: this.work })
    if (oldDatabase && oldDatabase !== name) rmSync(join(this.to, oldDatabase), { force: true })
    return { originals: snapshot.rows.length, copied: this.copied, problems }
  }

  private snapshot(): { path: string; rows: OriginalRow[] } {
    const path = join(this.work, `snapshot-${this.copied}-${Date.now()}.db`)
    const db = new Database(join(this.library, 'library.db'))
    try {
      db.pragma('busy_timeout = 10000')
      db.prepare('VACUUM INTO ?').run(path)
    } finally {
      db.close()
    }
    const copy = new Database(path)
    try {
      const [{ integrity_check: state }] = copy.prepare('PRAGMA integrity_check').all() as {
        integrity_check: string
      }[]
      if (state !== 'ok') throw new StartProblem(`The library's database is damaged: ${state}.`)
      return {
        path,
        rows: copy.prepare('select hash, size, ending, in_place from originals').all() as OriginalRow[],
      }
    } finally {
      copy.close()
    }
  }

  /** @returns what could not be copied, as sentences */
  private async originals(rows: readonly OriginalRow[]): Promise<string[]> {
    const problems: string[] = []
    for (const [i, row] of rows.entries()) {
      const path = placeOf(row)
      const target = join(this.to, path)
      const entry = { path, size: row.size, sha256: row.hash }
      const there = await sizeOf(target)
      // what an earlier backup has checked is whole if it has its size; what it had not finished saying is looked at
      if (there === row.size && (this.known.has(path) || (await hashOfFile(target)) === row.hash)) {
        this.files.set(path, entry)
        continue
      }
      const from = row.in_place ?? join(this.library, path)
      try {
        if (await copyChecked(from, target, this.work, row.hash)) {
          this.files.set(path, entry)
          this.copied++
        } else problems.push(`${from} has changed since it was brought in and was left out.`)
      } catch (error) {
        if (isDiskFull(error)) throw error
        problems.push(`${from} was left out. ${toProblem(error).message}`)
      }
      if (i % 50 === 49) this.report(`${i + 1} of ${rows.length} originals`)
    }
    return problems
  }

  private async plain(folder: string, problems: string[]): Promise<void> {
    for (const from of await filesBelow(join(this.library, folder))) {
      const path = relative(this.library, from)
      const known = this.known.get(path)
      try {
        const { size, mtimeMs } = await stat(from)
        const changed = Math.floor(mtimeMs)
        const there = await stat(join(this.to, path)).catch(() => undefined)
        if (known?.changed === changed && known.size === size && there?.size === size)
          this.files.set(path, known)
        else if (size > 0) {
          const copy = await copyChecked(from, join(this.to, path), this.work, undefined, changed)
          this.files.set(path, { path, ...copy!, changed })
        }
      } catch (error) {
        if (codeOf(error) === 'ENOENT') continue
        if (isDiskFull(error)) throw error
        problems.push(`${from} was left out. ${toProblem(error).message}`)
      }
    }
  }
}

const placeOf = ({ hash, ending }: OriginalRow) => originalPlace(hash, ending)

const sizeOf = (path: string) =>
  stat(path).then(
    (s) => s.size,
    () => undefined,
  )

async function filesBelow(folder: string): Promise<string[]> {
  if (!existsSync(folder)) return []
  const out: string[] = []
  for (const entry of await readdir(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name)
    if (entry.isDirectory()) out.push(...(await filesBelow(path)))
    else if (entry.isFile() && !entry.name.endsWith(PARTIAL)) out.push(path)
  }
  return out.sort()
}
