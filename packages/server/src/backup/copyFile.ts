import { syncFolder } from '@dunkelkammer/engine/encode'
import { rename, rm, utimes } from 'node:fs/promises'
import { dirname } from 'node:path'
import { makeRoomFor } from '../library/folder'
import { receiveFile } from '../library/receive'

/**
 * Copies a file, checked by its hash; it appears under its name only when it is whole and on the disk.
 * @param work folder for the unfinished copy
 * @param expected the hash that it must have, if that is known
 * @returns its hash and size; nothing where the hash is another, and no copy then
 */
export async function copyChecked(
  from: string,
  to: string,
  work: string,
  expected?: string,
  changedMs?: number,
): Promise<{ sha256: string; size: number } | undefined> {
  const copy = await receiveFile(from, work)
  if (expected !== undefined && copy.hash !== expected) {
    await rm(copy.path)
    return undefined
  }
  if (changedMs !== undefined) await utimes(copy.path, changedMs / 1000, changedMs / 1000)
  makeRoomFor(to)
  await rename(copy.path, to)
  await syncFolder(dirname(to))
  return { sha256: copy.hash, size: copy.size }
}
