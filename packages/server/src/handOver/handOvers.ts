import type { HandedOver } from '@dunkelkammer/contract'
import { startDevelopment, type Delivery } from '@dunkelkammer/core'
import type { Part } from '@dunkelkammer/engine/deliveries'
import { randomUUID } from 'node:crypto'
import { basename, dirname, join } from 'node:path'
import type { Frames } from '../library/frames'
import type { LibraryFolder } from '../library/folder'
import type { Intake } from '../library/intake'
import { discard, receiveFile } from '../library/receive'
import { textOf, type FrameRow } from '../library/rows'
import { HttpProblem, isDiskFull, toProblem } from '../problem'
import { likeness, stampAt, stampsIn } from './folder'
import type { Programs } from './programs'
import type { HandOverRow, HandOverRows } from './rows'

/** How often the folders are looked through, and how long a file must have rested to be taken for whole. */
export const RETURNS_MS = 2000
const RESTS = 2
/** How long after a failure that may pass a file is tried again. */
const AGAIN_MS = 30_000
const FOLDER_GONE = 'The folder is not there.'

interface HandOverServices {
  rows: HandOverRows
  programs: Programs
  frames: Frames
  intake: Intake
  folder: LibraryFolder
}

/** Files given to other programs, and the way back of what these make of them. */
export class HandOvers {
  /** Stamps of files that may still be written to, and how often they were met, by path. */
  private readonly resting = new Map<string, { stamp: string; times: number }>()
  private readonly notBefore = new Map<string, number>()
  private timer?: ReturnType<typeof setTimeout>
  private looking?: Promise<void>
  private closed = false

  constructor(
    private readonly services: HandOverServices,
    private readonly everyMs = RETURNS_MS,
  ) {
    this.wake()
  }

  list(): HandedOver[] {
    return this.services.rows.told()
  }

  /** Gives a file that a job has made where its delivery says; once, however often it is told. */
  give(jobId: string, part: Part, { name, handOver }: Delivery): void {
    const { rows } = this.services
    if (!handOver || part.file === undefined || rows.has(jobId, part.number)) return
    const folder = dirname(part.file)
    const row: HandOverRow = {
      ...{ id: randomUUID(), jobId, number: part.number, frameId: part.frame, delivery: name, folder },
      ...{ program: handOver.to === 'program' ? handOver.program : null, fileName: basename(part.file) },
      ...{ given: new Date().toISOString(), seen: seenAtFirst(folder, part), back: 0 },
      ...{ problem: null, ended: null },
    }
    rows.add(row)
    this.start(row)
    this.wake()
  }

  /** @throws HttpProblem 404 where it is not waited for, or went to no program */
  giveAgain(id: string): HandedOver {
    const { rows } = this.services
    const row = rows.require(id)
    if (row.program === null) throw new HttpProblem(404, 'not-found', 'This file was given to no program.')
    rows.set(id, { problem: null })
    this.start(row)
    return this.list().find((h) => h.id === id)!
  }

  /** @throws HttpProblem 404 where it is not waited for */
  waitNoLonger(id: string): void {
    this.services.rows.require(id)
    this.services.rows.set(id, { ended: new Date().toISOString() })
  }

  async close(): Promise<void> {
    this.closed = true
    clearTimeout(this.timer)
    await this.looking
  }

  private start({ id, program, folder, fileName }: HandOverRow): void {
    if (program === null) return
    const { programs, rows } = this.services
    const onProblem = (problem: string) => {
      if (!this.closed) rows.set(id, { problem })
    }
    try {
      programs.start(program, join(folder, fileName), onProblem)
    } catch (error) {
      onProblem(toProblem(error).message)
    }
  }

  private wake(): void {
    if (this.closed || this.timer) return
    this.timer = setTimeout(() => {
      this.looking = this.look()
        .catch((error: unknown) => console.error(error))
        .then(() => {
          this.timer = undefined
          if (this.services.rows.open().length > 0) this.wake()
        })
    }, this.everyMs)
    this.timer.unref()
  }

