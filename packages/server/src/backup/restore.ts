import Database from 'libsql'
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { originalPlace } from '../library/folder'
import { FolderLock } from '../library/lock'
import { MARK, writeMark } from '../library/mark'
import { hashOfFile } from '../library/receive'
import { isDiskFull, StartProblem } from '../problem'
import { copyChecked } from './copyFile'
import { readManifest, type BackedUp, type Manifest } from './manifest'

/** Says that a folder is being filled from a backup, so that an interrupted restoring can be repeated. */
const RESTORING = 'restoring'

const requireManifest = async (from: string): Promise<Manifest> => {
  const manifest = await readManifest(from)
  if (!manifest) throw new StartProblem(`There is no finished backup in ${from}.`)
  return manifest
}

/** Compares every file of a backup with its hash. @returns what is wrong, as sentences */
export async function checkBackup(from: string): Promise<{ files: number; problems: string[] }> {
  const { database, files } = await requireManifest(from)
  const problems: string[] = []
  for (const file of [database, ...files]) {
    const hash = await hashOfFile(join(from, file.path)).catch(() => undefined)
    if (hash !== file.sha256)
      problems.push(
        `${file.path} is ${hash ? 'damaged' : 'missing or cannot be read'}. Remove it there and make the backup again.`,
      )
  }
  return { files: files.length + 1, problems }
}

/**
 * Makes a library from a backup, every file checked by its hash. The folder becomes a library last of all, so that
 * nothing takes a half restored one for whole.
 * @param library an empty folder, or one that an interrupted restoring has left
 * @returns what could not be brought back, as sentences
 * @throws StartProblem where there is no backup, its database is damaged, or the folder is not empty
 */
export async function restoreLibrary(
  from: string,
  library: string,
  report: (line: string) => void = () => undefined,
): Promise<{ files: number; problems: string[] }> {
  const { database, files } = await requireManifest(from)
  mkdirSync(library, { recursive: true })
  const there = readdirSync(library).filter((name) => name !== 'lost+found')
  if (there.includes(MARK) || (there.length > 0 && !there.includes(RESTORING)))
    throw new StartProblem(
      `${library} is not empty. A backup is brought back into an empty folder, so that nothing is overwritten.`,
    )
  writeFileSync(join(library, RESTORING), `This folder is being filled from ${from}.\n`)
  const lock = FolderLock.take(library, RESTORING, (holder) => `${holder} is filling ${library} already.`)
  const work = join(library, 'unfinished')
  try {
    rmSync(work, { recursive: true, force: true })
    mkdirSync(work)
    const problems: string[] = []
    const bring = async (file: BackedUp, as: string) => {
      const target = join(library, as)
      if (existsSync(target) && (await hashOfFile(target)) === file.sha256) return true
      const copy = await copyChecked(join(from, file.path), target, work, file.sha256, file.changed).catch(
        (error: unknown) => {
          if (isDiskFull(error)) throw error
          return undefined
        },
      )
      return copy !== undefined
    }
    for (const [i, file] of files.entries()) {
      if (!(await bring(file, file.path)))
        problems.push(`${file.path} is missing from the backup or damaged in it.`)
      if (i % 50 === 49) report(`${i + 1} of ${files.length} files`)
    }
    if (!(await bring(database, join('unfinished', 'library.db'))))
      throw new StartProblem(`The database in ${from} is damaged.`)
    await fit(join(work, 'library.db'), library)
    renameSync(join(work, 'library.db'), join(library, 'library.db'))
    rmSync(work, { recursive: true, force: true })
    writeMark(library)
    rmSync(join(library, RESTORING))
    return { files: files.length + 1, problems }
  } finally {
    lock.release()
    if (existsSync(join(library, MARK))) rmSync(join(library, `${RESTORING}.lock`), { force: true })
  }
}

/** Fits a restored database to its new place: thumbnails are made anew, originals that lay elsewhere are copies. */
async function fit(file: string, library: string): Promise<void> {
  const db = new Database(file)
  try {
    db.pragma('journal_mode = DELETE')
    db.exec('update frames set thumb = null; update originals set stamp = null')
    const elsewhere = db
      .prepare('select hash, ending, in_place from originals where in_place is not null')
      .all() as {
      hash: string
      ending: string
      in_place: string
    }[]
    for (const { hash, ending, in_place: path } of elsewhere) {
      const copy = join(library, originalPlace(hash, ending))
      const sound = (await hashOfFile(path).catch(() => undefined)) === hash
      if (!sound && existsSync(copy))
        db.prepare('update originals set in_place = null where hash = ?').run(hash)
    }
  } finally {
    db.close()
  }
}
