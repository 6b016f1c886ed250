import type { Engine } from '@dunkelkammer/engine'
import { developedThumb, smallJpeg, THUMB_EDGE, writeWhole } from '@dunkelkammer/engine/encode'
import { existsSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import type { Finds } from '../library/finds'
import { makeRoomFor, type LibraryFolder } from '../library/folder'
import type { Frames } from '../library/frames'
import { KEPT } from '../library/receive'
import type { StaleThumb, ThumbRows } from '../library/thumbRows'
import type { Versions } from '../library/versions'
import { pictureDamaged } from '../problem'
import type { Activity } from './activity'
import { readRange } from '../library/readRange'

/** Settings that have rested so long are taken for settled. */
export const QUIET_MS = 6000
/** Waits so long before it begins, as a share of that. */
const PAUSE = 0.25
/** Frames that are looked up together: few, so that what was touched last comes next. */
const AT_ONCE = 2
/** An engine that has nothing to do is let go. */
const IDLE_MS = 20000

/**
 * Makes thumbnails: at once from the picture that the file brings, later in the background from the development, again
 * whenever its settings change. It works on one thread of the lowest priority.
 */
export class ThumbMaker {
  private engine?: Engine
  private timer?: ReturnType<typeof setTimeout>
  private idle?: ReturnType<typeof setTimeout>
  private running?: Promise<void>
  private readonly stop = new AbortController()
  /** Frames whose files could not be developed, as they were then: tried again when they change and after a start. */
  private readonly failed = new Map<string, number>()

  constructor(
    private readonly frames: Frames,
    private readonly versions: Versions,
    private readonly rows: ThumbRows,
    private readonly folder: LibraryFolder,
    private readonly activity: Activity,
    private readonly finds: Finds,
    private readonly start: () => Engine,
    private readonly quietMs = QUIET_MS,
  ) {}

  /** Says that there may be something to do. While somebody is at work it is put off. */
  wake(): void {
    this.wakeIn(this.quietMs * PAUSE)
  }

  private wakeIn(ms: number): void {
    if (this.timer || this.stop.signal.aborted) return
    this.timer = setTimeout(() => {
      this.timer = undefined
      this.running ??= this.work()
        .catch(() => undefined)
        .finally(() => (this.running = undefined))
    }, ms)
    this.timer.unref()
  }

  async close(): Promise<void> {
    this.stop.abort()
    clearTimeout(this.timer)
    clearTimeout(this.idle)
    await this.running
    this.engine?.stop()
  }

  /**
   * The thumbnail that there is: of the development, else of the file.
   * @returns its path, or nothing where the file brings no picture and the development is not ready
   */
  async path(frameId: string): Promise<string | undefined> {
    const developed = this.folder.thumb(frameId, 'development')
    if (existsSync(developed)) return developed
    const target = this.folder.thumb(frameId, 'file')
    if (existsSync(target)) return target
    const source = await this.pictureInFile(frameId)
    if (!source) return undefined
    const small = await smallJpeg(source.bytes, THUMB_EDGE, source.orientation).catch(() => {
      throw pictureDamaged()
    })
    await this.place(target, small)
    return target
  }

  /** The picture that a file brings: an embedded JPEG, or the file itself. */
  async pictureInFile(
    frameId: string,
  ): Promise<{ bytes: Uint8Array; orientation: number; embedded: boolean } | undefined> {
    const { path, preview, orientation, format } = this.frames.original(frameId)
    if (preview)
      return { bytes: await readRange(path, preview.offset, preview.length), orientation, embedded: true }
    if (['dng', 'raw', 'heif', KEPT].includes(format)) return undefined
    return { bytes: await readFile(path), orientation: 1, embedded: false }
  }

  private async place(path: string, bytes: Uint8Array): Promise<void> {
    makeRoomFor(path)
    await writeWhole(path, bytes, { replace: true, workFolder: this.folder.work })
  }

  private async work(): Promise<void> {
    clearTimeout(this.idle)
    while (await this.round());
    this.idle = setTimeout(() => {
      this.engine?.stop()
      this.engine = undefined
    }, IDLE_MS)
    this.idle.unref()
  }

  /** Makes some thumbnails. @returns whether there may be more to do at once */
  private async round(): Promise<boolean> {
    const wanted = (quietSince: number) =>
      this.rows
        .stale(new Date(quietSince), AT_ONCE + this.failed.size)
        .filter((s) => this.failed.get(s.frameId) !== s.changed)
    const some = wanted(Date.now() - this.quietMs)
    if (some.length === 0) {
      // what is being worked on has its turn once it rests
      if (wanted(Date.now() + this.quietMs).length) this.wakeIn(this.quietMs)
      return false
    }
    for (const next of some) {
      if (this.stop.signal.aborted) return false
      if (this.activity.atWork) {
        this.wakeIn(this.quietMs)
        return false
      }
      try {
        await this.develop(next)
      } catch {
        // the sheet shows what the file brings, or that there is nothing
        this.failed.set(next.frameId, next.changed)
      }
      // requests that came in meanwhile go first
      await new Promise((done) => setImmediate(done))
    }
    return true
  }

  private async develop(next: StaleThumb): Promise<void> {
    const { development } = this.versions.standing(next.versionId)
    const bytes = await this.frames.readOriginal(next.frameId)
    const engine = (this.engine ??= this.start())
    const picture = await engine.open(bytes, this.stop.signal, undefined, this.finds.of(next.frameId))
    try {
      const { jpeg } = await developedThumb(picture, development, this.stop.signal)
      await this.place(this.folder.thumb(next.frameId, 'development'), jpeg)
      this.rows.set(next.frameId, next.revision)
    } finally {
      engine.close(picture)
    }
  }
}
