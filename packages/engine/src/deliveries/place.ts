import type { WhenTaken } from '@dunkelkammer/core'
import { existsSync } from 'node:fs'
import { rm, stat } from 'node:fs/promises'
import { basename, dirname, extname, join } from 'node:path'
import { SAMPLE } from '../encode/sheets'
import { BESIDE } from '../encode/sinks/library'
import { FileExists, giveName, syncFolder } from '../encode/writeFile'
import type { Journal, Part } from './part'

/** Numbers that a taken name is given, at most. */
const MOST_NUMBERS = 9999

/** A name that is taken, with a number; the first is the name as it is. */
export function numbered(path: string, n: number): string {
  if (n === 1) return path
  const ending = extname(path)
  return join(dirname(path), `${basename(path, ending)} (${n})${ending}`)
}

/** Whether a file at a path is the one that a part has made whole. */
async function isOurs(path: string, { inode, bytes }: Part): Promise<boolean> {
  const found = await stat(path).catch(() => undefined)
  return found !== undefined && found.ino === inode && found.size === bytes
}

/**
 * Gives a file that is whole its name. A journal knows the name before the file has it, so that after a stop in the
 * middle it is neither made again nor lost.
 * @param wanted the path that it is to have
 * @param taken of what the run itself has placed there is nothing replaced
 * @returns where it is
 */
export async function placeFile(
  journal: Journal,
  part: Part,
  wanted: string,
  taken: WhenTaken,
): Promise<string | undefined> {
  const partial = part.partial!
  const { ino, size } = await stat(partial)
  for (let n = 1; n <= MOST_NUMBERS; n++) {
    const path = numbered(wanted, n)
    const ownBefore = journal.parts().some((p) => p.number !== part.number && p.file === path)
    const replacing = taken === 'replace' && !ownBefore
    if (existsSync(path) && !replacing) {
      if (taken === 'skip' && !ownBefore) return undefined
      continue
    }
    journal.set(part.number, { state: 'placing', file: path, inode: ino, bytes: size })
    if (await name(partial, path, replacing)) return path
    if (taken === 'skip') return undefined
  }
  throw Object.assign(new Error(`There are ${MOST_NUMBERS} files of that name.`), { code: 'EEXIST' })
}

/** @returns whether the file has its name; not where that has been taken meanwhile */
async function name(partial: string, path: string, replacing: boolean): Promise<boolean> {
  try {
    await giveName(partial, path, replacing)
  } catch (error) {
    if (error instanceof FileExists) return false
    throw error
  }
  await syncFolder(dirname(path))
  return true
}

/**
 * Finds out what became of a part that a stop interrupted, and takes away what is half made.
 * @returns whether its file is whole and under its name; otherwise it is to be made
 */
export async function settle(part: Part): Promise<boolean> {
  const placed = part.state === 'placing' && part.file !== undefined && (await isOurs(part.file, part))
  if (part.partial) await removePartial(part.partial)
  return placed
}

/** Takes away a file that is not whole, and what its making needed beside it. */
export async function removePartial(partial: string): Promise<void> {
  // pages are made of pictures that are files for a moment
  for (const ending of [SAMPLE, ''].flatMap((of) => ['', ...BESIDE].map((beside) => of + beside)))
    await rm(partial + ending, { force: true })
}
