import type { ColourProfile } from '@dunkelkammer/contract'
import { readProfile } from '@dunkelkammer/engine/profiles'
import { writeWhole } from '@dunkelkammer/engine/encode'
import { createHash } from 'node:crypto'
import { existsSync } from 'node:fs'
import { readdir, readFile, rename } from 'node:fs/promises'
import { join } from 'node:path'
import { HttpProblem, notFound } from '../problem'
import type { Deliveries } from './deliveries'
import type { LibraryFolder } from './folder'

const ENDING = '.icc'
const REMOVED = '.removed'
const MOST = 500

/** The ICC profiles of a library: files by their hash, with nothing beside them. */
export class ColourProfiles {
  /** What was read of each, which never changes. */
  private readonly known = new Map<string, Promise<ColourProfile>>()

  constructor(
    private readonly folder: LibraryFolder,
    private readonly deliveries: Deliveries,
  ) {}

  /** By name. What cannot be read any more is left out. */
  async list(): Promise<ColourProfile[]> {
    const names = (await readdir(this.folder.profiles)).filter((name) => name.endsWith(ENDING))
    const read = await Promise.allSettled(names.map((name) => this.read(name.slice(0, -ENDING.length))))
    return read
      .flatMap((r) => (r.status === 'fulfilled' ? [r.value] : []))
      .sort((a, b) => a.name.localeCompare(b.name))
  }

  /** @throws RawError where it cannot be used */
  async add(bytes: Uint8Array): Promise<ColourProfile> {
    const facts = await readProfile(bytes)
    const id = createHash('sha256').update(bytes).digest('hex')
    if (!existsSync(this.path(id))) {
      if ((await this.list()).length >= MOST)
        throw new HttpProblem(409, 'full', `There are ${MOST} colour profiles already; remove some first.`)
      // one that was removed lies there still
      if (existsSync(this.path(id) + REMOVED)) await rename(this.path(id) + REMOVED, this.path(id))
      else await writeWhole(this.path(id), bytes, { replace: true, workFolder: this.folder.work })
    }
    return { id, ...facts }
  }

  /** @throws HttpProblem 404 where there is none, 409 where a saved delivery needs it */
  async remove(id: string): Promise<void> {
    if (!existsSync(this.path(id))) throw notFound('colour profile')
    const using = this.deliveries
      .list()
      .find(({ delivery: { space } }) => typeof space === 'object' && space.profile === id)
    if (using)
      throw new HttpProblem(409, 'in-use', `The delivery “${using.delivery.name}” needs this colour profile.`)
    await rename(this.path(id), this.path(id) + REMOVED)
  }

  /** @throws HttpProblem 404 where there is none */
  async bytes(id: string): Promise<Uint8Array> {
    const path = /^[0-9a-f]{64}$/.test(id) ? this.path(id) : ''
    // a job that was asked for before it was removed still gets it
    const found = [path, path + REMOVED].find((p) => path && existsSync(p))
    if (!found)
      throw new HttpProblem(404, 'not-found', 'The colour profile of this delivery is not in the library.')
    return readFile(found)
  }

  private read(id: string): Promise<ColourProfile> {
    let facts = this.known.get(id)
    if (!facts) {
      facts = readFile(this.path(id)).then(async (bytes) => ({ id, ...(await readProfile(bytes)) }))
      facts.catch(() => this.known.delete(id))
      this.known.set(id, facts)
    }
    return facts
  }

  private path(id: string): string {
    return join(this.folder.profiles, id + ENDING)
  }
}
