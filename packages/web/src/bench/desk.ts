import { type Development } from '@dunkelkammer/core'
import { MAX_HISTORY, VersionStateSchema, type Version, type VersionState } from '@dunkelkammer/contract'
import { z } from 'zod'
import { api, sentence, ServerProblem } from '../api/client'

/** What the bench shows of a version. */
export interface DeskState {
  development: Development
  /** Names of the steps that undo and redo would take, if there are any. */
  undoes?: string
  redoes?: string
  saving: 'saved' | 'saving' | 'waiting'
  /** Why saving does not go through. */
  problem?: string
}

const SAVE_AFTER_MS = 350
const RETRY_AFTER_MS = 3000
const BACKUP_AFTER_MS = 400
/** Changes of one kind closer together than this are one step of the history. */
const GESTURE_MS = 900

const BackupSchema = z.object({
  revision: z.number(),
  /** A save that was on its way and may have arrived. */
  sent: z.string().optional(),
  state: VersionStateSchema,
})
const backupKey = (versionId: string) => `unsaved ${versionId}`

/**
 * The settings of one version while it is on the bench: its history, and their continuous saving. What is not yet
 * on the server is kept in this browser as well, so that neither a closed window nor a lost server loses it.
 */
export class VersionDesk {
  /** Desks that were left while something of them was still on its way. */
  private static readonly leaving = new Map<string, VersionDesk>()

  /** The desk of a version: the same again where it was left a moment ago and is not done saving. */
  static of(version: Version): VersionDesk {
    return VersionDesk.leaving.get(version.id) ?? new VersionDesk(version)
  }

  private state: VersionState
  private revision: number
  private shown: DeskState
  private readonly listeners = new Set<() => void>()
  private gesture?: { name: string; until: number }
  private timer?: ReturnType<typeof setTimeout>
  private busy?: Promise<void>
  /** A save that was sent and not answered: it goes again as it was, since it may have arrived. */
  private sent?: { save: string; revision: number; state: VersionState }
  private closed = false
  private backupTimer?: ReturnType<typeof setTimeout>
  private dirty = false

  constructor(private readonly version: Version) {
    this.state = version.state
    this.revision = version.revision
    this.recover()
    this.shown = this.describe(this.dirty ? 'saving' : 'saved')
  }

