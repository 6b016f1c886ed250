import Database from 'libsql'
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { hostname } from 'node:os'
import { join } from 'node:path'
import { StartProblem } from '../problem'

/** Who holds a folder, for people to read. */
interface Holder {
  process: number
  host: string
  since: string
}

/**
 * Makes one process the only one that works on a folder. The lock is SQLite's own on a file of its own: the system
 * takes it away from whoever dies, in whatever way.
 */
export class FolderLock {
  private constructor(
    private readonly db: Database.Database,
    private readonly note: string,
  ) {}

  /**
   * @param name of the lock, and of the files that it keeps in the folder
   * @param refusal what to say where somebody else has it
   * @throws StartProblem with that
   */
  static take(folder: string, name: string, refusal: (holder: string) => string): FolderLock {
    const note = join(folder, `${name}.json`)
    const db = new Database(join(folder, `${name}.lock`))
    try {
      db.pragma('busy_timeout = 0')
      db.exec('BEGIN EXCLUSIVE')
    } catch (error) {
      db.close()
      if ((error as { code?: string }).code !== 'SQLITE_BUSY') throw error
      throw new StartProblem(refusal(describe(note)))
    }
    const holder: Holder = { process: process.pid, host: hostname(), since: new Date().toISOString() }
    try {
      writeFileSync(note, JSON.stringify(holder))
    } catch {
      // a full disk: the lock holds all the same
    }
    return new FolderLock(db, note)
  }

  /** Whether somebody holds a lock of that name now. */
  static isHeld(folder: string, name: string): boolean {
    const file = join(folder, `${name}.lock`)
    if (!existsSync(file)) return false
    const db = new Database(file)
    try {
      db.pragma('busy_timeout = 0')
      db.exec('BEGIN EXCLUSIVE')
      db.exec('ROLLBACK')
      return false
    } catch (error) {
      return (error as { code?: string }).code === 'SQLITE_BUSY'
    } finally {
      db.close()
    }
  }

  release(): void {
    rmSync(this.note, { force: true })
    // closing alone keeps the lock until the memory is collected
    this.db.exec('ROLLBACK')
    this.db.close()
  }
}

/** The one server of a library. @throws StartProblem that says who else it is */
export const lockLibrary = (root: string): FolderLock =>
  FolderLock.take(
    root,
    'server',
    (holder) =>
      `The library ${root} is in use by ${holder}. Stop that one first, ` +
      'or name another library in DUNKELKAMMER_LIBRARY.',
  )

function describe(note: string): string {
  try {
    const { process, host, since } = JSON.parse(readFileSync(note, 'utf8')) as Holder
    return `the process ${process} on ${host}, started ${since}`
  } catch {
    return 'another process'
  }
}

const BACKUP = 'backup'

/** Has the server of a library keep the originals that it would remove until the backup is done. */
export const holdOriginals = (root: string): FolderLock =>
  FolderLock.take(root, BACKUP, (holder) => `${holder} is making a backup of ${root} already.`)

export const areOriginalsHeld = (root: string): boolean => FolderLock.isHeld(root, BACKUP)