  /** Looks for what has come back. */
  private async look(): Promise<void> {
    const folders = new Map<string, HandOverRow[]>()
    for (const row of this.services.rows.open())
      folders.set(row.folder, [...(folders.get(row.folder) ?? []), row])
    for (const [folder, waiting] of folders) {
      for (const { row, name, stamp } of this.changedIn(folder, waiting)) {
        if (this.closed) return
        if (this.hasRested(join(folder, name), stamp)) await this.take(row.id, name, stamp)
      }
    }
  }

  /** Files of a folder that others have written, each with the one that it was made of. */
  private changedIn(
    folder: string,
    waiting: readonly HandOverRow[],
  ): { row: HandOverRow; name: string; stamp: string }[] {
    let stamps: Map<string, string>
    try {
      stamps = stampsIn(folder)
    } catch {
      // a disk that comes back brings what is on it
      for (const row of waiting)
        if (row.problem === null) this.services.rows.set(row.id, { problem: FOLDER_GONE })
      return []
    }
    for (const row of waiting)
      if (row.problem === FOLDER_GONE) this.services.rows.set(row.id, { problem: null })
    const found = [...stamps].flatMap(([name, stamp]) => {
      const own = waiting.filter((row) => row.fileName === name)
      const of = own.length > 0 ? own : waiting.filter((row) => likeness(name, row.fileName) > 0)
      // the name that says the most; of two the later
      const row = [...of].sort((a, b) => likeness(name, a.fileName) - likeness(name, b.fileName)).at(-1)
      return row && row.seen[name] !== stamp ? [{ row, name, stamp, own: own.length > 0 }] : []
    })
    const made = this.services.rows.made(found.map(({ name }) => join(folder, name)))
    return found.filter(({ name, own }) => own || !made.has(join(folder, name)))
  }

  private hasRested(path: string, stamp: string): boolean {
    const before = this.resting.get(path)
    const times = before?.stamp === stamp ? before.times + 1 : 0
    this.resting.set(path, { stamp, times })
    return times >= RESTS && Date.now() >= (this.notBefore.get(path) ?? 0)
  }

  private async take(id: string, name: string, stamp: string): Promise<void> {
    const { rows, frames } = this.services
    const row = rows.find(id)
    if (!row) return
    const path = join(row.folder, name)
    const seen = { ...row.seen, [name]: stamp }
    const [first] = frames.rows([row.frameId])
    if (!first) return rows.set(id, { ended: new Date().toISOString() })
    try {
      if (!(await this.bringIn(first, path, stamp))) return
      rows.set(id, { seen, back: row.back + 1, problem: null })
    } catch (error) {
      const problem = `${name}: ${toProblem(error).message}`
      // what cannot be read will not be read the next time
      const lasts = toProblem(error).status < 500 && !isDiskFull(error)
      if (!lasts) this.notBefore.set(path, Date.now() + AGAIN_MS)
      rows.set(id, lasts ? { seen, problem } : { problem })
    } finally {
      this.resting.delete(path)
    }
  }

  /** @returns whether it was still as it had rested */
  private async bringIn(first: FrameRow, path: string, stamp: string): Promise<boolean> {
    const { frames, intake, folder } = this.services
    const received = await receiveFile(path, folder.work)
    if (stampAt(path) !== stamp) {
      await discard(received)
      return false
    }
    const stack = first.stack ?? first.id
    const arrival = {
      fileName: basename(path),
      fileDate: new Date(Number(stamp.split(' ')[1])).toISOString(),
      // it is the same picture: what was said of it still holds
      sidecar: { text: textOf(first), rating: first.rating, mark: first.mark },
      stack,
      begins: { label: 'As it came back', development: startDevelopment() },
    }
    const { frame, known } = await intake.add(first.shootId, arrival, received)
    if (known && frame.id !== first.id) frames.change([{ ids: [frame.id], stack }])
    return true
  }
}

/** What lies in the folder when a file is given, the file as it was made among it. */
function seenAtFirst(folder: string, { file, inode, bytes }: Part): Record<string, string> {
  let stamps: Map<string, string>
  try {
    stamps = stampsIn(folder)
  } catch {
    return {}
  }
  const name = basename(file!)
  const [size, , ino] = stamps.get(name)?.split(' ') ?? []
  // who watches the folder may have been quicker
  if (Number(size) !== bytes || Number(ino) !== inode) stamps.delete(name)
  return Object.fromEntries([...stamps].filter(([other]) => likeness(other, name) > 0))
}
