import {
  changesOf,
  FOUND_IN,
  sentenceOf,
  type ChangeShared,
  type FoundAnew,
  type LogPlace,
} from '@dunkelkammer/core'
import type { GiveSettings } from '@dunkelkammer/contract'
import { api, ServerProblem } from '../../api/client'
import { queryClient } from '../../api/queries'
import type { KnownEntry } from '../../desk/localLog'
import type { VersionDesk } from '../../desk/versionDesk'

const REST_MS = 250
const AGAIN_MS = 3000
const ENDED_MS = 300

/** To whom changes go, and how. */
export interface Sharing {
  ids: readonly string[]
  /** The frame on which it is done. */
  from: string
  how: ChangeShared
}

/** Entries that went to the others, under the name of the job that took them there. */
interface Shared {
  job: string
  entries: ReadonlySet<string>
}

type Deed = { kind: 'give'; request: GiveSettings & { id: string } } | { kind: 'back'; job: string }

/**
 * Gives what is done on one frame to others, gesture by gesture; what is taken back here is taken back there. What
 * could not be sent is tried again.
 */
export class Sharer {
  private from: LogPlace
  private shared: Shared[] = []
  private readonly deeds: Deed[] = []
  private busy = false
  private timer?: ReturnType<typeof setTimeout>
  private readonly leave: () => void

  constructor(
    private readonly desk: VersionDesk,
    private readonly to: Sharing,
    private readonly say: (said: string, problem?: boolean) => void,
  ) {
    this.from = desk.snapshot().head
    this.leave = desk.subscribe(() => this.wait())
    addEventListener('pagehide', this.flush)
  }

  /** Sends what is left, and listens no more. */
  close(): void {
    this.flush()
    this.leave()
    removeEventListener('pagehide', this.flush)
  }

  private readonly flush = (): void => {
    clearTimeout(this.timer)
    this.collect()
    void this.carryOut()
  }

  private wait(after = REST_MS): void {
    clearTimeout(this.timer)
    this.timer = setTimeout(() => {
      if (!this.desk.atRest) return this.wait()
      this.collect()
      void this.carryOut()
    }, after)
  }

  /** What has been done or taken back since the last time. */
  private collect(): void {
    const { head } = this.desk.snapshot()
    const way = this.desk.wayFrom(this.from)
    this.from = head
    if (!way) return
    const back = new Set(way.back.map((e) => e.id))
    for (const { job } of this.shared.filter(({ entries }) => [...entries].every((id) => back.has(id))))
      this.deeds.push({ kind: 'back', job })
    this.shared = this.shared.filter(({ entries }) => ![...entries].every((id) => back.has(id)))
    for (const entries of gestures(way.forward)) this.give(entries)
  }

  private give(entries: readonly KnownEntry[]): void {
    const found = [...new Set(entries.flatMap(({ id }) => this.desk.foundIn(id)))] as FoundAnew[]
    const anew = new Set<string>(found.map((what) => FOUND_IN[what]))
    const changes = changesOf(entries).filter(({ part }) => !anew.has(part))
    if (changes.length + found.length === 0) return
    const job = crypto.randomUUID()
    this.shared.push({ job, entries: new Set(entries.map((e) => e.id)) })
    this.deeds.push({
      kind: 'give',
      request: {
        ...{ id: job, ids: [...this.to.ids], label: sentenceOf(entries)!.slice(0, 200) },
        give: { kind: 'changes', changes, how: this.to.how, automatic: found, from: this.to.from },
      },
    })
  }

  private async carryOut(): Promise<void> {
    if (this.busy) return
    this.busy = true
    try {
      for (let deed = this.deeds.at(0); deed; deed = this.deeds.at(0)) {
        this.say(deed.kind === 'give' ? await given(deed.request) : await takenBack(deed.job))
        this.deeds.shift()
      }
    } catch (error) {
      this.say((error as Error).message, true)
      // what the server refuses it will refuse again; where it does not answer, it may later
      if (error instanceof ServerProblem && error.code !== 'away') this.deeds.shift()
      this.wait(AGAIN_MS)
    } finally {
      this.busy = false
      void queryClient.invalidateQueries({ queryKey: ['jobs'] })
    }
  }
}

/** Entries one gesture after another. */
function gestures(entries: readonly KnownEntry[]): KnownEntry[][] {
  const out: KnownEntry[][] = []
  for (const entry of entries) {
    const last = out.at(-1)
    if (last && entry.gesture !== undefined && last[0].gesture === entry.gesture) last.push(entry)
    else out.push([entry])
  }
  return out
}

/** Waits until a job has ended. @returns what became of it */
async function ended(id: string): Promise<string> {
  for (;;) {
    const job = await api.job(id)
    if (job.state !== 'waiting' && job.state !== 'running') return [job.message, ...job.problems].join(' ')
    await new Promise((done) => setTimeout(done, ENDED_MS))
  }
}

const given = async (request: GiveSettings & { id: string }) => ended((await api.giveSettings(request)).id)

async function takenBack(job: string): Promise<string> {
  await ended(job)
  return (await api.takeJobBack(job)).message
}
