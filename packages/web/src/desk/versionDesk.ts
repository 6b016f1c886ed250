import {
  appliedIn,
  applyChanges,
  sentenceOf,
  withApplication,
  type Development,
  type FoundAnew,
  type LogPlace,
  type PresetMark,
  wayBetween,
  type Way,
} from '@dunkelkammer/core'
import type { Appended, Pin, Version } from '@dunkelkammer/contract'
import { api, sentence, ServerProblem } from '../api/client'
import { append, speaksOfNew } from './bulk'
import { LocalLog, type Batch, type KnownEntry } from './localLog'
import { takeAside, type Aside } from './recover'
import { keepUnsaved } from './unsaved'

/** What the bench shows of a version. */
export interface DeskState {
  development: Development
  head: LogPlace
  tip: LogPlace
  /** What undo and redo would take, if there is anything. */
  undoes?: string
  redoes?: string
  saving: 'saved' | 'saving' | 'waiting'
  /** Why saving does not go through. */
  problem?: string
  /** Another window had changed the same: what was set here lies in the history, and can be taken up. */
  aside?: Aside
  pins: readonly Pin[]
}

const SAVE_AFTER_MS = 40
/** Between the saves of a drag. */
const DRAG_SAVE_MS = 200
const RETRY_AFTER_MS = 3000
/** Changes of one kind closer together than this are one gesture. */
const GESTURE_MS = 900
/** Most between signs of life of what is computed for a gesture. */
const HELD_MS = 20_000
/** Most that a page may still send while it is being left, with room for what is around it. */
const MOST_LEAVING = 60000

/** Tells other windows of this browser that a version has changed. */
const channel = typeof BroadcastChannel === 'undefined' ? undefined : new BroadcastChannel('versions')

/** What a change is part of. */
export interface ChangeOf {
  preset?: Omit<PresetMark, 'from'> & { from?: LogPlace }
  /** What was found in the picture: in another one it is another value. */
  found?: readonly FoundAnew[]
}

/**
 * One version while it is on the bench: its settings, its history, and their continuous saving. What is not yet on
 * the server is kept in this browser as well, so that neither a closed window nor a lost server loses it.
 */
export class VersionDesk {
  /** Desks that were left while something of them was still on its way. */
  private static readonly leaving = new Map<string, VersionDesk>()

  /** The desk of a version: the same again where it was left a moment ago and is not done saving. */
  static of(version: Version): VersionDesk {
    return VersionDesk.leaving.get(version.id) ?? new VersionDesk(version)
  }

  readonly id: string
  /** Under which what is not saved is kept in this browser. */
  private readonly key = crypto.randomUUID()
  readonly begun: { development: Development; label: string }
  private readonly log: LocalLog
  private shown: DeskState
  private readonly listeners = new Set<() => void>()
  private gesture?: { name: string; id: string; until: number; press: number }
  /** Presses of a pointer's button so far, and whether one lasts. */
  private press = 0
  private pressing = false
  private timer?: ReturnType<typeof setTimeout>
  private busy?: Promise<void>
  private lastSent = 0
  private revision: number
  private closed = false
  private pins: readonly Pin[]
  private pinsSaved: readonly Pin[]
  private fetching = false
  private readonly found = new Map<string, readonly FoundAnew[]>()
  /** Entries from this number on were fetched page by page. */
  private earliest?: number

  constructor(version: Version) {
    this.id = version.id
    this.begun = { development: version.begun, label: version.begunAs }
    this.revision = version.revision
    this.log = new LocalLog(version)
    this.pins = this.pinsSaved = version.view.pins
    this.shown = this.describe('saved')
    this.shown = { ...this.shown, aside: takeAside(version.id) }
  }

