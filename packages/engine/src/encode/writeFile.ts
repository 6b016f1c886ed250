import { existsSync } from 'node:fs'
import { link, open, rename, rm, type FileHandle } from 'node:fs/promises'
import { randomUUID } from 'node:crypto'
import { dirname, join } from 'node:path'

/** Ending of files that are being written; whatever has it after a crash is rubbish. */
export const PARTIAL = '.partial'

/** There is a file of that name already. */
export class FileExists extends Error {
  constructor(readonly path: string) {
    super('There is a file of that name already.')
    this.name = 'FileExists'
  }
}

export interface WriteOptions {
  /** Takes the place of a file of that name. */
  replace?: boolean
  /** Folder for the unfinished file, on the same disk; beside the finished one where missing. */
  workFolder?: string
}

const codeOf = (error: unknown) => (error as NodeJS.ErrnoException).code

/** Writes all of `bytes`: a single write may take fewer than it was given, on a disk that is nearly full for one. */
export async function writeAll(file: Pick<FileHandle, 'write'>, bytes: Uint8Array): Promise<void> {
  for (let at = 0; at < bytes.length;) {
    const { bytesWritten } = await file.write(bytes, at, bytes.length - at)
    if (bytesWritten === 0) throw Object.assign(new Error('nothing was written'), { code: 'ENOSPC' })
    at += bytesWritten
  }
}

/** Makes sure that names in a folder outlive a loss of power. */
export async function syncFolder(path: string): Promise<void> {
  const folder = await open(path)
  try {
    await folder.sync()
  } finally {
    await folder.close()
  }
}

/** Makes sure that a file's bytes outlive a loss of power. */
export async function syncFile(path: string): Promise<void> {
  const file = await open(path, 'r+')
  try {
    await file.sync()
  } finally {
    await file.close()
  }
}

/**
 * Writes a file to the disk.
 * @param flag "wx" where it must be new
 */
export async function writeSynced(path: string, bytes: Uint8Array, flag: 'w' | 'wx'): Promise<void> {
  const file = await open(path, flag)
  try {
    await writeAll(file, bytes)
    await file.sync()
  } finally {
    await file.close()
  }
}

/**
 * Gives a finished file a name. Where that is new, and the disk knows links, it keeps its old one beside it.
 * @throws FileExists where it is taken and may not be replaced
 */
export async function giveName(from: string, to: string, replace: boolean): Promise<void> {
  if (replace) return rename(from, to)
  try {
    // unlike a rename, a link never takes the place of what is there
    await link(from, to)
  } catch (error) {
    if (codeOf(error) === 'EEXIST') throw new FileExists(to)
    // some disks know no links
    if (!['EPERM', 'ENOTSUP', 'EOPNOTSUPP', 'ENOSYS'].includes(codeOf(error) ?? '')) throw error
    if (existsSync(to)) throw new FileExists(to)
    await rename(from, to)
  }
}

/**
 * Has a file made that appears under its name only when it is complete.
 * @param make writes it to the path that it is given, to the disk, and takes away what it needed beside it
 * @throws FileExists where the name is taken and may not be replaced
 */
export async function makeWhole<T>(
  path: string,
  make: (partial: string) => Promise<T>,
  { replace = false, workFolder = dirname(path) }: WriteOptions = {},
): Promise<T> {
  const partial = join(workFolder, `.${randomUUID()}${PARTIAL}`)
  try {
    const made = await make(partial)
    await giveName(partial, path, replace)
    await rm(partial, { force: true })
    await syncFolder(dirname(path))
    return made
  } catch (error) {
    await rm(partial, { force: true })
    // the work folder lies on another disk
    if (codeOf(error) === 'EXDEV' && workFolder !== dirname(path)) return makeWhole(path, make, { replace })
    throw error
  }
}

/**
 * Writes a file that appears under its name only when it is complete and on the disk.
 * @throws FileExists where the name is taken and may not be replaced
 */
export const writeWhole = (path: string, bytes: Uint8Array, options: WriteOptions = {}): Promise<void> =>
  makeWhole(path, (partial) => writeSynced(partial, bytes, 'wx'), options)
