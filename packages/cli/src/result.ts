import { FileExists, makeWhole, writeWhole } from '@dunkelkammer/engine/encode'
import { existsSync } from 'node:fs'
import { reasonOf, unwritable } from './failure'

/** @throws Failure where there is such a file already, and it is not to be replaced */
export function refuseExisting(target: string, overwrite: boolean): void {
  if (!overwrite && existsSync(target))
    throw unwritable(target, 'There is such a file already; --overwrite replaces it.')
}

/** Writes a result as a whole. @throws Failure where that cannot be done */
export const writeResult = (target: string, bytes: Uint8Array, overwrite: boolean): Promise<void> =>
  toTarget(target, () => writeWhole(target, bytes, { replace: overwrite }))

/** The same of a result that is written as it is made. */
export const makeResult = (
  target: string,
  overwrite: boolean,
  make: (partial: string) => Promise<unknown>,
): Promise<void> => toTarget(target, () => makeWhole(target, make, { replace: overwrite }))

async function toTarget(target: string, write: () => Promise<unknown>): Promise<void> {
  try {
    await write()
  } catch (error) {
    throw unwritable(target, error instanceof FileExists ? 'There is such a file already.' : reasonOf(error))
  }
}
