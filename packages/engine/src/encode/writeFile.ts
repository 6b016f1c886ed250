import { link, open, rename, rm, unlink } from 'node:fs/promises'
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

/**
 * Writes a file that appears under its name only when it is complete and on the disk.
 * @throws FileExists where the name is taken and `replace` is false
 */
export async function writeWhole(path: string, bytes: Uint8Array, replace = false): Promise<void> {
  const partial = join(dirname(path), `.${randomUUID()}${PARTIAL}`)
  try {
    const file = await open(partial, 'wx')
    try {
      await file.writeFile(bytes)
      await file.sync()
    } finally {
      await file.close()
    }
    if (replace) return await rename(partial, path)
    try {
      // unlike a rename, a link never takes the place of what is there
      await link(partial, path)
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'EEXIST') throw new FileExists(path)
      throw error
    }
    await unlink(partial)
  } catch (error) {
    await rm(partial, { force: true })
    throw error
  }
}
