import { readFile } from 'node:fs/promises'
import { reasonOf, unreadable } from './failure'

/** @throws Failure 3 where the file cannot be read */
export async function readInput(file: string): Promise<Uint8Array> {
  try {
    return await readFile(file)
  } catch (error) {
    throw unreadable(file, reasonOf(error))
  }
}