  /** Begins to save; what an earlier window left unsaved goes first. Ends with `close`. */
  open(): void {
    this.closed = false
    VersionDesk.leaving.delete(this.version.id)
    addEventListener('pagehide', this.flush)
    if (this.dirty) this.schedule(0)
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  snapshot = (): DeskState => this.shown

  get development(): Development {
    return this.state.history[this.state.cursor].development
  }

  /** Nobody has worked on it yet. */
  get untouched(): boolean {
    return this.state.history.length === 1
  }

  /**
   * Changes the settings.
   * @param label what the history calls it
   * @param gesture changes of the same gesture that follow closely become one step
   */
  adjust(change: (development: Development) => Development, label: string, gesture?: string): void {
    const development = change(this.development)
    if (JSON.stringify(development) === JSON.stringify(this.development)) return
    const now = Date.now()
    const same = gesture !== undefined && this.gesture?.name === gesture && now < this.gesture.until
    const kept = this.state.history.slice(0, this.state.cursor + (same ? 0 : 1)).slice(-(MAX_HISTORY - 1))
    const history = [...kept, { label, development }]
    this.gesture = gesture === undefined ? undefined : { name: gesture, until: now + GESTURE_MS }
    this.set({ history, cursor: history.length - 1 })
  }

  /** The pointer has let go: what follows is another step. */
  endGesture = (): void => {
    this.gesture = undefined
  }

  undo = (): void => this.go(-1)
  redo = (): void => this.go(1)

  /** Saves at once, on the way out of the page. */
  flush = (): void => {
    if (!this.dirty && !this.busy) return
    this.backUp()
    if (!this.busy) void this.save(true)
  }

  /** Waits until everything is on the server. */
  async settle(): Promise<void> {
    clearTimeout(this.timer)
    await this.busy
    // what was sent before goes first
    while (this.dirty && this.shown.saving !== 'waiting') await this.save()
    if (this.dirty) await this.save()
    if (this.dirty) throw new ServerProblem('away', this.shown.problem ?? 'The settings are not saved yet.')
  }

  close(): void {
    this.closed = true
    removeEventListener('pagehide', this.flush)
    clearTimeout(this.timer)
    if (this.busy || this.dirty) VersionDesk.leaving.set(this.version.id, this)
    if (this.busy) this.backUp()
    else this.flush()
  }

  private go(by: number): void {
    const cursor = this.state.cursor + by
    if (cursor < 0 || cursor >= this.state.history.length) return
    this.gesture = undefined
    this.set({ ...this.state, cursor })
  }

  private set(state: VersionState): void {
    this.state = state
    this.dirty = true
    // not at once: writing a long history out costs more than a frame of a drag
    this.backupTimer ??= setTimeout(this.backUp, BACKUP_AFTER_MS)
    this.publish(this.describe('saving', this.shown.problem))
    this.schedule(SAVE_AFTER_MS)
  }

  /** Keeps in this browser what is not on the server yet. */
  private backUp = (): void => {
    clearTimeout(this.backupTimer)
    this.backupTimer = undefined
    if (!this.dirty && !this.busy) return
    const text = JSON.stringify({ revision: this.revision, sent: this.sent?.save, state: this.state })
    try {
      localStorage.setItem(backupKey(this.version.id), text)
    } catch {
      // a full or forbidden store: the server remains
    }
  }

  private schedule(after: number): void {
    clearTimeout(this.timer)
    this.timer = setTimeout(() => void this.save(), after)
  }

  private save(leaving = false): Promise<void> {
    if (this.busy) {
      this.schedule(SAVE_AFTER_MS)
      return this.busy
    }
    this.sent ??= { save: crypto.randomUUID(), revision: this.revision, state: this.state }
    this.dirty = this.sent.state !== this.state
    const attempt = api
      .saveVersion(this.version.id, this.sent, leaving)
      .then(
        (saved) => {
          this.sent = undefined
          this.revision = saved.revision
          if (this.dirty) this.backUp()
          else {
            localStorage.removeItem(backupKey(this.version.id))
            if (VersionDesk.leaving.get(this.version.id) === this) VersionDesk.leaving.delete(this.version.id)
          }
          this.publish(this.describe(this.dirty ? 'saving' : 'saved'))
          // what was done meanwhile; the page may have gone on to another frame
          if (this.dirty) this.schedule(this.closed ? 0 : SAVE_AFTER_MS)
        },
        (error: unknown) => {
          this.dirty = true
          const final = error instanceof ServerProblem && error.code === 'changed'
          if (final) this.sent = undefined
          this.publish(this.describe('waiting', sentence(error)))
          if (!final && this.listeners.size > 0) this.schedule(RETRY_AFTER_MS)
        },
      )
      .finally(() => {
        this.busy = undefined
      })
    this.busy = attempt
    return attempt
  }

  /** Takes up what an earlier window could not save, unless the server has something newer. */
  private recover(): void {
    try {
      const stored = localStorage.getItem(backupKey(this.version.id))
      if (!stored) return
      const backup = BackupSchema.parse(JSON.parse(stored))
      const { revision, savedBy } = this.version
      // a save of the earlier window has arrived, though that window was not told
      const arrived = backup.sent !== undefined && backup.sent === savedBy && backup.revision + 1 === revision
      if (backup.revision === revision || arrived) {
        this.state = backup.state
        this.dirty = true
      } else localStorage.removeItem(backupKey(this.version.id))
    } catch {
      localStorage.removeItem(backupKey(this.version.id))
    }
  }

  private describe(saving: DeskState['saving'], problem?: string): DeskState {
    const { history, cursor } = this.state
    return {
      development: this.development,
      undoes: cursor > 0 ? history[cursor].label : undefined,
      redoes: history[cursor + 1]?.label,
      saving,
      problem: saving === 'saved' ? undefined : problem,
    }
  }

  private publish(shown: DeskState): void {
    this.shown = shown
    for (const listener of this.listeners) listener()
  }
}
