import type { LibraryPage } from '@dunkelkammer/contract'
import { eq } from 'drizzle-orm'
import { schema, type Db } from '../db/open'
import type { Frames } from '../library/frames'
import type { FrameRow } from '../library/rows'
import type { Sidecars } from '../library/sidecars/sidecars'
import { toProblem } from '../problem'
import type { Activity } from './activity'

const { settings } = schema
const KEY = 'sidecars'
/** Problems that are named at most. */
const NAMED = 20

/** Keeps the sidecars of all frames up to date in the background, where the user wants that. */
export class SidecarKeeper {
  private timer?: ReturnType<typeof setTimeout>
  private running?: Promise<void>
  private readonly stop = new AbortController()
  /** What could not be written, by frame, as the frame was then: tried again when it changes and after a start. */
  private readonly failed = new Map<string, { changed: number; problem: string }>()

  constructor(
    private readonly db: Db,
    private readonly frames: Frames,
    private readonly sidecars: Sidecars,
    private readonly activity: Activity,
    /** How long changes are gathered before they are written. */
    private readonly gatherMs: number,
  ) {}

  get always(): boolean {
    const row = this.db.select().from(settings).where(eq(settings.key, KEY)).get()
    return (row?.value as { always?: boolean } | undefined)?.always === true
  }

  set always(always: boolean) {
    const value = { always }
    const set = { target: settings.key, set: { value } }
    this.db.insert(settings).values({ key: KEY, value }).onConflictDoUpdate(set).run()
    this.failed.clear()
    this.wake()
  }

  get state(): LibraryPage['sidecars'] {
    const { always } = this
    if (!always) return { always, waiting: 0, problems: [] }
    const problems = [...this.failed.values()].map((f) => f.problem)
    const waiting = Math.max(this.frames.countOldSidecars() - problems.length, 0)
    const more = problems.length > NAMED ? [`and ${problems.length - NAMED} more`] : []
    return { always, waiting, problems: [...problems.slice(0, NAMED), ...more] }
  }

  /** Says that frames may have changed. */
  wake(): void {
    if (this.timer || this.stop.signal.aborted) return
    this.timer = setTimeout(() => {
      this.timer = undefined
      // what changes meanwhile is found as well
      this.running ??= this.work().finally(() => (this.running = undefined))
    }, this.gatherMs)
    this.timer.unref()
  }

  async close(): Promise<void> {
    this.stop.abort()
    clearTimeout(this.timer)
    await this.running
  }

  private async work(): Promise<void> {
    for (let row = this.next(); row && !this.stop.signal.aborted; row = this.next()) {
      const since = performance.now()
      try {
        await this.sidecars.writeOne(row)
        this.frames.noteSidecar(row)
        this.failed.delete(row.id)
      } catch (error) {
        const problem = `${row.fileName}: ${toProblem(error).message}`
        this.failed.set(row.id, { changed: row.changed, problem })
      }
      await this.activity.stepBack(performance.now() - since, this.stop.signal)
      // requests that came in meanwhile go first
      await new Promise((done) => setImmediate(done))
    }
  }

  private next(): FrameRow | undefined {
    if (!this.always) return undefined
    return this.frames
      .withOldSidecar(this.failed.size + 1)
      .find(({ id, changed }) => this.failed.get(id)?.changed !== changed)
  }
}