  /** Begins to save. Ends with `close`. */
  open(): void {
    this.closed = false
    VersionDesk.leaving.delete(this.id)
    addEventListener('pagehide', this.flush)
    addEventListener('focus', this.look)
    addEventListener('pointerdown', this.pressed, true)
    addEventListener('pointerup', this.released)
    addEventListener('pointercancel', this.released)
    channel?.addEventListener('message', this.hear)
    if (this.unsaved) this.schedule(0)
    this.fetchNear()
  }

  close(): void {
    this.closed = true
    removeEventListener('pagehide', this.flush)
    removeEventListener('focus', this.look)
    removeEventListener('pointerdown', this.pressed, true)
    removeEventListener('pointerup', this.released)
    removeEventListener('pointercancel', this.released)
    channel?.removeEventListener('message', this.hear)
    clearTimeout(this.timer)
    if (!this.unsaved) return
    VersionDesk.leaving.set(this.id, this)
    if (!this.busy) void this.save()
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  snapshot = (): DeskState => this.shown

  get development(): Development {
    return this.log.development
  }

  /** Nobody has worked on it yet. */
  get untouched(): boolean {
    return this.log.head === null && this.log.tip === null && this.log.all().length === 0
  }

  /**
   * Changes the settings.
   * @param label what the history calls it
   * @param gesture changes of the same gesture become one step, where they follow closely or the button stays held
   * @param of the preset that it applies, and what of it was found in the picture
   */
  adjust(
    change: (development: Development) => Development,
    label: string,
    gesture?: string,
    of: ChangeOf = {},
  ): void {
    const now = Date.now()
    const last = this.gesture?.name === gesture ? this.gesture : undefined
    // a hand that rests with the button held has not let go
    const goesOn = last && ((this.pressing && last.press === this.press) || now < last.until)
    const id = goesOn ? last.id : crypto.randomUUID()
    const time = new Date(now).toISOString()
    const to = change(this.development)
    const made = this.log.change(to, label, gesture && id, crypto.randomUUID(), time, of.preset)
    if (!made) return
    if (of.found) this.found.set(made.id, of.found)
    this.gesture =
      gesture === undefined ? undefined : { name: gesture, id, until: now + GESTURE_MS, press: this.press }
    this.changed()
  }

  /** Something of a gesture is still being computed: what comes of it is the same step. */
  holdGesture = (name: string): void => {
    if (this.gesture?.name === name) this.gesture.until = Date.now() + HELD_MS
  }

  private readonly pressed = (): void => {
    this.press++
    this.pressing = true
  }

  private readonly released = (): void => {
    this.pressing = false
  }

  /** The pointer has let go: what follows is another step. */
  endGesture = (): void => {
    this.gesture = undefined
  }

  undo = (): void => {
    const taken = this.log.back()
    if (taken.length > 0) this.go(taken.at(-1)!.parent, this.log.tip)
  }

  redo = (): void => {
    const brought = this.log.forward()
    if (brought.length > 0) this.go(brought.at(-1)!.id, this.log.tip)
  }

  /**
   * Goes to any place of the log; what lies ahead of it on the same branch stays ahead.
   * @param end of its branch, where that is another one
   */
  async goTo(place: LogPlace, end: LogPlace = place): Promise<void> {
    const tip = this.log.leadsTo(place) ? this.log.tip : end
    if (!this.go(place, tip)) this.go(place, tip, await this.developmentAt(place))
  }

  /** The settings at any place of the log. */
  async developmentAt(place: LogPlace): Promise<Development> {
    const known = this.log.developmentAt(place)
    if (known) return known
    const { development, entries } = await api.logAt(this.id, place)
    this.log.learn(entries)
    return development
  }

  /** Fetches entries that were made earlier than those known. @returns whether there are still earlier ones */
  async fetchEarlier(): Promise<boolean> {
    const { entries, more } = await api.log(this.id, this.earliest)
    this.log.learn(entries)
    this.earliest = entries.at(-1)?.number ?? this.earliest
    this.publish({ ...this.shown })
    return more
  }

  /** The presets that are applied as far back as this page knows the log, those changed last first. */
  applied(): PresetMark[] {
    const path: KnownEntry[] = []
    for (let at = this.log.head; at !== null;) {
      const entry = this.log.get(at)
      if (!entry) break
      path.push(entry)
      at = entry.parent
    }
    return appliedIn(path).filter(({ strength }) => strength > 0)
  }

  /** The settings with an application of a preset otherwise, at its place, or taken off. */
  async reapplied(
    application: string,
    apply?: (before: Development) => Development,
  ): Promise<Development | undefined> {
    const look = () =>
      withApplication(
        { get: (id) => this.log.get(id), head: this.log.head, development: this.development },
        application,
        apply,
      )
    let found = look()
    while (!found && (await this.fetchEarlier())) found = look()
    return found ?? look()
  }

  /** The way from a place of the log to where the version stands; nothing where it is not known. */
  wayFrom(place: LogPlace): Way<KnownEntry> | undefined {
    return wayBetween({ get: (id) => this.log.get(id) }, place, this.log.head)
  }

  /** What an entry of this page found in the picture. */
  foundIn(entry: string): readonly FoundAnew[] {
    return this.found.get(entry) ?? []
  }

  /** Whether nothing is being dragged or typed. */
  get atRest(): boolean {
    return !this.pressing && (this.gesture === undefined || Date.now() > this.gesture.until)
  }

  nameEntry(entry: string, name: string | null): void {
    this.log.name(entry, name, crypto.randomUUID())
    this.changed()
  }

  /** Entries that this page knows, those that are not saved yet among them. */
  entries(): KnownEntry[] {
    return this.log.all()
  }

  setPins(pins: readonly Pin[]): void {
    this.pins = pins
    this.changed()
  }

  /** Takes up what was set here though another window had changed the same. */
  async takeAside(): Promise<void> {
    const { aside } = this.shown
    if (!aside) return
    if (!this.log.get(aside.last)) this.log.learn((await api.logAt(this.id, aside.last)).entries)
    const changes = this.log.changesAside(aside.last)
    if (changes.length > 0) this.adjust((d) => applyChanges(d, changes), 'Settings of this window')
    this.dismissAside()
  }

  /** Leaves it in the history. */
  dismissAside(): void {
    this.publish({ ...this.shown, aside: undefined })
  }

  /** Saves at once, on the way out of the page. */
  flush = (): void => {
    if (this.unsaved && !this.busy) void this.save(true)
  }

  /** Waits until everything is on the server. */
  async settle(): Promise<void> {
    clearTimeout(this.timer)
    await this.busy
    while (this.unsaved && this.shown.saving !== 'waiting') await this.save()
    if (this.unsaved) await this.save()
    if (this.unsaved) throw new ServerProblem('away', this.shown.problem ?? 'The settings are not saved yet.')
  }

  private get unsaved(): boolean {
    return this.busy !== undefined || this.log.next() !== undefined || this.pins !== this.pinsSaved
  }

  private go(to: LogPlace, tip: LogPlace, known?: Development): boolean {
    this.gesture = undefined
    const gone = this.log.go(to, tip, crypto.randomUUID(), known) !== undefined
    if (gone) this.changed()
    this.fetchNear()
    return gone
  }

  private changed(): void {
    void keepUnsaved(this.key, this.id, this.log.outbox)
    this.publish(this.describe('saving', this.shown.problem))
    const dragged = this.gesture ? this.lastSent + DRAG_SAVE_MS - Date.now() : 0
    this.schedule(Math.max(SAVE_AFTER_MS, dragged), true)
  }

  /** Fetches what going back and forward will want soon. */
  private fetchNear(): void {
    const place = this.log.needs
    if (place === undefined || place === null || this.fetching) return
    this.fetching = true
    api
      .logAt(this.id, place)
      .then(
        ({ entries }) => {
          this.log.learn(entries)
          this.publish(this.describe(this.shown.saving, this.shown.problem))
          return entries.length > 0
        },
        // it is asked for again with the next step
        () => false,
      )
      .then((more) => {
        this.fetching = false
        if (more) this.fetchNear()
      })
  }

  /** @param keep whether a save that is to come sooner stays */
  private schedule(after: number, keep = false): void {
    if (keep && this.timer !== undefined) return
    clearTimeout(this.timer)
    this.timer = setTimeout(() => {
      this.timer = undefined
      const batch = this.log.next()
      // what is being painted is another with each move: it goes when the button is let go
      if (this.pressing && batch && speaksOfNew(batch)) this.schedule(DRAG_SAVE_MS)
      else void this.save()
    }, after)
  }

  private save(leaving = false): Promise<void> {
    clearTimeout(this.timer)
    this.timer = undefined
    if (this.busy) return this.busy
    const batch = this.log.next()
    const attempt = (batch ? this.send(batch, leaving) : this.sendPins()).then(
      () => {
        this.publish(this.describe(this.log.next() || this.pins !== this.pinsSaved ? 'saving' : 'saved'))
      },
      (error: unknown) => {
        this.log.sending = false
        this.publish(this.describe('waiting', sentence(error)))
      },
    )
    this.busy = attempt.finally(() => {
      this.busy = undefined
      const failed = this.shown.saving === 'waiting'
      // the page may have gone on to another frame: what is left is still saved
      if (this.unsaved) {
        if (!failed || this.listeners.size > 0)
          this.schedule(failed ? RETRY_AFTER_MS : this.closed ? 0 : SAVE_AFTER_MS)
      } else if (VersionDesk.leaving.get(this.id) === this) VersionDesk.leaving.delete(this.id)
    })
    return this.busy
  }

  private async send(batch: Batch, leaving: boolean): Promise<void> {
    this.log.sending = true
    this.lastSent = Date.now()
    // what is too large to go while the page is left stays in this browser, and goes with the next page
    const small = leaving && JSON.stringify(batch).length < MOST_LEAVING
    const answer = await append(this.id, batch, small)
    this.log.saved()
    void keepUnsaved(this.key, this.id, this.log.outbox)
    this.take(answer)
    channel?.postMessage(this.id)
  }

  private take(answer: Appended): void {
    if (answer.outcome === 'appended') {
      this.revision = answer.revision
      return
    }
    this.revision = answer.version.revision
    this.log.adopt(answer.version)
    if (answer.outcome === 'aside' && answer.last)
      this.shown = { ...this.shown, aside: { last: answer.last, head: answer.version.head } }
  }

  private async sendPins(): Promise<void> {
    const { pins } = this
    if (pins === this.pinsSaved) return
    await api.setVersionView(this.id, { pins: [...pins] })
    this.pinsSaved = pins
  }

  private hear = ({ data }: MessageEvent): void => {
    if (data === this.id) this.look()
  }

  /** Looks whether another window has gone on; what is being done here comes first. */
  private look = (): void => {
    if (this.unsaved || (this.gesture && Date.now() < this.gesture.until)) return
    api.version(this.id).then(
      (version) => {
        if (this.unsaved || version.revision === this.revision) return
        this.revision = version.revision
        this.log.adopt(version)
        this.publish(this.describe('saved'))
      },
      // the next save says what is wrong
      () => undefined,
    )
  }

  private describe(saving: DeskState['saving'], problem?: string): DeskState {
    return {
      development: this.development,
      head: this.log.head,
      tip: this.log.tip,
      undoes: sentenceOf(this.log.back().reverse()),
      redoes: sentenceOf(this.log.forward()),
      saving,
      problem: saving === 'saved' ? undefined : problem,
      aside: this.shown?.aside,
      pins: this.pins,
    }
  }

  private publish(shown: DeskState): void {
    this.shown = shown
    for (const listener of this.listeners) listener()
  }
}
