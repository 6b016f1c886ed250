import Database from 'libsql'
import { existsSync, mkdirSync, readdirSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { StartProblem } from '../problem'

/** A folder with a file of this name in it is a library. */
export const MARK = 'dunkelkammer-library'
/** What a new disk brings. */
const NOT_COUNTED = new Set(['lost+found'])

/**
 * Makes sure that a folder is a library. It becomes one only where it is empty, and an earlier library without a mark
 * is known by its database; nothing else in it is touched.
 * @throws StartProblem where it holds something else
 */
export function claimFolder(root: string): void {
  if (existsSync(join(root, MARK))) return
  if (existsSync(root) && !statSync(root).isDirectory()) throw new StartProblem(`${root} is not a folder.`)
  mkdirSync(root, { recursive: true })
  const entries = readdirSync(root).filter((name) => !NOT_COUNTED.has(name))
  if (entries.length > 0 && !holdsLibraryDatabase(root))
    throw new StartProblem(
      `${root} holds other files and is not marked as a library, so it is left alone. ` +
        'Name an empty folder in DUNKELKAMMER_LIBRARY. If it is a library that lost its database, ' +
        `put an empty file named ${MARK} into it: its originals are then offered to be brought in.`,
    )
  writeMark(root)
}

/** Makes a folder a library. */
export function writeMark(root: string): void {
  writeFileSync(
    join(root, MARK),
    'This folder is a library of Dunkelkammer. Do not change what is in it by hand.\n',
  )
}

/** Whether there is a database with the tables of a library, made before libraries were marked. */
function holdsLibraryDatabase(root: string): boolean {
  const file = join(root, 'library.db')
  if (!existsSync(file)) return false
  let db
  try {
    db = new Database(file, { readonly: true })
    const names = db.prepare("select name from sqlite_master where type = 'table'").all() as {
      name: string
    }[]
    return ['shoots', 'frames', 'originals', 'versions'].every((n) => names.some((t) => t.name === n))
  } catch {
    return false
  } finally {
    db?.close()
  }
}
