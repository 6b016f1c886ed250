import { FileExists, writeWhole } from '@dunkelkammer/engine/encode'
import { existsSync } from 'node:fs'
import { reasonOf, unwritable } from './failure'

/** @throws Failure where there is such a file already, and it is not to be replaced */
export function refuseExisting(target: string, overwrite: boolean): void {
  if (!overwrite && existsSync(target))
    throw unwritable(target, 'There is such a file already; --overwrite replaces it.')
}

/** Writes a result as a whole. @throws Failure where that cannot be done */
export async function writeResult(target: string, bytes: Uint8Array, overwrite: boolean): Promise<void> {
  try {
    await writeWhole(target, bytes, { replace: overwrite })
  } catch (error) {
    throw unwritable(target, error instanceof FileExists ? 'There is such a file already.' : reasonOf(error))
  }
}
