import type { LensImported, LensSummary } from '@dunkelkammer/contract'
import { LensProfileSchema, SHIPPED_LENSES, type LensProfile } from '@dunkelkammer/core'
import {
  matchLens,
  wordsOf,
  type CameraRow,
  type Engine,
  type LensAnswer,
  type LensRow,
  type LensWish,
} from '@dunkelkammer/engine'
import { eq } from 'drizzle-orm'
import { createHash, randomUUID } from 'node:crypto'
import { existsSync } from 'node:fs'
import { readdir, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { schema, type Db } from '../db/open'
import { HttpProblem, notFound } from '../problem'

import type { KeptLens } from '../library/sidecars/records'
import { LensXmlError, readLensXml } from './readXml'

const { lenses, cameras } = schema
/** Where Debian's package puts the open lens database. */
const INSTALLED = '/usr/share/lensfun/version_1'
/** Entries of a list at most. */
const PAGE = 200
/** Most bytes of a file of profiles. */
export const MAX_LENS_XML = 24 << 20

type Origin = LensSummary['origin']

/** Profiles of lenses, and the cameras that they are known by. */
export class Lenses {
  private rows?: (LensRow & LensSummary)[]
  private cameraRows?: CameraRow[]

  constructor(
    private readonly db: Db,
    private readonly installed = INSTALLED,
  ) {
    this.put(SHIPPED_LENSES, 'shipped')
  }

  /** Whether this machine has a lens database that could be imported. */
  get hasInstalled(): boolean {
    return existsSync(this.installed)
  }

  /** Lenses whose names hold all words of a search, by maker and name. */
  list(search: string): { lenses: LensSummary[]; count: number; all: number } {
    const words = wordsOf(search)
    const found = this.index().filter(({ maker, model }) => {
      const text = ` ${[...wordsOf(maker), ...wordsOf(model)].join(' ')}`
      return words.every((w) => text.includes(` ${w}`))
    })
    const summaries = found.slice(0, PAGE).map(({ words: _, name: __, ...summary }) => summary)
    return { lenses: summaries, count: found.length, all: this.index().length }
  }

  /** @throws HttpProblem where there is none of that id */
  get(id: string): LensAnswer {
    const row = this.db.select().from(lenses).where(eq(lenses.id, id)).get()
    if (!row) throw notFound('lens')
    return { id, profile: LensProfileSchema.parse(row.profile) }
  }

  /** The profile that a frame wants: the named one, or the one of its lens. */
  find(wish: LensWish): LensAnswer | undefined {
    if (wish.profile) {
      const row = this.index().find((r) => r.id === wish.profile)
      const { crop } = matchLens([], this.cameras(), wish) ?? {}
      return row && { ...this.get(row.id), crop }
    }
    const match = matchLens(this.index(), this.cameras(), wish)
    return match && { ...this.get(match.id), crop: match.crop }
  }

  /** Keeps a profile that was made from a picture. */
  add(profile: LensProfile): LensSummary {
    const [id] = this.put([profile], 'picture')
    return this.index().find((r) => r.id === id)!
  }

  /** Profiles among ids that do not ship, to be kept outside of the database. */
  kept(ids: readonly string[]): KeptLens[] {
    return ids.flatMap((id) => {
      const row = this.index().find((r) => r.id === id)
      return row && row.origin !== 'shipped'
        ? [{ id, origin: row.origin, profile: this.get(id).profile }]
        : []
    })
  }

  /** Takes in profiles that were kept outside of the database; those that are there stay as they are. */
  restore(kept: readonly KeptLens[]): void {
    const fresh = kept.filter(({ id }) => !this.index().some((r) => r.id === id))
    if (fresh.length === 0) return
    const rows = fresh.map(({ id, origin, profile }) => rowOf(id, origin, profile))
    for (const row of rows) this.db.insert(lenses).values(row).onConflictDoNothing().run()
    this.forget()
  }

  remove(id: string): void {
    const row = this.index().find((r) => r.id === id)
    if (!row) throw notFound('lens')
    if (row.origin === 'shipped')
      throw new HttpProblem(409, 'shipped', 'This profile comes with Dunkelkammer and stays.')
    this.db.delete(lenses).where(eq(lenses.id, id)).run()
    this.forget()
  }

  /**
   * Takes in one file of a lens database.
   * @throws HttpProblem 422 with the line where it is damaged; nothing of it is taken in then
   */
  importText(text: string, name: string): LensImported {
    return this.importAll([[name, text]])
  }

  /** Takes in the database that is installed on this machine; files that are damaged are named and left out. */
  async importInstalled(): Promise<LensImported> {
    if (!this.hasInstalled)
      throw new HttpProblem(
        409,
        'missing',
        'No lens database is installed on this machine. Debian has one in the package liblensfun-data-v1.',
      )
    const names = (await readdir(this.installed)).filter((n) => n.endsWith('.xml')).sort()
    const texts = await Promise.all(names.map((n) => readFile(join(this.installed, n), 'utf8')))
    return this.importAll(names.map((n, i) => [n, texts[i]]))
  }

  /** Has an engine ask here for the profiles that developments speak of. */
  serve(engine: Engine): Engine {
    engine.lensSource = (wish) => Promise.resolve(this.find(wish))
    return engine
  }

  private importAll(files: readonly (readonly [string, string])[]): LensImported {
    const problems: string[] = []
    const profiles: LensProfile[] = []
    const known: CameraRow[] = []
    let leftOut = 0
    for (const [name, text] of files) {
      try {
        const found = readLensXml(text)
        profiles.push(...found.lenses)
        known.push(...found.cameras)
        leftOut += found.leftOut
      } catch (error) {
        if (!(error instanceof LensXmlError)) throw error
        problems.push(`${name}: ${error.message}`)
      }
    }
    if (problems.length === files.length) throw new HttpProblem(422, 'unreadable', problems.join(' '))
    this.put(profiles, 'imported')
    this.putCameras(known)
    return { lenses: profiles.length, cameras: known.length, leftOut, problems }
  }

  /** Writes profiles; one of the same maker, name, mounts and sensor replaces the one before. */
  private put(profiles: readonly LensProfile[], origin: Origin): string[] {
    const rows = profiles.map((profile) => {
      const { maker, model, mounts, crop } = profile
      const name = JSON.stringify([origin, maker, model, mounts, crop])
      const id =
        origin === 'picture' ? randomUUID() : createHash('sha256').update(name).digest('hex').slice(0, 32)
      return rowOf(id, origin, profile)
    })
    this.db.transaction((tx) => {
      for (const row of rows)
        tx.insert(lenses)
          .values(row)
          .onConflictDoUpdate({
            target: lenses.id,
            set: { profile: row.profile, focalFrom: row.focalFrom, focalTo: row.focalTo },
          })
          .run()
    })
    this.forget()
    return rows.map((r) => r.id)
  }

  private putCameras(rows: readonly CameraRow[]): void {
    this.db.transaction((tx) => {
      for (const row of rows)
        tx.insert(cameras)
          .values(row)
          .onConflictDoUpdate({
            target: [cameras.maker, cameras.model],
            set: { mount: row.mount, crop: row.crop },
          })
          .run()
    })
    this.forget()
  }

  private forget(): void {
    this.rows = undefined
    this.cameraRows = undefined
  }

  private index(): (LensRow & LensSummary)[] {
    this.rows ??= this.db
      .select({
        ...{ id: lenses.id, origin: lenses.origin, maker: lenses.maker, model: lenses.model },
        ...{ mounts: lenses.mounts, crop: lenses.crop, focalFrom: lenses.focalFrom, focalTo: lenses.focalTo },
      })
      .from(lenses)
      .orderBy(lenses.maker, lenses.model)
      .all()
    return this.rows
  }

  private cameras(): CameraRow[] {
    this.cameraRows ??= this.db.select().from(cameras).all()
    return this.cameraRows
  }
}

function rowOf(id: string, origin: Origin, profile: LensProfile): typeof lenses.$inferInsert {
  const { maker, model, mounts, crop } = profile
  const focals = [...profile.distortion, ...profile.fringes, ...profile.fallOff].map((p) => p.focal)
  return {
    ...{ id, origin, maker, model, mounts: [...mounts], crop, profile },
    focalFrom: Math.min(...focals),
    focalTo: Math.max(...focals),
  }
}
