import type { Keeper } from '@dunkelkammer/engine'
import { writeWhole } from '@dunkelkammer/engine/encode'
import { readdir, readFile, rm, stat, utimes } from 'node:fs/promises'
import { join } from 'node:path'
import { makeRoomFor, type LibraryFolder } from './folder'

/** Names as an engine gives them. */
export const FIND_NAME = /^[0-9a-f]{64}$/
/** Most bytes of one of them. */
export const MOST_FIND = 4 << 20
/** Kept of each frame; those that were used least lately make room. */
const MOST = 40

/** What engines have found in frames: nothing is lost with it but time. */
export class Finds {
  constructor(private readonly folder: LibraryFolder) {}

  /** @returns undefined where it is not there */
  async get(frameId: string, name: string): Promise<Uint8Array<ArrayBuffer> | undefined> {
    const path = join(this.folder.finds(frameId), name)
    try {
      const bytes = await readFile(path)
      const now = new Date()
      await utimes(path, now, now).catch(() => undefined)
      return bytes
    } catch {
      return undefined
    }
  }

  async put(frameId: string, name: string, bytes: Uint8Array): Promise<void> {
    const path = join(this.folder.finds(frameId), name)
    makeRoomFor(path)
    await writeWhole(path, bytes, { replace: true, workFolder: this.folder.work })
    await this.thin(frameId)
  }

  /** For an engine that opens a frame. */
  of(frameId: string): Keeper {
    return {
      get: (name) => this.get(frameId, name),
      put: (name, bytes) => this.put(frameId, name, bytes),
    }
  }

  private async thin(frameId: string): Promise<void> {
    const folder = this.folder.finds(frameId)
    const names = await readdir(folder)
    if (names.length <= MOST) return
    const dated = await Promise.all(
      names.map(async (name) => ({ name, used: (await stat(join(folder, name))).mtimeMs })),
    )
    dated.sort((a, b) => b.used - a.used)
    for (const { name } of dated.slice(MOST)) await rm(join(folder, name), { force: true })
  }
}
